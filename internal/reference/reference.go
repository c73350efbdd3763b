// Package reference writes what the program says of itself: its formats, measures and rights.
package reference

import (
	"fmt"
	"io"
	"strings"

	"turret/internal/core/check"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Formats writes what every kind of file holds, column by column, as Markdown.
func Formats(w io.Writer) error {
	var b strings.Builder
	b.WriteString("# Files\n\nMade by `turret reference`. A file is named after its kind, such as `budget-2026-10.csv`; a bold column " +
		"must be there. What the columns are\n" +
		"called in your files does not matter once it was said in Gather.\n")
	for _, k := range record.Kinds() {
		in := k.Input()
		fmt.Fprintf(&b, "\n## %s: `%s`\n\n%s\nA row is known again by %s.\n\n| column | holds | |\n|---|---|---|\n", in.Title, k, in.Says,
			"`"+strings.Join(in.Key, "`, `")+"`")
		for _, c := range in.Columns {
			name := "`" + c.Name + "`"
			if c.Required {
				name = "**" + name + "**"
			}
			fmt.Fprintf(&b, "| %s | %s | %s |\n", name, holds(c), inTable(c.Says))
		}
	}
	_, err := io.WriteString(w, b.String())
	return err
}

func holds(c record.Column) string {
	switch {
	case len(c.Choices) > 0:
		return strings.Join(c.Choices, ", ")
	case c.Refers != "":
		return "a code of `" + string(c.Refers) + "`"
	}
	return c.Cell.String()
}

// inTable keeps a text within a cell of a table.
func inTable(s string) string { return strings.NewReplacer("|", `\|`, "\n", " ").Replace(s) }

// Measures writes the catalogue and the checks as Markdown.
func Measures(w io.Writer) error {
	var b strings.Builder
	b.WriteString("# Measures and checks\n\nMade by `turret reference`. Every figure of Turret is one of these; the glossary of " +
		"*Assess* shows each with an example.\n\n" +
		"| key | measure | unit | rule | comes from | in a group |\n|---|---|---|---|---|---|\n")
	for _, d := range measure.All() {
		from := d.Source
		if len(d.Inputs) > 0 {
			from = "`" + strings.Join(measure.Texts(d.Inputs...), "`, `") + "`"
		}
		fmt.Fprintf(&b, "| `%s` | %s | %s | %s | %s | %s |\n", d.Key, inTable(d.Name), d.Unit, inTable(d.Formula), from, d.Rollup)
	}
	b.WriteString("\n## Checks\n\n| id | check | severity | fails where | tested on | limit |\n|---|---|---|---|---|---|\n")
	for _, r := range check.Rules() {
		limit := ""
		if r.Limit != nil {
			limit = r.Limit.LimitSays(r.Limit.Default) + ", " + r.Limit.Name
		}
		fmt.Fprintf(&b, "| `%s` | %s | %s | %s | %s | %s |\n", r.ID, inTable(r.Name), r.Severity, inTable(r.Says), r.Records, limit)
	}
	_, err := io.WriteString(w, b.String())
	return err
}
