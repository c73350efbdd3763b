package page

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// What a page holds does not depend on where its template breaks the line.
func TestLineBreaksOfATemplateAreForTheEye(t *testing.T) {
	for src, want := range map[string]string{
		"<p>\n  one\n  two\n</p>\n":                            "<p>one two</p>",
		"<b>a</b>\n  <i>b</i>":                                 "<b>a</b><i>b</i>",
		"<b>a</b>&#32;\n  <i>b</i>":                            "<b>a</b> <i>b</i>",
		"{{if .X}}\n  x&#32;\n{{end}}\n<i>b</i>":               "{{if .X}}x {{end}}<i>b</i>",
		"<input name=\"a\"\n  value=\"b\"{{if .X}} on{{end}}>": "<input name=\"a\" value=\"b\"{{if .X}} on{{end}}>",
		"{{template \"x\"\n  .}}":                              "{{template \"x\" .}}",
	} {
		assert.Equal(t, want, folded(src), src)
	}
}
