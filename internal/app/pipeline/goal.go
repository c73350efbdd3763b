package pipeline

import (
	"slices"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/priority"
)

// Serving is how goals are served by the projects of a scope.
type Serving struct {
	Goals   []Served // the heaviest first
	Idle    []*measure.Project
	Serving int // projects that serve any
}

// Served is a goal with what serves it.
type Served struct {
	Goal
	priority.Coverage
	Weighs fact.Ratio // its part of all weights; none where they are nothing
	By     []Serves   // those that do most for it first
}

// Serves is what a project does for a goal.
type Serves struct {
	Project *measure.Project
	Contribution
}

// Serve splits the budget of the projects of a scope among goals: of those that are open and proposed, or of some of these. What is
// declined serves nothing.
func Serve(a *assess.Assessment, p *Pipeline, s *assess.Scope, states ...measure.State) *Serving {
	var list []*measure.Project
	var amounts []money.Amount
	for _, x := range s.Projects {
		if x.Status != measure.Open && x.Status != measure.Proposed || len(states) > 0 && !slices.Contains(states, x.Status) ||
			p.Declined(x.Code) &&
				x.Status == measure.Proposed {
			continue
		}
		list = append(list, x)
		amounts = append(amounts, x.Account.Budget())
	}
	out := &Serving{Goals: make([]Served, len(p.Goals))}
	at, weights := map[string]int{}, int64(0)
	for g := range p.Goals {
		out.Goals[g].Goal = p.Goals[g]
		at[p.Goals[g].Code] = g
		weights += p.Goals[g].Weight
	}
	var contributions []priority.Contribution
	for i, x := range list {
		for _, c := range p.Contributions[x.Code] {
			g, ok := at[c.Goal]
			if !ok || c.Rating == 0 {
				continue
			}
			contributions = append(contributions, priority.Contribution{Project: int32(i), Goal: int32(g), Rating: c.Rating})
			out.Goals[g].By = append(out.Goals[g].By, Serves{x, c})
		}
	}
	covered, idle := priority.Cover(len(p.Goals), amounts, contributions)
	for g := range out.Goals {
		out.Goals[g].Coverage, out.Goals[g].Weighs = covered[g], fact.Of(out.Goals[g].Weight, weights)
		slices.SortStableFunc(out.Goals[g].By, func(x, y Serves) int { return int(y.Rating - x.Rating) })
	}
	for _, i := range idle {
		out.Idle = append(out.Idle, list[i])
	}
	out.Serving = len(list) - len(idle)
	slices.SortStableFunc(out.Goals, func(x, y Served) int {
		if x.Weight != y.Weight {
			return int(max(-1, min(1, y.Weight-x.Weight)))
		}
		return strings.Compare(x.Code, y.Code)
	})
	return out
}
