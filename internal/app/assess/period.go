package assess

import (
	"context"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Periods lists the closed periods, ascending.
func (o *Office) Periods(ctx context.Context) ([]kept.Period, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	return o.store.Periods(ctx)
}

// Closed finds the closed period that ends on a day; nil where none does.
func (o *Office) Closed(ctx context.Context, asOf calendar.Date) (*kept.Period, error) {
	periods, err := o.store.Periods(ctx)
	if err != nil {
		return nil, err
	}
	for i := range periods {
		if periods[i].AsOf == asOf {
			return &periods[i], nil
		}
	}
	return nil, nil
}

// readPast gives projects what is kept of the periods closed before.
func readPast(ctx context.Context, a *Assessment, s kept.Reading, only []int64) error {
	keys := measure.PastKeys()
	return s.PeriodValues(ctx, keys, only, 0, a.Env.Period(), func(v kept.PeriodValue) {
		i, ok := a.Slots.Of(v.Scope)
		if !ok || only != nil && !slices.Contains(only, v.Scope) {
			return
		}
		p := a.Projects[i]
		at := slices.IndexFunc(p.Past, func(x measure.Past) bool { return x.Period == v.Period })
		if at < 0 {
			at, _ = slices.BinarySearchFunc(p.Past, v.Period, func(x measure.Past, m calendar.Period) int { return int(x.Period - m) })
			p.Past = slices.Insert(p.Past, at, measure.Past{Period: v.Period, Values: make([]measure.Value, len(keys))})
		}
		if a.Shown && measure.Of(v.Measure).Unit == measure.Money && v.Value.Known {
			v.Value = measure.Value{Reason: "closed periods are kept in " + string(a.Masters.Reporting)}
		}
		p.Past[at].Values[slices.Index(keys, v.Measure)] = v.Value
	})
}

// compareForecasts tells of the last closed periods whether their forecasts were the present ones, in the months that both hold.
func (o *Office) compareForecasts(ctx context.Context, a *Assessment, only []int64) error {
	closed, err := a.Reading.Periods(ctx)
	if err != nil {
		return err
	}
	closed = slices.DeleteFunc(closed, func(x kept.Period) bool { return x.Span >= a.Env.Period() })
	for i := max(0, len(closed)-check.Span); i < len(closed); i++ {
		if err := o.compareForecast(ctx, a, &closed[i], only); err != nil {
			return err
		}
	}
	for _, p := range a.Projects {
		p.Audit.Forecast = nil // of no use any more, and large
	}
	return nil
}

func (o *Office) compareForecast(ctx context.Context, a *Assessment, x *kept.Period, only []int64) error {
	then := map[int32]*check.Forecast{}
	err := o.store.At(x.Bound()).Lines(ctx, record.Forecast, only, func(project int64, l cost.Line) {
		i, ok := a.Slots.Of(project)
		if !ok || !a.Projects[i].Tested() {
			return
		}
		if then[i] == nil {
			then[i] = &check.Forecast{}
		}
		then[i].Add(&l, a.Env.Calendar)
	})
	for i, f := range then {
		p := a.Projects[i]
		if at := slices.IndexFunc(p.Past, func(y measure.Past) bool { return y.Period == x.Span }); at >= 0 {
			p.Past[at].SameForecast = p.Audit.Forecast.Same(*f)
		}
	}
	return err
}

// DueOn is the day by which a step of the period assessed is due.
func (a *Assessment) DueOn(step setting.Step) calendar.Date {
	return a.Env.Calendar.Add(a.Env.Period().Last(), a.Settings.StepDue(step))
}
