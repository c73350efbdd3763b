// Package compare sets the projects of two days side by side. Differences are those of the newer day less the older; where one of the two
// figures is undefined there is none, never a 0 that would read as no change.
package compare

import (
	"cmp"
	"slices"

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
	HasDays  bool         // both finishes are known
	Budget   money.Amount // by which its budget rose; 0 where one is not known
	Reasons  [2]string    // of its status then and now, in a sentence each
}

// Project is the newer of the two.
func (x *Compared) Project() *measure.Project {
	if x.Now != nil {
		return x.Now
	}
	return x.Was
}

// BridgeStep is one part of what lies between two totals.
type BridgeStep struct {
	Name    string
	Amount  money.Amount     // minor units; positive is dearer
	Project *measure.Project // nil for several together
}

// Comparison sets the projects of a scope on two days side by side. Was plus all steps of the bridge is Now, in minor units of the
// reporting currency.
type Comparison struct {
	Rows     []Compared   // what changed most first
	Was, Now money.Amount // sums of the estimates that are known
	Bridge   []BridgeStep // from the one to the other; they add up
	Worse    int          // projects by their overall status
	Better   int
	Later    int // finishes
	Sooner   int // likewise
	In, Out  int // projects that are there on one of the days alone
}

// bridged is how many projects have a step of their own.
const bridged = 7

// Projects sets projects as they were against as they are, by their codes. Statuses move by steps, finishes by working days of the calendar
// of env, and the steps of the bridge add up from the sum of the estimates then to that of now.
func Projects(was, now []*measure.Project, env measure.Env) *Comparison {
	c := &Comparison{Was: measure.Roll(was, env).Value(measure.EAC).Amount(), Now: measure.Roll(now, env).Value(measure.EAC).Amount()}
	before := make(map[string]*measure.Project, len(was))
	for _, p := range was {
		before[p.Code] = p
	}
	for _, p := range now {
		c.add(env, before[p.Code], p)
		delete(before, p.Code)
	}
	for _, p := range was {
		if before[p.Code] != nil {
			c.add(env, p, nil)
		}
	}
	slices.SortStableFunc(c.Rows, func(x, y Compared) int {
		return cmp.Or(-cmp.Compare(x.Steps, y.Steps), -cmp.Compare(max(x.Cost, -x.Cost), max(y.Cost, -y.Cost)),
			cmp.Compare(x.Project().Code, y.Project().Code))
	})
	c.bridge()
	return c
}

// add puts in a project that is there on one day or on both; nil for the day on which it is not.
func (c *Comparison) add(env measure.Env, was, now *measure.Project) {
	x := Compared{Was: was, Now: now}
	switch {
	case was == nil:
		c.In++
	case now == nil:
		c.Out++
	default:
		x.compare(env)
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

// eacOf is the estimate of a project, undefined where there is no project.
func eacOf(p *measure.Project) measure.Value {
	if p == nil {
		return measure.Value{}
	}
	return p.Value(measure.EAC)
}

// compare fills in by how much a project that is there on both days has moved.
func (x *Compared) compare(env measure.Env) {
	if s, t := x.Was.Health.Overall, x.Now.Health.Overall; s != health.NotAssessed && t != health.NotAssessed {
		x.Steps = int(t) - int(s)
	}
	if s, t := eacOf(x.Was), eacOf(x.Now); s.Known && t.Known {
		x.Cost, x.HasCost = t.Amount()-s.Amount(), true
	}
	if s, t := x.Was.Value(measure.BAC), x.Now.Value(measure.BAC); s.Known && t.Known {
		x.Budget = t.Amount() - s.Amount()
	}
	if s, t := x.Was.Value(measure.ExpectedFinish), x.Now.Value(measure.ExpectedFinish); s.Known && t.Known {
		x.Days, x.HasDays = env.Calendar.Between(s.Date(), t.Date()), true
	}
	x.Reasons = [2]string{x.Was.Health.Reason(), x.Now.Health.Reason()}
}

// bridge leads from the one total of estimates to the other: what came in and went out, those projects that moved most, and the rest. The
// seven projects that moved most have a step each; the others stand in one. Projects whose estimate became known, or is no longer, move
// the total without having moved themselves and stand apart.
func (c *Comparison) bridge() {
	var in, out, known, rest money.Amount
	var moved []BridgeStep
	for i := range c.Rows {
		x := &c.Rows[i]
		s, t := eacOf(x.Was), eacOf(x.Now)
		switch {
		case x.HasCost:
			if x.Cost != 0 {
				moved = append(moved, BridgeStep{x.Now.Code, x.Cost, x.Now})
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
	slices.SortStableFunc(moved, func(x, y BridgeStep) int { return -cmp.Compare(max(x.Amount, -x.Amount), max(y.Amount, -y.Amount)) })
	for _, s := range moved[min(bridged, len(moved)):] {
		rest += s.Amount
	}
	for _, s := range []BridgeStep{{Name: "Came in", Amount: in}, {Name: "Went out", Amount: out}} {
		if s.Amount != 0 {
			c.Bridge = append(c.Bridge, s)
		}
	}
	c.Bridge = append(c.Bridge, moved[:min(bridged, len(moved))]...)
	for _, s := range []BridgeStep{{Name: "The others", Amount: rest}, {Name: "Estimate gained or lost", Amount: known}} {
		if s.Amount != 0 {
			c.Bridge = append(c.Bridge, s)
		}
	}
}
