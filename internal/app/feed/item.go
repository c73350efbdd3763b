package feed

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"

	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Item is how an item of a backlog stands after a move, as a work tracker tells it: cells by the columns of backlogs. What it does not
// name stays as it is.
type Item struct {
	Project, Code string
	Cells         map[string]string
}

// moves are the cells that the items of a project move to, by their codes.
type moves map[string]map[string]string

func (m moves) add(x Item) {
	if m[x.Code] == nil {
		m[x.Code] = map[string]string{}
	}
	maps.Copy(m[x.Code], x.Cells)
}

// mostWrong bounds how many cells that cannot be taken are told one by one.
const mostWrong = 50

// takeItems writes what a tracker tells of items into the backlogs of their projects, all of it or nothing; of several moves of an item the
// last one of each column counts. Items of projects that are not known here are left out, and that is said.
func (o *Office) takeItems(ctx context.Context, run *Run, items []Item, log *[]string) error {
	by := map[string]moves{}
	for _, x := range items {
		if by[x.Project] == nil {
			by[x.Project] = moves{}
		}
		by[x.Project].add(x)
	}
	var tables []edit.TableEdit
	for _, project := range slices.Sorted(maps.Keys(by)) {
		grid, err := edit.GridOf(ctx, o.store, record.Backlog, project)
		if errors.Is(err, fault.ErrNotFound) {
			*log = append(*log, fmt.Sprintf("%q is no project here: %s left out", fault.Clip(project, 40),
				write.Count(len(by[project]), "item is", "items are")))
			continue
		}
		if err != nil {
			return err
		}
		if edits := movedItems(grid, by[project]); len(edits) > 0 {
			tables = append(tables, edit.TableEdit{Kind: record.Backlog, Holder: project, Edits: edits})
			*log = append(*log, told(grid, edits, project))
		}
	}
	if len(tables) == 0 {
		return nil
	}
	was, blind := o.standing(ctx, by)
	r, err := o.edit.SaveTables(ctx, tables[0].Holder, tables, edit.SaveAs{Reason: "items of " + run.Feed})
	if wrong := (*edit.Error)(nil); errors.As(err, &wrong) {
		for i := range wrong.Problems[:min(len(wrong.Problems), mostWrong)] {
			*log = append(*log, wrong.Problems[i].String())
		}
	}
	if err != nil {
		return err
	}
	for i, l := range r.Loads {
		run.Load = l.ID
		run.Rows += len(tables[i].Edits)
	}
	if blind == nil {
		var is *stood
		if is, blind = o.standing(ctx, by); blind == nil {
			*log = append(*log, was.shifted(is)...)
		}
	}
	if blind != nil {
		*log = append(*log, "what it does to figures cannot be told: "+blind.Error())
	}
	return nil
}

// movedItems are the rows of a backlog that the moves make otherwise, new ones at its end.
func movedItems(grid *edit.Grid, moves moves) (edits []intake.Edited) {
	in := grid.Input
	for _, code := range slices.Sorted(maps.Keys(moves)) {
		e := intake.Edited{New: make([]string, len(in.Columns))}
		e.New[in.At("project")], e.New[in.At("code")] = grid.Project, code
		if at := slices.IndexFunc(grid.Rows, func(row []string) bool { return row[in.At("code")] == code }); at >= 0 {
			e.Old, e.New = grid.Rows[at], slices.Clone(grid.Rows[at])
		}
		for column, value := range moves[code] {
			if at := in.At(column); at >= 0 {
				e.New[at] = value
			}
		}
		if !slices.Equal(e.Old, e.New) {
			edits = append(edits, e)
		}
	}
	return edits
}

// told says what moved in a project: how many items, and how many of them were accepted or came.
func told(grid *edit.Grid, edits []intake.Edited, project string) string {
	state := grid.Input.At("state")
	accepted, fresh := 0, 0
	for _, e := range edits {
		if e.Old == nil {
			fresh++
		}
		if e.New[state] == "accepted" && (e.Old == nil || e.Old[state] != "accepted") {
			accepted++
		}
	}
	text := project + ": " + write.Count(len(edits), "item", "items") + " moved, " + write.Whole(accepted) + " of them accepted"
	if fresh > 0 {
		text += ", " + write.Whole(fresh) + " new"
	}
	return text
}
