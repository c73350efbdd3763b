package breakdown

import (
	"cmp"
	"slices"

	"turret/internal/core/earned"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

// WorkLine is an activity's share of the budget with what of it was to be earned by now and what is. Planned is by working days of the
// baseline up to the day, so that Planned over Budget is 0 before its start and 1 from its finish on.
type WorkLine struct {
	Activity        *schedule.Activity
	Budget          money.Amount // its share, by largest remainder
	Planned, Earned money.Amount // of Budget
	Credited        float64      // share of the budget, 0 to 1
}

// Behind is planned value minus earned value.
func (w WorkLine) Behind() money.Amount { return w.Planned - w.Earned }

// Work lists the activities that a project's earned value is made of, those farthest behind first. It is empty without earned value.
func Work(p *measure.Project) []WorkLine {
	if !p.EarnedValue || !p.Value(measure.BAC).Known {
		return nil
	}
	r, err := p.Earn()
	if err != nil {
		return nil
	}
	list := make([]WorkLine, 0, len(r.Parts))
	for _, x := range r.Parts {
		a := &p.Activities[x.Activity]
		planned, _ := earned.Planned(a, p.Env().AsOf, p.Env().Calendar)
		list = append(list, WorkLine{Activity: a, Budget: x.Budget, Planned: planned.Of(x.Budget), Earned: x.Earned,
			Credited: x.Credit.Share()})
	}
	slices.SortStableFunc(list, func(a, b WorkLine) int { return cmp.Compare(b.Behind(), a.Behind()) })
	return list
}

// CodeWork is a cost code with what it would have earned were it as far as its project. Codes without a budget, or with one below zero,
// earn nothing.
type CodeWork struct {
	Code          int32
	Budget        money.Amount
	Earned, Spent money.Amount
}

// Variance is earned minus spent.
func (c CodeWork) Variance() money.Amount { return c.Earned - c.Spent }

// WorkByCode shares a project's earned value among its cost codes by their budgets, by largest remainder, and sets what was spent
// against it; the code that loses most stands first. It is empty without earned value.
func WorkByCode(p *measure.Project) []CodeWork {
	ev := p.Value(measure.EV)
	if !ev.Known {
		return nil
	}
	lines := ByCode(p)
	weights := make([]int64, len(lines))
	for i, l := range lines {
		weights[i] = max(0, int64(l.Budget))
	}
	list := make([]CodeWork, len(lines))
	parts := money.Split(ev.Amount(), weights)
	for i, l := range lines {
		list[i] = CodeWork{Code: l.Code, Budget: l.Budget, Spent: l.Actual}
		if i < len(parts) {
			list[i].Earned = parts[i]
		}
	}
	slices.SortStableFunc(list, func(a, b CodeWork) int { return cmp.Compare(a.Variance(), b.Variance()) })
	return list
}
