package feed

import (
	"context"
	"fmt"
	"maps"
	"slices"

	"turret/internal/app/access"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// stood is how projects stand before a run, by their codes, at the end of the period that goes on.
type stood struct {
	day      calendar.Date
	currency money.Currency
	projects map[string]*measure.Project
}

// standing assesses the projects of some items. Figures that cannot be computed do not stop a run.
func (o *Office) standing(ctx context.Context, by map[string]moves) (*stood, error) {
	now := o.now()
	period, err := o.setting.PeriodOf(ctx, calendar.On(now.Year(), int(now.Month()), now.Day()))
	if err != nil {
		return nil, err
	}
	s := &stood{day: period.Last(), projects: map[string]*measure.Project{}}
	a, err := o.assess.Day(access.Lend(ctx), s.day)
	if err != nil {
		return nil, err
	}
	s.currency = a.Env.Currency
	for code := range by {
		if p := a.ByCode[code]; p != nil {
			s.projects[code] = p
		}
	}
	return s, nil
}

// shifted says what a run did to progress, earned value and status.
func (was *stood) shifted(is *stood) (log []string) {
	for _, code := range slices.Sorted(maps.Keys(was.projects)) {
		before, after := was.projects[code], is.projects[code]
		if after == nil {
			continue
		}
		text := ""
		for _, key := range []measure.Key{measure.PercentComplete, measure.EV} {
			d := measure.Of(key)
			x, y := before.Value(key).Human(d.Unit, was.currency), after.Value(key).Human(d.Unit, is.currency)
			if x != y {
				text += fmt.Sprintf(", %s %s to %s", d.Name, x, y)
			}
		}
		for _, d := range append([]health.Dimension{health.Overall}, health.Dimensions()...) {
			if x, y := before.Health.Computed[d], after.Health.Computed[d]; x != y {
				text += fmt.Sprintf(", %s %s to %s", d, x, y)
			}
		}
		if text != "" {
			log = append(log, code+" at "+is.day.Human()+": "+text[2:])
		}
	}
	return log
}
