package forecast

import (
	"context"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/core/calendar"
	"turret/internal/core/forecast"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

// Course is what would be told of an open project by each period that closed, by what was learned up to now; empty where nothing was.
func (o *Office) Course(ctx context.Context, a *assess.Assessment, code string) ([]*forecast.Prediction, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	if p := a.ByCode[code]; p == nil || p.Status != measure.Open {
		return nil, nil
	}
	l, err := o.lesson(ctx, a)
	if err != nil {
		return nil, err
	}
	for i := range l.stories {
		if l.stories[i].Project.Code == code {
			return l.learned.Course(&l.stories[i]), nil
		}
	}
	return nil, nil
}

// AtPeriod is how many of the projects that a period tells of are predicted at act by it.
type AtPeriod struct {
	Period  calendar.Period
	Act, Of int
}

// Courses count over the open projects of a scope what would be told by each period, the earliest first, by what was learned up to now.
func (o *Office) Courses(ctx context.Context, a *assess.Assessment, s *assess.Scope) ([]AtPeriod, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	l, err := o.lesson(ctx, a)
	if err != nil {
		return nil, err
	}
	open := map[string]bool{}
	for _, p := range s.Projects {
		open[p.Code] = p.Status == measure.Open
	}
	by := map[calendar.Period]*AtPeriod{}
	var list []*AtPeriod
	for i := range l.stories {
		if !open[l.stories[i].Project.Code] {
			continue
		}
		for _, d := range l.learned.Course(&l.stories[i]) {
			x := by[d.Period]
			if x == nil {
				x = &AtPeriod{Period: d.Period}
				by[d.Period], list = x, append(list, x)
			}
			if x.Of++; Statuses[d.Likeliest] == health.Act {
				x.Act++
			}
		}
	}
	slices.SortFunc(list, func(x, y *AtPeriod) int { return int(x.Period - y.Period) })
	out := make([]AtPeriod, len(list))
	for i, x := range list {
		out[i] = *x
	}
	return out, nil
}

// Turn is what was predicted of a project at an earlier day, and what came of it.
type Turn struct {
	Then  Outlook
	Now   *measure.Project
	Ended bool
}

// Came is how the project ended, or how it stands.
func (t *Turn) Came() health.Status { return t.Now.Health.Overall }

// Turned is what became of the predictions of an earlier day.
type Turned struct {
	Then   calendar.Date
	Reason string // why nothing was predicted; empty where something was
	List   []Turn // those that ended first
	Ended  int
	Right  int // of those, how many ended as was likeliest
}

// Turned holds what would have been told on an earlier day, by what was known then, against what came.
func (o *Office) Turned(ctx context.Context, a *assess.Assessment, s *assess.Scope, then calendar.Date) (*Turned, error) {
	b, err := o.assess.Day(ctx, then)
	if err != nil {
		return nil, err
	}
	told, err := o.Predict(ctx, b, &assess.Scope{Projects: b.Projects})
	if err != nil {
		return nil, err
	}
	now := map[string]*measure.Project{}
	for _, p := range s.Projects {
		now[p.Code] = p
	}
	t := &Turned{Then: then, Reason: told.Learned.Reason}
	for _, x := range told.List {
		p := now[x.Project.Code]
		if p == nil || x.Prediction == nil {
			continue
		}
		turn := Turn{Then: x, Now: p, Ended: p.Status == measure.Closed}
		if turn.Ended {
			if t.Ended++; turn.Came() == x.Predicted() {
				t.Right++
			}
		}
		t.List = append(t.List, turn)
	}
	slices.SortStableFunc(t.List, func(x, y Turn) int {
		switch {
		case x.Ended == y.Ended:
			return 0
		case x.Ended:
			return -1
		}
		return 1
	})
	return t, nil
}
