package app

import (
	"context"
	"slices"

	"turret/internal/core/backlog"
	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/record"
)

// registers fills in risks, issues, actions, backlogs and benefits, what is kept of closed periods, what people set and accepted, and
// which inputs are late.
func (a *Assessment) registers(ctx context.Context, s Reading, only []int64) error {
	at := func(project int64, f func(p *measure.Project)) {
		if i, ok := a.slots.of(project); ok {
			f(a.Projects[i])
		}
	}
	steps := []func() error{
		func() error {
			return s.Risks(ctx, only, func(id int64, x risk.Risk) { at(id, func(p *measure.Project) { a.risk(p, x) }) })
		},
		func() error {
			return s.Issues(ctx, only, func(id int64, x risk.Issue) {
				at(id, func(p *measure.Project) { p.Issues = append(p.Issues, x) })
			})
		},
		func() error {
			return s.Actions(ctx, only, func(id int64, x risk.Action) {
				at(id, func(p *measure.Project) { p.Actions = append(p.Actions, x) })
			})
		},
		func() error {
			return s.Items(ctx, only, func(id int64, x backlog.Item) {
				at(id, func(p *measure.Project) { p.Items = append(p.Items, x) })
			})
		},
		func() error {
			return s.Benefits(ctx, only, func(id int64, x benefit.Benefit) { at(id, func(p *measure.Project) { a.benefit(p, x) }) })
		},
		func() error { return a.overrides(ctx, s, at) },
		func() error { return a.acceptances(ctx, s, at) },
		func() error { return a.past(ctx, s, only) },
		func() error { return a.late(ctx, s, only) },
		func() error { return a.words(ctx, s, only, at) },
	}
	for _, step := range steps {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

func (a *Assessment) risk(p *measure.Project, x risk.Risk) {
	p.Risks = append(p.Risks, x)
	var worth money.Amount
	if e, ok := x.Expected(); ok && !risk.Over(x.State) {
		w, _, err := a.Rates.Planned(e, x.Currency, a.Env.AsOf.Month())
		if err != nil && p.Threat.Missing == nil {
			p.Threat.Missing = err
		}
		worth = w
	}
	p.Threat.Worth = append(p.Threat.Worth, worth)
}

func (a *Assessment) benefit(p *measure.Project, x benefit.Benefit) {
	p.Benefits = append(p.Benefits, x)
	planned, _, err := a.Rates.Planned(x.Planned, x.Currency, x.Month)
	outlook, _, err2 := a.Rates.Planned(x.Outlook(a.Env.AsOf), x.Currency, x.Month)
	for _, e := range []error{err, err2} {
		if e != nil && p.Gains.Missing == nil {
			p.Gains.Missing = e
		}
	}
	p.Gains.Planned += planned
	p.Gains.Outlook += outlook
}

// late tells which inputs that are expected each period came last for an earlier one. Nothing is late while nothing at all has come
// for the period.
func (a *Assessment) late(ctx context.Context, s Reading, only []int64) error {
	periods := map[slotKey]calendar.Period{}
	now := a.Env.Period()
	begun, err := s.Begun(ctx, now)
	if err != nil {
		return err
	}
	a.begun = begun
	if err := s.LastDelivered(ctx, only, func(project int64, kind record.Kind, period calendar.Period) {
		periods[slotKey{project, kind}] = period
	}); err != nil {
		return err
	}
	for _, p := range a.Projects {
		if p.Status != "open" {
			continue
		}
		for _, k := range record.MatrixKinds() {
			last, came := periods[slotKey{p.ID, k}]
			if !came || a.Settings.Expected(k).Rhythm != EachPeriod || slices.Contains(a.Settings.NotExpected[p.Code], k) {
				continue
			}
			p.Audit.Tested++
			if begun && last != 0 && last < now {
				p.Audit.Late = append(p.Audit.Late, check.Late{Kind: string(k), Last: last.Name()})
			}
		}
	}
	return nil
}
