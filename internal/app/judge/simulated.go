package judge

import (
	"context"
	"slices"
	"time"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/forecast"
	"turret/internal/core/check"
	"turret/internal/core/measure"
)

// CheckAhead gathers what Check does, and what the checks of simulated projects find. It waits for the simulation no longer than it is told
// to; that goes on meanwhile, and is there when one asks again.
func (o *Office) CheckAhead(ctx context.Context, a *assess.Assessment, s *assess.Scope, patience time.Duration) (*Checked, error) {
	x, err := o.Check(ctx, a, s)
	if err != nil {
		return nil, err
	}
	if err := o.simulated(ctx, a, s, x, patience); err != nil {
		return nil, err
	}
	x.sort()
	return x, nil
}

// simulated adds what the checks of simulated projects find. They are no part of the data score, and not pinned with a period.
func (o *Office) simulated(ctx context.Context, a *assess.Assessment, s *assess.Scope, x *Checked, patience time.Duration) error {
	short, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	got, err := o.forecast.Range(short, a, s, forecast.AskedOfAll(a))
	if _, waits := forecast.Waits(err); waits {
		x.Waiting = true
		return nil
	}
	if err != nil {
		return err
	}
	for i := range got.Rows {
		if p := got.Rows[i].Project; p != nil && got.Rows[i].Milestone == nil {
			r := measure.CheckSimulated(p, runsOf(a, &got.Rows[i]), a.Settings.Checks())
			x.count(&r)
			for k := range r.Findings {
				x.List = append(x.List, Found{&r.Findings[k], p, false})
			}
		}
	}
	return nil
}

// runsOf are the figures of a simulation that checks read; costs are drawn in the reporting currency, so that they are held against
// figures in no other.
func runsOf(a *assess.Assessment, row *forecast.Row) (runs check.Runs) {
	if d := row.Day(10); d != 0 {
		runs.Early = measure.Value{N: int64(d), Known: true}
	}
	if n, known := row.Sum(50); known && !a.Shown {
		runs.Half = measure.Value{N: int64(n), Known: true}
	}
	return runs
}

// count adds up what was tested on a project.
func (x *Checked) count(r *check.Result) {
	for _, c := range r.Tested {
		i := slices.IndexFunc(x.Rules, func(have check.Count) bool { return have.Rule.ID == c.Rule.ID })
		if i < 0 {
			i = len(x.Rules)
			x.Rules = append(x.Rules, check.Count{Rule: c.Rule})
		}
		x.Rules[i].Tested += c.Tested
		x.Rules[i].Failed += c.Failed
	}
}

// mostSought is how long is waited for a simulation before a finding of it is accepted.
const mostSought = 10 * time.Second

// finds reports whether a check of simulated projects found something in one; that they are still being simulated is a conflict.
func (o *Office) finds(ctx context.Context, a *assess.Assessment, p *measure.Project, rule, record string) (bool, error) {
	x := &Checked{}
	if err := o.simulated(ctx, a, &assess.Scope{Projects: []*measure.Project{p}}, x, mostSought); err != nil {
		return false, err
	}
	if x.Waiting {
		return false, fault.Conflict("projects are still being simulated; accept it again in a moment")
	}
	return slices.ContainsFunc(x.List, func(f Found) bool { return f.Rule.ID == rule && f.Record == record }), nil
}
