package forecast

import (
	"context"
	"time"

	"turret/internal/app/assess"
	"turret/internal/core/calendar"
	"turret/internal/core/forecast"
)

// Odds are the days by which a milestone is done in half of the runs, and in four of five.
type Odds struct{ Middle, Late calendar.Date }

// manyProjects is up to how many projects the milestones of all of them are told of.
const manyProjects = 300

// Asked is what the pages of a project ask for, so that all of them show the same days.
func Asked(project string) Ask {
	return Ask{Runs: forecast.DefaultRuns, Seed: 1, Project: project, Milestones: true}
}

// Runs of a whole scope: as many as mostDrawn activities allow, so that a simulation takes some seconds at most, in steps, so that one more
// activity does not have everything drawn anew.
const (
	mostRuns, fewestRuns = 2_000, 200
	stepRuns             = 100
	mostDrawn            = 40_000_000
)

// AskedOfAll is what pages of a whole scope ask for: fewer runs than for one project, since there are many.
func AskedOfAll(a *assess.Assessment) Ask {
	n := 1
	for _, p := range a.All {
		n += len(p.Activities)
	}
	return Ask{Runs: min(mostRuns, max(fewestRuns, mostDrawn/n/stepRuns*stepRuns)), Seed: 1, Milestones: len(a.All) <= manyProjects}
}

// Odds are those of the milestones of a scope that are not reached and wait for something, by the codes of project and milestone. It waits
// for them no longer than it is told to; then it answers nil, and they are there when they are asked for again.
func (o *Office) Odds(ctx context.Context, a *assess.Assessment, s *assess.Scope, q Ask, patience time.Duration) (map[[2]string]Odds,
	error) {
	short, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	got, err := o.Range(short, a, s, q)
	if _, waits := Waits(err); waits {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	by := map[[2]string]Odds{}
	for i := range got.Rows {
		x := &got.Rows[i]
		if m := x.Milestone; m != nil && !x.Loose && len(x.Finish) > 0 && (m.ActualFinish == 0 || m.ActualFinish > a.Env.AsOf) {
			by[[2]string{x.Project.Code, m.Code}] = Odds{x.Day(50), x.Day(80)}
		}
	}
	return by, nil
}
