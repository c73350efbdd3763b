package measure

import (
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
)

// Held are the references of the changes whose budget lines do not count: those that are not approved.
func (p *Project) Held() map[string]bool {
	list := map[string]bool{}
	for i := range p.Changes {
		if p.Changes[i].State != cost.Approved {
			list[p.Changes[i].Code] = true
		}
	}
	return list
}

// current are the lines of the current budget.
func current(p *Project, lines []cost.Line) []cost.Line {
	held := p.Held()
	if len(held) == 0 {
		return lines
	}
	return slices.DeleteFunc(slices.Clone(lines), func(l cost.Line) bool { return l.Change != "" && held[l.Change] })
}

// lines are those that are kept, in their order.
func lines(list []cost.Line, keep func(cost.Line) bool) []cost.Line {
	return slices.DeleteFunc(slices.Clone(list), func(l cost.Line) bool { return !keep(l) })
}

// whole takes all of a portion.
func whole(x cost.Portion) money.Amount { return x.Amount }

// explainOriginal traces lines without a change.
func explainOriginal(p *Project, ev *Evidence) []Node {
	return ev.OfLines(lines(ev.Budget, func(l cost.Line) bool { return l.Change == "" }), whole)
}

// explainApproved traces lines of approved changes.
func explainApproved(p *Project, ev *Evidence) []Node {
	return ev.OfLines(lines(current(p, ev.Budget), func(l cost.Line) bool { return l.Change != "" }), whole)
}

// explainRequested traces changes that are asked for, at the plan rate of the month they begin in.
func explainRequested(p *Project, ev *Evidence) []Node {
	var list []Node
	for _, c := range p.Changes {
		if c.State != cost.Requested {
			continue
		}
		n := ev.Planned(c.Amount, c.Currency, c.Month(ev.Env.AsOf))
		n.Label, n.Ref = c.Code+" "+c.Title, c.Ref
		list = append(list, n)
	}
	return list
}

// explainDaysRequested traces the working days that changes ask for.
func explainDaysRequested(p *Project, _ *Evidence) []Node {
	var list []Node
	for _, c := range p.Changes {
		if c.State == cost.Requested && c.Days.Given {
			list = append(list, Node{Label: c.Code + " " + c.Title, Unit: Days, Value: known(c.Days.N), Ref: c.Ref})
		}
	}
	return list
}

// explainActual traces postings at the rates of their months.
func explainActual(_ *Project, ev *Evidence) []Node { return ev.OfPostings(nil, ev.Rates.Actual) }

// explainAtPlan traces postings at plan rates.
func explainAtPlan(_ *Project, ev *Evidence) []Node {
	return ev.OfPostings(nil, ev.Rates.Planned)
}

// explainReserve traces the contingency as it was agreed.
func explainReserve(_ *Project, ev *Evidence) []Node {
	return ev.OfLines(lines(ev.Budget, func(l cost.Line) bool { return l.Change == "" && ev.Classes.Holds(l.Code) }), whole)
}

// explainDrawn traces what approved changes took out of the contingency, positive.
func explainDrawn(p *Project, ev *Evidence) []Node {
	return ev.OfLines(lines(current(p, ev.Budget), func(l cost.Line) bool { return l.Change != "" && ev.Classes.Holds(l.Code) }),
		func(x cost.Portion) money.Amount { return -x.Amount })
}

// explainLeft traces what was agreed and drawn of the contingency, and what was posted on its codes, negative.
func explainLeft(p *Project, ev *Evidence) []Node {
	list := ev.OfLines(lines(current(p, ev.Budget), func(l cost.Line) bool { return ev.Classes.Holds(l.Code) }), whole)
	taken := func(a money.Amount, c money.Currency, m calendar.Month) (money.Amount, cost.RateRow, error) {
		a, rate, err := ev.Rates.Actual(a, c, m)
		return -a, rate, err
	}
	spent := ev.OfPostings(func(x cost.Posting) bool { return ev.Classes.Holds(x.Code) }, taken)
	for i := range spent {
		spent[i].Label = "Posted on " + spent[i].Label
	}
	return append(list, spent...)
}

// explainClass traces the part of a measure on one class of cost codes.
func explainClass(key Key, c cost.Class) func(*Project, *Evidence) []Node {
	return func(p *Project, ev *Evidence) []Node {
		part := *ev
		of := func(l cost.Line) bool { return ev.Classes.Class(l.Code) == c }
		part.Budget, part.Forecast = lines(ev.Budget, of), lines(ev.Forecast, of)
		part.Postings = slices.DeleteFunc(slices.Clone(ev.Postings), func(x cost.Posting) bool { return ev.Classes.Class(x.Code) != c })
		return parts(key, p, &part)
	}
}

// parts are the leaves of budget, actual cost, forecast, or of the latter two together.
func parts(key Key, p *Project, ev *Evidence) []Node {
	switch key {
	case BAC:
		return explainBudget(p, ev)
	case AC:
		return explainActual(p, ev)
	case ForecastToGo:
		return explainForecast(p, ev)
	}
	return append(explainActual(p, ev), explainForecast(p, ev)...)
}

// explainYear traces the part of a measure in the months of the budget year.
func explainYear(key Key) func(*Project, *Evidence) []Node {
	return func(p *Project, ev *Evidence) []Node {
		first := ev.Env.YearBegins(ev.Env.AsOf)
		in := func(m calendar.Month) bool { return m >= first && m < first+12 }
		part := *ev
		part.Postings = slices.DeleteFunc(slices.Clone(ev.Postings), func(x cost.Posting) bool { return !in(x.Date.Month()) })
		switch key {
		case BAC:
			return ev.OfLinesIn(current(p, ev.Budget), in, whole)
		case ForecastToGo:
			return ev.OfLinesIn(ev.Forecast, in, cost.Portion.After)
		}
		return explainActual(p, &part)
	}
}

// explainRun lists the months that the run-rate is the mean of.
func explainRun(p *Project, ev *Evidence) []Node {
	last := ev.Env.AsOf.Month()
	if ev.Env.AsOf < last.Last() {
		last--
	}
	var list []Node
	for m := last - cost.RunMonths + 1; m <= last; m++ {
		part := *ev
		part.Postings = slices.DeleteFunc(slices.Clone(ev.Postings), func(x cost.Posting) bool { return x.Date.Month() != m })
		list = append(list, Node{Label: m.Name(), Unit: Money, Value: amount(p.Account.Between(p.Account.ActualBy, m, m)),
			Rule:     "Actual cost of the month.",
			Children: explainActual(p, &part)})
	}
	return list
}
