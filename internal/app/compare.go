package app

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// Compared is a project as it stood on two days; Was is nil where it came in between, Now where it went out. Projects are compared as
// they are open.
type Compared struct {
	Was, Now *measure.Project
	Steps    int          // by which its overall status is worse; negative is better
	Cost     money.Amount // by which its estimate rose; 0 where one is not known
	HasCost  bool         // both estimates are known
	Days     int          // working days by which its expected finish moved later
	HasDays  bool
	Budget   money.Amount
	Reasons  [2]string
}

// Project is the newer of the two.
func (x *Compared) Project() *measure.Project {
	if x.Now != nil {
		return x.Now
	}
	return x.Was
}

// Step is one part of what lies between two totals.
type Step struct {
	Name    string
	Amount  money.Amount
	Project *measure.Project // nil for several together
}

// PeriodComparison is a scope on two days.
type PeriodComparison struct {
	From, To calendar.Date
	Rows     []Compared // what changed most first
	Was, Now money.Amount
	Bridge   []Step // from the one to the other; they add up
	Worse    int
	Better   int
	Later    int // finishes
	Sooner   int
	In, Out  int
}

// bridged is how many projects have a step of their own.
const bridged = 7

// Compare sets a scope as it was on a day against how it stands in an assessment. A scope that was not there then has nothing in it.
func (o *Office) Compare(ctx context.Context, a *Assessment, scope string, from calendar.Date) (*PeriodComparison, error) {
	if _, err := permit(ctx, Read); err != nil {
		return nil, err
	}
	now, err := a.Scope(scope, "open")
	if err != nil {
		return nil, err
	}
	b, err := o.Assess(ctx, from)
	if err != nil {
		return nil, err
	}
	was, err := b.Scope(scope, "open")
	if errors.Is(err, ErrNotFound) {
		was, err = &Scope{}, nil
	}
	if err != nil {
		return nil, err
	}
	c := &PeriodComparison{From: from, To: a.Env.AsOf}
	before := map[string]*measure.Project{}
	for _, p := range was.Projects {
		before[p.Code] = p
	}
	for _, p := range now.Projects {
		c.add(a, before[p.Code], p)
		delete(before, p.Code)
	}
	for _, p := range was.Projects {
		if before[p.Code] != nil {
			c.add(a, p, nil)
		}
	}
	slices.SortStableFunc(c.Rows, func(x, y Compared) int {
		return cmp.Or(-cmp.Compare(x.Steps, y.Steps), -cmp.Compare(max(x.Cost, -x.Cost), max(y.Cost, -y.Cost)), cmp.Compare(x.Project().Code, y.Project().Code))
	})
	c.bridge()
	return c, nil
}

func (c *PeriodComparison) add(a *Assessment, was, now *measure.Project) {
	x := Compared{Was: was, Now: now}
	switch {
	case was == nil:
		c.In++
	case now == nil:
		c.Out++
	default:
		x.compare(a)
	}
	if n := estimate(was); n.Known {
		c.Was += n.Amount()
	}
	if n := estimate(now); n.Known {
		c.Now += n.Amount()
	}
	for _, n := range []struct {
		is bool
		of *int
	}{{x.Steps > 0, &c.Worse}, {x.Steps < 0, &c.Better}, {x.Days > 0, &c.Later}, {x.Days < 0, &c.Sooner}} {
		if n.is {
			*n.of++
		}
	}
	c.Rows = append(c.Rows, x)
}

func estimate(p *measure.Project) measure.Value {
	if p == nil {
		return measure.Value{}
	}
	return p.Value("eac")
}

func (x *Compared) compare(a *Assessment) {
	if s, t := x.Was.Health.Overall, x.Now.Health.Overall; s != health.NotAssessed && t != health.NotAssessed {
		x.Steps = int(t) - int(s)
	}
	if s, t := estimate(x.Was), estimate(x.Now); s.Known && t.Known {
		x.Cost, x.HasCost = t.Amount()-s.Amount(), true
	}
	if s, t := x.Was.Value("bac"), x.Now.Value("bac"); s.Known && t.Known {
		x.Budget = t.Amount() - s.Amount()
	}
	if s, t := x.Was.Value("expected_finish"), x.Now.Value("expected_finish"); s.Known && t.Known {
		x.Days, x.HasDays = a.Env.Calendar.Between(s.Date(), t.Date()), true
	}
	x.Reasons = [2]string{x.Was.Health.Reason(), x.Now.Health.Reason()}
}

// bridge leads from the one total of estimates to the other: what came in and went out, those projects that moved most, and the rest.
func (c *PeriodComparison) bridge() {
	var in, out, known, rest money.Amount
	var moved []Step
	for i := range c.Rows {
		x := &c.Rows[i]
		s, t := estimate(x.Was), estimate(x.Now)
		switch {
		case x.HasCost:
			if x.Cost != 0 {
				moved = append(moved, Step{x.Now.Code, x.Cost, x.Now})
			}
		case x.Was == nil && t.Known:
			in += t.Amount()
		case x.Now == nil && s.Known:
			out -= s.Amount()
		case t.Known:
			known += t.Amount()
		case s.Known:
			known -= s.Amount()
		}
	}
	slices.SortStableFunc(moved, func(x, y Step) int { return -cmp.Compare(max(x.Amount, -x.Amount), max(y.Amount, -y.Amount)) })
	for _, s := range moved[min(bridged, len(moved)):] {
		rest += s.Amount
	}
	for _, s := range []Step{{Name: "Came in", Amount: in}, {Name: "Went out", Amount: out}} {
		if s.Amount != 0 {
			c.Bridge = append(c.Bridge, s)
		}
	}
	c.Bridge = append(c.Bridge, moved[:min(bridged, len(moved))]...)
	for _, s := range []Step{{Name: "The others", Amount: rest}, {Name: "Estimate gained or lost", Amount: known}} {
		if s.Amount != 0 {
			c.Bridge = append(c.Bridge, s)
		}
	}
}
