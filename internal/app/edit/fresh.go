package edit

import (
	"context"
	"slices"

	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// fresh empties, in the rows that are to be saved for a period, what was said of an earlier one alone and is not said anew: the words of
// another month are no commentary of this one.
func (o *Office) fresh(ctx context.Context, now *Grid, rows [][]string, period calendar.Period) error {
	if now.Kind != record.Statuses || len(now.Rows) != 1 || len(rows) != 1 {
		return nil
	}
	m, err := o.store.Masters(ctx)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(m.Projects, func(p measure.Info) bool { return p.Code == now.Project })
	if i < 0 {
		return nil
	}
	said := period
	if err := o.store.Declared(ctx, []int64{m.Projects[i].ID}, func(_ int64, d measure.Declared) { said = d.Period }); err != nil {
		return err
	}
	if said >= period {
		return nil
	}
	rows[0] = slices.Clone(rows[0])
	for _, name := range intake.OfItsPeriod[now.Kind] {
		if at := now.Input.At(name); rows[0][at] == now.Rows[0][at] {
			rows[0][at] = ""
		}
	}
	return nil
}
