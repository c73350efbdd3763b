package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func sources(t *testing.T) map[string]string {
	t.Helper()
	names, err := filepath.Glob("../../internal/web/*/templates/*.html")
	require.NoError(t, err)
	require.Greater(t, len(names), 50)
	list := map[string]string{}
	for _, n := range names {
		b, err := os.ReadFile(n)
		require.NoError(t, err)
		list[n] = string(b)
	}
	return list
}

// Templates stand as they are formatted, and no line of them is longer than a reader takes in.
func TestTemplatesAreFormatted(t *testing.T) {
	for name, src := range sources(t) {
		assert.True(t, Format(src, false) == src, "%s is not formatted; run make format", name)
		for i, line := range strings.Split(src, "\n") {
			assert.LessOrEqual(t, len(line), 160, "%s:%d", name, i+1)
		}
	}
}

// Formatting changes nothing that shows: the pieces of a source and the spaces between them are the same before and after.
func TestFormattingKeepsWhatShows(t *testing.T) {
	list := sources(t)
	list["spaces"] = `<p>a <b>b</b> <i>c</i>{{if .X}} <u>d</u>{{else}} e{{end}} f</p><div> <span>x</span> {{.Y}} </div>`
	list["torn"] = `{{if .X}}<a href="{{.H}}">{{else}}<b>{{end}}text{{if .X}}</a>{{else}}</b>{{end}} <small>s</small>`
	list["long"] = `<p>` + strings.Repeat("word ", 60) + `<em>` + strings.Repeat("more ", 60) + `</em> end</p>`
	for name, src := range list {
		before := tokens(src, false)
		quiet(before)
		after := tokens(Format(src, false), false)
		quiet(after)
		require.Equal(t, before, after, name)
	}
}

// By hand: a block is a line of its own, what stands in line stays together, and a space at the end of a line is written out.
func TestFormatByHand(t *testing.T) {
	src := `{{define "x"}}<section><h2>Head</h2><p>One <a href="/">two</a>.</p><ul>{{range .List}}<li>{{.}}</li>{{end}}</ul></section>{{end}}`
	assert.Equal(t, strings.Join([]string{
		`{{define "x"}}`, `  <section>`, `    <h2>Head</h2>`, `    <p>One <a href="/">two</a>.</p>`,
		`    <ul>{{range .List}}<li>{{.}}</li>{{end}}</ul>`, `  </section>`, `{{end}}`, ``}, "\n"), Format(src, false))
	label := `<label>` + strings.Repeat("a", 80) + `</label>`
	assert.Equal(t, "<div>\n  "+label+"&#32;\n  "+label+"\n</div>\n", Format("<div>"+label+" "+label+"</div>", false))
}
