package draft

import (
	"context"
	"fmt"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
)

// Change alters the mapping of one sheet of a draft: a choice that is undone or kept for this file alone, rows corrected or left out.
func (o *Office) Change(ctx context.Context, id string, sheet int, how func(*intake.Sheet) (intake.Mapping, error)) (*Draft, error) {
	d, err := o.Get(ctx, id)
	if err != nil {
		return nil, err
	}
	if sheet < 0 || sheet >= len(d.Sheets) {
		return nil, fmt.Errorf("sheet %d: %w", sheet, fault.ErrNotFound)
	}
	list := make([]intake.Mapping, len(d.Sheets))
	for i := range d.Sheets {
		list[i] = d.Sheets[i].Sheet.Mapping
	}
	if list[sheet], err = how(&d.Sheets[sheet].Sheet); err != nil {
		return nil, err
	}
	return o.Remap(ctx, id, d.Source, d.Period, list)
}

// Refuse keeps a draft with errors as refused: it stays as it is, and the matrix tells that it came and why it was not taken. It says how
// many problems there are; a draft without any is an error wrapping fault.ErrConflict.
func (o *Office) Refuse(ctx context.Context, id string) (problems int, err error) {
	d, list, err := o.ProblemsOf(ctx, id)
	if err != nil {
		return 0, err
	}
	if len(list) == 0 {
		return 0, fault.Conflict("nothing is wrong with these files; load them, or discard them")
	}
	t, err := o.Read(ctx, d)
	if err != nil {
		return 0, err
	}
	from := intake.Origin{Source: d.Source, Author: access.ActorOf(ctx).Name, Period: d.Period}
	if err := o.intake.Refuse(ctx, t.Files, from, list); err != nil {
		return 0, err
	}
	d.Refused = true
	return len(list), o.desk.Save(d)
}
