package trace

import (
	"cmp"
	"context"
	"fmt"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/breakdown"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Trace is the explanation of one figure with the loads that its rows came from.
type Trace struct {
	Subject string // what the figure is of
	Project *measure.Project
	AsOf    string
	Root    measure.Node
	Loads   map[int64]kept.Load
}

// Trace explains a measure of a project down to its rows. An unknown project or measure is an error wrapping ErrNotFound.
func (o *Office) Trace(ctx context.Context, a *assess.Assessment, project, key string) (*Trace, error) {
	return o.trace(ctx, a, project, "measure "+key, func(p *measure.Project, ev *measure.Evidence) (measure.Node, bool) {
		return measure.Explain(p, ev, measure.KeyOf(key))
	})
}

// TraceCode explains a measure of one cost code of a project.
func (o *Office) TraceCode(ctx context.Context, a *assess.Assessment, project, key, costCode string) (*Trace, error) {
	return o.trace(ctx, a, project, "cost code "+costCode+" or measure "+key,
		func(p *measure.Project, ev *measure.Evidence) (measure.Node, bool) {
			if a.NoMoney {
				return measure.Node{}, false
			}
			for _, c := range a.Masters.CostCodes {
				if c.Code == costCode {
					return breakdown.ExplainCode(p, ev, measure.KeyOf(key), int32(c.ID))
				}
			}
			return measure.Node{}, false
		})
}

// TraceAccount explains a measure of the money of one activity or phase of a project; an empty activity is what names none.
func (o *Office) TraceAccount(ctx context.Context, a *assess.Assessment, project, key, activity string) (*Trace, error) {
	if _, err := assess.PermitMoney(ctx, access.Read); err != nil {
		return nil, err
	}
	return o.trace(ctx, a, project, "money of activity "+activity+" or measure "+key,
		func(p *measure.Project, ev *measure.Evidence) (measure.Node, bool) {
			return breakdown.ExplainAccount(p, ev, activity, measure.KeyOf(key))
		})
}

// TraceActivity explains the deviation of an activity or milestone, and what drives it.
func (o *Office) TraceActivity(ctx context.Context, a *assess.Assessment, project, code string) (*Trace, error) {
	return o.trace(ctx, a, project, "activity "+code, func(p *measure.Project, ev *measure.Evidence) (measure.Node, bool) {
		return measure.ExplainActivity(p, ev, code)
	})
}

// TraceMonth explains a month of a project's money.
func (o *Office) TraceMonth(ctx context.Context, a *assess.Assessment, project string, m calendar.Month) (*Trace, error) {
	if _, err := assess.PermitMoney(ctx, access.Read); err != nil {
		return nil, err
	}
	return o.trace(ctx, a, project, m.String(), func(p *measure.Project, ev *measure.Evidence) (measure.Node, bool) {
		return measure.ExplainMonth(p, ev, m), true
	})
}

// TraceMonthOf explains a month of the money of a scope, project by project.
func (o *Office) TraceMonthOf(ctx context.Context, a *assess.Assessment, s *assess.Scope, m calendar.Month) (*Trace, error) {
	if _, err := assess.PermitMoney(ctx, access.Read); err != nil {
		return nil, err
	}
	return o.withLoads(ctx, &Trace{Subject: cmp.Or(s.Name, "All projects"), AsOf: a.Env.AsOf.String(),
		Root: breakdown.MonthOf(s.Projects, m)})
}

// trace gathers a project's evidence and explains what explain picks; what names it where it is not there.
func (o *Office) trace(ctx context.Context, a *assess.Assessment, project, what string,
	explain func(*measure.Project, *measure.Evidence) (measure.Node, bool)) (*Trace, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	p, err := a.Project(project)
	if err != nil {
		return nil, err
	}
	ev, err := o.Evidence(ctx, a, p)
	if err != nil {
		return nil, err
	}
	root, ok := explain(p, ev)
	if !ok {
		return nil, fmt.Errorf("%s: %w", what, fault.ErrNotFound)
	}
	return o.withLoads(ctx, &Trace{Subject: p.Code + " " + p.Name, Project: p, AsOf: a.Env.AsOf.String(), Root: root})
}

// Evidence gathers what a project's figures were computed from.
func (o *Office) Evidence(ctx context.Context, a *assess.Assessment, p *measure.Project) (*measure.Evidence, error) {
	ev := &measure.Evidence{Rates: a.Rates, CodeNames: a.CodeName, Env: a.Env, Classes: a.Classes,
		Tariffs: a.Masters.Tariffs, Chain: func(activity int) []measure.Step { return a.Chain(p, activity) }}
	ids := []int64{p.ID}
	err := a.Reading.Lines(ctx, record.Budget, ids, func(_ int64, l cost.Line) { ev.Budget = append(ev.Budget, l) })
	if err == nil {
		err = a.Reading.Lines(ctx, record.Forecast, ids, func(_ int64, l cost.Line) { ev.Forecast = append(ev.Forecast, l) })
	}
	if err == nil {
		ev.Ledger, err = a.Reading.Postings(ctx, p.ID)
	}
	if err == nil {
		err = a.Reading.Commitments(ctx, ids, func(_ int64, c cost.Commitment) { ev.Commitments = append(ev.Commitments, c) })
	}
	if err == nil {
		err = a.Reading.Shares(ctx, ids, func(_ int64, s cost.Share) { ev.Shares = append(ev.Shares, s) })
	}
	if err == nil {
		err = a.Reading.Billings(ctx, ids, func(_ int64, b cost.Billing) { ev.Billings = append(ev.Billings, b) })
	}
	if err == nil {
		err = a.Reading.Bookings(ctx, ids, func(_ int64, b *cost.Booking) { ev.Bookings = append(ev.Bookings, *b) })
	}
	ev.Postings = Counted(ev, p, ev.Forecast)
	return ev, err
}

// Counted are the postings that make up a project's actual cost where its forecast is as given.
func Counted(ev *measure.Evidence, p *measure.Project, forecast []cost.Line) []cost.Posting {
	r := cost.Records{Ledger: ev.Ledger, Bookings: ev.Bookings, Forecast: forecast}
	return r.Counted(p.Labour, &ev.Classes, ev.Tariffs, ev.Env.Calendar, ev.Env.AsOf)
}

// TraceGroup explains a measure of a scope: the projects in it and those left out.
func (o *Office) TraceGroup(ctx context.Context, a *assess.Assessment, s *assess.Scope, key string) (*Trace, error) {
	root, ok := measure.ExplainGroup(s.Roll(a.Env), a.Env, measure.KeyOf(key))
	if !ok {
		return nil, fmt.Errorf("measure %q: %w", key, fault.ErrNotFound)
	}
	subject := s.Name
	if subject == "" {
		subject = "All projects"
	}
	return o.withLoads(ctx, &Trace{Subject: subject, AsOf: a.Env.AsOf.String(), Root: root})
}

// Of is the explanation of a figure of a project that is explained elsewhere, with the loads that its rows came from.
func (o *Office) Of(ctx context.Context, a *assess.Assessment, p *measure.Project, root measure.Node) (*Trace, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	return o.withLoads(ctx, &Trace{Subject: p.Code + " " + p.Name, Project: p, AsOf: a.Env.AsOf.String(), Root: root})
}

func (o *Office) withLoads(ctx context.Context, t *Trace) (*Trace, error) {
	loads, err := o.store.Loads(ctx)
	if err != nil {
		return nil, err
	}
	t.Loads = make(map[int64]kept.Load, len(loads))
	for _, l := range loads {
		t.Loads[l.ID] = l
	}
	return t, nil
}

// Where names the load, file and row of a reference, empty for a computed node.
func (t *Trace) Where(r fact.Ref) string {
	if r.Load == 0 {
		return ""
	}
	l := t.Loads[r.Load]
	return fmt.Sprintf("load %d, %s, row %d", r.Load, l.File, r.Row)
}
