package plan

import (
	"context"

	"turret/internal/app/assess"
	"turret/internal/app/forecast"
	"turret/internal/app/kept"
	"turret/internal/core/schedule"
)

// Ahead is what a project may come to now, and with what is supposed.
type Ahead struct {
	Now, Then *forecast.Row
	Days      int // working days from the eightieth percentile now to that then; 0 where either is not known
}

// Ahead simulates the network as it is and with what is supposed. Projects are listed that are moved by hand or of which the median or the
// eightieth percentile moves, and the whole of what the reader sees at last, where any is. The error is a *forecast.Progress where that
// takes longer than the context lasts.
func (o *Office) Ahead(ctx context.Context, a *assess.Assessment, moves []kept.RehearsedMove) ([]Ahead, error) {
	network := a.Plan()
	list := make([]schedule.Move, len(moves))
	byHand := map[string]bool{}
	for i, m := range moves {
		t, err := moved(a, network, m)
		if err != nil {
			return nil, err
		}
		list[i], byHand[m.Project] = schedule.Move{Task: t, Shift: m.Shift, Stretch: m.Stretch, By: m.By}, true
	}
	now, then, err := o.forecast.Supposed(ctx, a, &assess.Scope{Projects: a.Projects}, forecast.AskedOfAll(a), list)
	if err != nil {
		return nil, err
	}
	var found []Ahead
	for i := range now.Rows {
		x := Ahead{Now: &now.Rows[i], Then: &then.Rows[i]}
		if x.Now.Milestone != nil || x.Now.Day(80) == 0 || x.Then.Day(80) == 0 {
			continue
		}
		x.Days = a.Env.Calendar.Between(x.Now.Day(80), x.Then.Day(80))
		switch {
		case x.Now.Code == "*" && x.Now.Project == nil && len(found) > 0:
			found = append(found, x)
		case x.Now.Project != nil && (byHand[x.Now.Code] || x.Days != 0 || x.Now.Day(50) != x.Then.Day(50)):
			found = append(found, x)
		}
	}
	return found, nil
}
