package ingest

import (
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/record"
)

// Typed reads rows of cells in the kind's columns. The first is row 2, as in a file with a head.
func (rd Reader) Typed(kind record.Kind, cells [][]string) (*kept.File, []fault.Problem) {
	f := &kept.File{Kind: kind, Name: string(kind), Own: rd.ownOf(kind)}
	in := f.Input()
	r := &reader{file: f, input: in, decimal: '.', at: map[string]int{}}
	for i, c := range in.Columns {
		r.at[c.Name] = i
		r.heads = append(r.heads, c.Name)
	}
	for i, row := range cells {
		r.row, r.cells = int32(i+2), row
		r.file.Rows++
		readerOf(kind)(r)
	}
	return f, r.problems
}
