package webtest

import (
	"html"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// Rows are the rows of the tables of a page, their entities written out, that hold a text.
func Rows(page, text string) (list []string) {
	for _, row := range strings.Split(page, "<tr")[1:] {
		if row, _, _ = strings.Cut(row, "</tr>"); strings.Contains(html.UnescapeString(row), text) {
			list = append(list, html.UnescapeString(row))
		}
	}
	return list
}

// RowOf is the first of those rows, which must be there.
func RowOf(t *testing.T, page, text string) string {
	t.Helper()
	list := Rows(page, text)
	require.NotEmpty(t, list, "a row with “%s”", text)
	return list[0]
}

var tag = regexp.MustCompile(`<[^>]*>`)

// Text is a page as it is read: without its tags, and with single spaces. What people typed is still written as entities.
func Text(page string) string {
	return strings.Join(strings.Fields(tag.ReplaceAllString(page, "")), " ")
}
