package assess

import (
	"context"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
)

// view is what a day is computed from.
type view struct {
	kept.Reading

	bound  kept.Bound   // of what is read; that of everything is empty
	closed *kept.Period // that ends on the day, where one does
}

// reaches reports whether a view shows the same as a former one, but for projects that changed since.
func (v view) reaches(former view) bool {
	return former.Reading != nil && v.bound.Period == former.bound.Period && v.bound.Serial == former.bound.Serial
}

// View reads what the period that holds a day is computed from: what it was computed from where a closed one ends on the day.
func (o *Office) View(ctx context.Context, asOf calendar.Date) (kept.Reading, error) {
	v, err := o.viewOf(ctx, asOf)
	return v.Reading, err
}

func (o *Office) viewOf(ctx context.Context, asOf calendar.Date) (view, error) {
	closed, err := o.Closed(ctx, asOf)
	if err != nil {
		return view{}, err
	}
	if closed != nil {
		return view{o.store.At(closed.Bound()), closed.Bound(), closed}, nil
	}
	period, err := o.setting.PeriodOf(ctx, asOf)
	if err != nil {
		return view{}, err
	}
	return o.upTo(ctx, period)
}

// upTo reads what a period that is not closed is computed from: where something was sent for later ones, no more than what was sent up to
// it. A period before anything that was sent shows what stands now.
func (o *Office) upTo(ctx context.Context, period calendar.Period) (view, error) {
	last, after, upTo, err := o.store.Reach(ctx, period)
	if err != nil || after == 0 || upTo == 0 {
		return view{Reading: o.store}, err
	}
	b := kept.Bound{Load: last, Period: period}
	return view{Reading: o.store.At(b), bound: b}, nil
}
