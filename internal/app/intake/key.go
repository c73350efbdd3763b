package intake

import (
	"slices"
	"strings"

	"turret/internal/record"
)

// Edited is a row as it was when the editing began and as it is to be: Old is nil for a new row, New for one taken away.
type Edited struct{ Old, New []string }

// KeyText is the key of a row as people read it.
func KeyText(cells []string, at []int) string {
	return strings.ReplaceAll(KeyOf(cells, at), "\x1f", " ")
}

// CellOf is a cell of a row that may be shorter.
func CellOf(row []string, i int) string {
	if i < len(row) {
		return row[i]
	}
	return ""
}

// KeyColumns are the places of the columns that tell rows of an input apart.
func KeyColumns(in *record.Input) []int {
	var at []int
	for _, k := range in.Key {
		at = append(at, slices.IndexFunc(in.Columns, func(c record.Column) bool { return c.Name == k }))
	}
	return at
}

// KeyOf joins the cells that tell a row apart.
func KeyOf(cells []string, at []int) string {
	parts := make([]string, len(at))
	for i, a := range at {
		parts[i] = cells[a]
	}
	return strings.Join(parts, "\x1f")
}
