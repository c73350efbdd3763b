package register

import (
	"context"
	"fmt"
	"strings"

	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/record"
)

// Steps is the door to the checklists of actions.
type Steps struct{ of *Office }

// Tick ticks a step of an action's checklist, or takes the tick back. Where it is ticked or not by now as asked for, nothing is saved.
func (o *Steps) Tick(ctx context.Context, holder, action, text string, done bool) (*intake.Receipt, error) {
	g, at, err := o.find(ctx, holder, action, text)
	if err != nil {
		return nil, err
	}
	if at < 0 {
		return nil, fmt.Errorf("step %q of action %s: %w", fault.Clip(text, 60), fault.Clip(action, 40), fault.ErrNotFound)
	}
	ticked := "no"
	if done {
		ticked = "yes"
	}
	row := g.Rows[at]
	if was := or(row[g.Input.At("done")], "no"); was == ticked {
		return &intake.Receipt{}, nil
	}
	return o.of.edit.SaveGrid(ctx, record.Checklist, holder, []intake.Edited{{Old: row, New: put(g.Input, row,
		map[string]string{"done": ticked})}})
}

// Add puts a step at the end of an action's checklist. One that it has already is refused.
func (o *Steps) Add(ctx context.Context, holder, action, text string) (*intake.Receipt, error) {
	text = strings.TrimSpace(text)
	if text == "" {
		return nil, fault.Field("text", "", "what is to be done")
	}
	if err := o.of.Known(ctx, record.Actions, holder, action); err != nil {
		return nil, err
	}
	_, at, err := o.find(ctx, holder, action, text)
	if err != nil {
		return nil, err
	}
	if at >= 0 {
		return nil, fault.Field("text", fault.Clip(text, 60), "a step that action "+action+" does not have yet")
	}
	_, r, err := o.of.Add(ctx, record.Checklist, holder, map[string]string{"action": action, "text": text, "done": "no"})
	return r, err
}

// find reads the checklists of a project or node, and the row of one step among them; -1 where it is not there.
func (o *Steps) find(ctx context.Context, holder, action, text string) (*edit.Grid, int, error) {
	if err := o.of.edit.MayEdit(ctx, record.Checklist, holder); err != nil {
		return nil, 0, err
	}
	g, err := edit.GridOf(ctx, o.of.store, record.Checklist, holder)
	if err != nil {
		return nil, 0, err
	}
	of, says := g.Input.At("action"), g.Input.At("text")
	for i, row := range g.Rows {
		if row[of] == action && row[says] == text {
			return g, i, nil
		}
	}
	return g, -1, nil
}
