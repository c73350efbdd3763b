package money

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// RevenueLine adds up what one project bills to one client, or what a group of such lines does.
type RevenueLine struct {
	Project                    *measure.Project
	Client, Unit               string
	Timed                      bool
	Planned, Billed, Remaining money.Amount
	Due                        money.Amount // planned up to the as-of date and not billed
}

// Coming is a billing that is still to be sent.
type Coming struct {
	Project *measure.Project
	cost.Billing
	Left money.Amount
	Late bool
}

// Earned is the revenue of a scope.
type Earned struct {
	Lines    []RevenueLine
	ByClient []RevenueLine
	ByUnit   []RevenueLine
	Coming   []Coming // the largest first
	First    calendar.Month
	Planned  []money.Amount
	Billed   []money.Amount
	Problems []string
	Projects []*measure.Project
}

// Revenue gathers what the projects of a scope bill.
func (o *Office) Revenue(ctx context.Context, a *assess.Assessment, s *assess.Scope) (*Earned, error) {
	if _, err := assess.PermitMoney(ctx, access.Read); err != nil {
		return nil, err
	}
	e := &Earned{}
	byID := map[int64]*measure.Project{}
	var ids []int64
	for _, p := range s.Projects {
		byID[p.ID] = p
		ids = append(ids, p.ID)
		if p.Account.Earnings.Lines > 0 {
			e.Projects = append(e.Projects, p)
			e.month(&p.Account.Earnings)
		}
	}
	if len(ids) == 0 {
		return e, nil
	}
	err := a.Reading.Billings(ctx, ids, func(project int64, b cost.Billing) { e.add(a, byID[project], b) })
	e.ByClient = e.grouped(func(l *RevenueLine) string { return l.Client })
	e.ByUnit = e.grouped(func(l *RevenueLine) string { return l.Unit })
	slices.SortStableFunc(e.Coming, func(x, y Coming) int {
		return cmp.Or(cmp.Compare(y.Left, x.Left), cmp.Compare(x.Month, y.Month))
	})
	return e, err
}

func (e *Earned) add(a *assess.Assessment, p *measure.Project, b cost.Billing) {
	planned, _, err := a.Rates.Planned(b.Planned, b.Currency, b.Month)
	billed := money.Amount(0)
	if own := b.BilledBy(a.Env.AsOf); err == nil && own != 0 {
		billed, _, err = a.Rates.Actual(own, b.Currency, b.BilledDay().Month())
	}
	if err != nil {
		e.Problems = append(e.Problems, p.Code+" "+b.Code+": "+err.Error())
		return
	}
	i := slices.IndexFunc(e.Lines, func(l RevenueLine) bool {
		return l.Project == p && l.Client == b.Client && l.Timed == b.Timed
	})
	if i < 0 {
		i = len(e.Lines)
		e.Lines = append(e.Lines, RevenueLine{Project: p, Client: b.Client, Unit: p.BusinessUnit, Timed: b.Timed})
	}
	l := &e.Lines[i]
	l.Planned += planned
	l.Billed += billed
	l.Remaining += planned - billed
	late := b.Month.Last() <= a.Env.AsOf
	if late {
		l.Due += planned - billed
	}
	if billed == 0 && planned > 0 {
		e.Coming = append(e.Coming, Coming{Project: p, Billing: b, Left: planned, Late: late})
	}
}

func (e *Earned) grouped(of func(*RevenueLine) string) []RevenueLine {
	var list []RevenueLine
	for i := range e.Lines {
		l := &e.Lines[i]
		k := slices.IndexFunc(list, func(x RevenueLine) bool { return of(&x) == of(l) })
		if k < 0 {
			k = len(list)
			list = append(list, RevenueLine{Client: l.Client, Unit: l.Unit})
		}
		list[k].Planned += l.Planned
		list[k].Billed += l.Billed
		list[k].Remaining += l.Remaining
		list[k].Due += l.Due
	}
	slices.SortStableFunc(list, func(x, y RevenueLine) int { return cmp.Compare(y.Planned, x.Planned) })
	return list
}

// month adds a project's months to those of the scope.
func (e *Earned) month(x *cost.Earnings) {
	if len(x.PlannedBy) == 0 {
		return
	}
	first, last := x.First, x.First+calendar.Month(len(x.PlannedBy))-1
	if len(e.Planned) > 0 {
		first, last = min(first, e.First), max(last, e.First+calendar.Month(len(e.Planned))-1)
	}
	planned, billed := make([]money.Amount, last-first+1), make([]money.Amount, last-first+1)
	for i := range e.Planned {
		planned[int(e.First-first)+i], billed[int(e.First-first)+i] = e.Planned[i], e.Billed[i]
	}
	for i := range x.PlannedBy {
		planned[int(x.First-first)+i] += x.PlannedBy[i]
		billed[int(x.First-first)+i] += x.BilledBy[i]
	}
	e.First, e.Planned, e.Billed = first, planned, billed
}
