package publish

import (
	"context"
	"strconv"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/report"
	"turret/internal/core/measure"
)

// Waiting is something that waits for the one who asks.
type Waiting struct {
	What WaitKind
	N    int
	Of   string // a project, or the number of what was sent
	Says string // its name
}

// WaitKind says what waits.
type WaitKind string

// What waits for people.
const (
	WaitInputs    WaitKind = "inputs"
	WaitErrors    WaitKind = "errors"
	WaitTexts     WaitKind = "texts"
	WaitAnswer    WaitKind = "answer"
	WaitDecisions WaitKind = "decisions"
	WaitClosing   WaitKind = "closing"
	WaitSent      WaitKind = "sent"
)

// Waits lists what waits for the one who asks, in the period assessed.
func (o *Office) Waits(ctx context.Context, a *assess.Assessment) ([]Waiting, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return nil, err
	}
	var list []Waiting
	add := func(what WaitKind, n int) {
		if n > 0 {
			list = append(list, Waiting{What: what, N: n})
		}
	}
	if a.Closed == nil {
		if actor.May(access.Send) {
			came, expected, err := o.gather.Counts(ctx, a.Env.Period())
			if err != nil {
				return nil, err
			}
			add(WaitInputs, expected-came)
			asked, by, err := o.explain.Asked(ctx, a)
			if err != nil {
				return nil, err
			}
			for _, r := range asked {
				if r.Login != actor.Login {
					list = append(list, Waiting{What: WaitAnswer, N: 1, Of: by[r.Project].Code, Says: r.Who})
				}
			}
			n := CountSteps(a.Projects)
			add(WaitErrors, n.Errors)
			add(WaitTexts, n.Wanted-n.Written)
			if actor.May(access.Publish) && expected == came && n.Errors == 0 && n.Wanted == n.Written && len(asked) == 0 && n.Open > 0 {
				add(WaitClosing, 1)
			}
		} else {
			s, err := a.Scope("", measure.Open)
			if err != nil {
				return nil, err
			}
			add(WaitDecisions, len(report.Decisions(a, s.Projects)))
		}
	}
	sent, err := o.store.Unopened(ctx, actor.Login, 5)
	for i := range sent {
		list = append(list, Waiting{What: WaitSent, N: 1, Of: strconv.FormatInt(sent[i].ID, 10), Says: sent[i].Report + ", " +
			a.Env.Cycle.Of(sent[i].AsOf).Name()})
	}
	return list, err
}
