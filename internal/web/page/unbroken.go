package page

import (
	"html/template"
	"regexp"
	"strings"
)

// pieces are what no line is broken within: codes with a hyphen, such as LW-07, and numbers with the sign or letter behind them.
var pieces = regexp.MustCompile(`\b[A-Z][A-Z0-9]*-[A-Z]?[0-9]+\b|[−+]?[€£]?[0-9][0-9.,]* (?:%|[Mk]\b)`)

// unbroken is a sentence whose codes and figures stay on one line.
func unbroken(sentence string) template.HTML {
	var html strings.Builder
	end := 0
	for _, at := range pieces.FindAllStringIndex(sentence, -1) {
		html.WriteString(template.HTMLEscapeString(sentence[end:at[0]]))
		html.WriteString(`<span class="unbroken">` + template.HTMLEscapeString(sentence[at[0]:at[1]]) + `</span>`)
		end = at[1]
	}
	html.WriteString(template.HTMLEscapeString(sentence[end:]))
	return template.HTML(html.String()) // each part of it is escaped
}
