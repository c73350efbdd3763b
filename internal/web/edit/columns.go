package edit

import (
	"strings"

	"turret/internal/app/intake"
	"turret/internal/record"
)

// columnNames are the columns of a form in their order, so that it can be read after the office made or closed a field of its own.
func columnNames(in *record.Input) string {
	names := make([]string, len(in.Columns))
	for i, c := range in.Columns {
		names[i] = c.Name
	}
	return strings.Join(names, ",")
}

// laid describes a kind by the columns that a form had; by those of today where it does not say.
func laid(in *record.Input, names string) *record.Input {
	if names == "" || names == columnNames(in) {
		return in
	}
	was := &record.Input{Kind: in.Kind}
	for _, name := range strings.Split(names, ",") {
		was.Columns = append(was.Columns, record.Column{Name: name})
	}
	return was
}

// relaid puts edits of a form into the columns of today: one that the form did not have is as it stands, one that is no more is left out.
func relaid(edits []intake.Edited, from, to *record.Input) []intake.Edited {
	if from == to {
		return edits
	}
	at := map[string]int{}
	for i, c := range from.Columns {
		at[c.Name] = i
	}
	fit := func(cells []string) []string {
		if cells == nil {
			return nil
		}
		row := make([]string, len(to.Columns))
		for i, c := range to.Columns {
			if k, ok := at[c.Name]; ok {
				row[i] = intake.CellOf(cells, k)
			}
		}
		return row
	}
	for i := range edits {
		edits[i].Old, edits[i].New = fit(edits[i].Old), fit(edits[i].New)
	}
	return edits
}
