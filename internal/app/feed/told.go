package feed

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"turret/internal/app/edit"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/write"
	"turret/internal/record"
)

// numbers are those of the outside records that records here hang together with; a work tracker alone is asked for them.
func (o *Office) numbers(ctx context.Context, kind string) ([]string, error) {
	if kind != "work" {
		return nil, nil
	}
	f, err := o.store.Rows(ctx, record.Outside, kept.Selection{})
	if err != nil {
		return nil, err
	}
	var list []string
	at := record.Outside.Input().At("number")
	for i := range f.Len() {
		list = append(list, f.Cells(i)[at])
	}
	slices.Sort(list)
	return slices.Compact(list), nil
}

// takeTold writes what an outside system says of its records beside ours, where it says something else than stands there. A title is
// taken where none stands.
func (o *Office) takeTold(ctx context.Context, run *Run, told []Told, log *[]string) error {
	if len(told) == 0 {
		return nil
	}
	f, err := o.store.Rows(ctx, record.Outside, kept.Selection{})
	if err != nil {
		return err
	}
	tables, changed := o.changed(f, told)
	if changed == 0 {
		*log = append(*log, write.Count(len(told), "outside record stands", "outside records stand")+" as before")
		return nil
	}
	r, err := o.edit.SaveTables(ctx, tables[0].Holder, tables, edit.SaveAs{Reason: "asked " + run.Feed})
	if err != nil {
		return err
	}
	for _, l := range r.Loads {
		run.Load = cmp.Or(run.Load, l.ID) // that of items is where the run goes on
	}
	run.Rows += changed
	*log = append(*log, fmt.Sprintf("%s told of %s, each in the place of what was told before", write.Count(changed, "state was",
		"states were"), write.Count(len(told), "outside record", "outside records")))
	return nil
}

// changed are the rows that say something else than what was told, by whose they are.
func (o *Office) changed(f *kept.File, told []Told) (tables []edit.TableEdit, n int) {
	by := map[string]Told{}
	for _, x := range told {
		by[x.Number] = x
	}
	in, at := record.Outside.Input(), map[string]int{}
	now := o.now()
	today := calendar.On(now.Year(), int(now.Month()), now.Day()).String()
	for i := range f.Len() {
		old := f.Cells(i)
		x, ok := by[old[in.At("number")]]
		if !ok || x.State == old[in.At("state")] {
			continue
		}
		row := slices.Clone(old)
		row[in.At("state")], row[in.At("asked_on")] = x.State, today
		if row[in.At("title")] == "" {
			row[in.At("title")] = x.Title
		}
		holder := f.OwnerOf(i)
		if _, ok := at[holder]; !ok {
			at[holder] = len(tables)
			tables = append(tables, edit.TableEdit{Kind: record.Outside, Holder: holder})
		}
		t := &tables[at[holder]]
		t.Edits = append(t.Edits, intake.Edited{Old: old, New: row})
		n++
	}
	return tables, n
}
