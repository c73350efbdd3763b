package measure

import (
	"fmt"
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

func lines(list []cost.Line, keep func(cost.Line) bool) []cost.Line {
	return slices.DeleteFunc(slices.Clone(list), func(l cost.Line) bool { return !keep(l) })
}

func whole(x cost.Portion) money.Amount { return x.Amount }

func explainOriginal(p *Project, ev *Evidence) []Node {
	return explainLines(lines(ev.Budget, func(l cost.Line) bool { return l.Change == "" }), ev, whole)
}

func explainApproved(p *Project, ev *Evidence) []Node {
	return explainLines(lines(current(p, ev.Budget), func(l cost.Line) bool { return l.Change != "" }), ev, whole)
}

func explainRequested(p *Project, ev *Evidence) []Node {
	var list []Node
	for _, c := range p.Changes {
		if c.State != cost.Requested {
			continue
		}
		n := planned(c.Amount, c.Currency, c.Month(ev.Env.AsOf), ev)
		n.Label, n.Ref = c.Code+" "+c.Title, c.Ref
		list = append(list, n)
	}
	return list
}

func explainDaysRequested(p *Project, _ *Evidence) []Node {
	var list []Node
	for _, c := range p.Changes {
		if c.State == cost.Requested && c.Days.Given {
			list = append(list, Node{Label: c.Code + " " + c.Title, Unit: Days, Value: known(c.Days.N), Ref: c.Ref})
		}
	}
	return list
}

// planned is a leaf converted at a plan rate.
func planned(a money.Amount, c money.Currency, m calendar.Month, ev *Evidence) Node {
	worth, rate, err := ev.Rates.Planned(a, c, m)
	return converted(a, worth, c, rate, err, ev)
}

func converted(own, worth money.Amount, c money.Currency, rate cost.RateRow, err error, ev *Evidence) Node {
	n := Node{Unit: Money, Value: amount(worth)}
	switch {
	case err != nil:
		n.Value = unknown(err.Error())
	case c != ev.Env.Currency:
		n.Detail = fmt.Sprintf("%s %s at %s", money.Group(own.Text(c)), c, rate.Rate)
		n.Children = []Node{rateNode(rate)}
	}
	return n
}

func explainCommitments(_ *Project, ev *Evidence) []Node {
	var groups byCode
	for _, c := range ev.Commitments {
		n := planned(c.Amount, c.Currency, c.Month(ev.Env.AsOf), ev)
		n.Label, n.Ref = c.Document+" "+c.Supplier, c.Ref
		if c.Due != 0 {
			n.Label += ", due " + c.Due.String()
		}
		groups.add(c.Code, n)
	}
	return groups.nodes(ev.CodeNames)
}

func explainPostings(ev *Evidence, keep func(cost.Posting) bool, convert func(money.Amount, money.Currency, calendar.Month) (money.Amount,
	cost.RateRow, error)) []Node {
	var groups, labour byCode
	way := cost.Ledger
	for _, x := range ev.Postings {
		if x.Date > ev.Env.AsOf || keep != nil && !keep(x) {
			continue
		}
		a, rate, err := convert(x.Amount, x.Currency, x.Date.Month())
		n := converted(x.Amount, a, x.Currency, rate, err, ev)
		n.Label, n.Ref = x.Label(), x.Ref
		if x.Work == nil {
			groups.add(x.Code, n)
			continue
		}
		way = x.Work.Way
		labour.add(x.Code, workNode(n, &x))
	}
	return append(groups.nodes(ev.CodeNames), labourNodes(labour.nodes(ev.CodeNames), way, ev)...)
}

func explainActual(_ *Project, ev *Evidence) []Node { return explainPostings(ev, nil, ev.Rates.Actual) }

func explainAtPlan(_ *Project, ev *Evidence) []Node {
	return explainPostings(ev, nil, ev.Rates.Planned)
}

func explainReserve(_ *Project, ev *Evidence) []Node {
	return explainLines(lines(ev.Budget, func(l cost.Line) bool { return l.Change == "" && ev.Classes.Holds(l.Code) }), ev, whole)
}

func explainDrawn(p *Project, ev *Evidence) []Node {
	return explainLines(lines(current(p, ev.Budget), func(l cost.Line) bool { return l.Change != "" && ev.Classes.Holds(l.Code) }), ev,
		func(x cost.Portion) money.Amount { return -x.Amount })
}

func explainLeft(p *Project, ev *Evidence) []Node {
	list := explainLines(lines(current(p, ev.Budget), func(l cost.Line) bool { return ev.Classes.Holds(l.Code) }), ev, whole)
	taken := func(a money.Amount, c money.Currency, m calendar.Month) (money.Amount, cost.RateRow, error) {
		a, rate, err := ev.Rates.Actual(a, c, m)
		return -a, rate, err
	}
	spent := explainPostings(ev, func(x cost.Posting) bool { return ev.Classes.Holds(x.Code) }, taken)
	for i := range spent {
		spent[i].Label = "Posted on " + spent[i].Label
	}
	return append(list, spent...)
}

// explainClass traces the part of a measure on one class of cost codes.
func explainClass(key string, c cost.Class) func(*Project, *Evidence) []Node {
	return func(p *Project, ev *Evidence) []Node {
		part := *ev
		of := func(l cost.Line) bool { return ev.Classes.Class(l.Code) == c }
		part.Budget, part.Forecast = lines(ev.Budget, of), lines(ev.Forecast, of)
		part.Postings = slices.DeleteFunc(slices.Clone(ev.Postings), func(x cost.Posting) bool { return ev.Classes.Class(x.Code) != c })
		return parts(key, p, &part)
	}
}

// parts are the leaves of budget, actual cost, forecast, or of the latter two together.
func parts(key string, p *Project, ev *Evidence) []Node {
	switch key {
	case "bac":
		return explainBudget(p, ev)
	case "ac":
		return explainActual(p, ev)
	case "forecast_to_go":
		return explainForecast(p, ev)
	}
	return append(explainActual(p, ev), explainForecast(p, ev)...)
}

// explainYear traces the part of a measure in the months of the budget year.
func explainYear(key string) func(*Project, *Evidence) []Node {
	return func(p *Project, ev *Evidence) []Node {
		first := ev.Env.YearBegins(ev.Env.AsOf)
		in := func(m calendar.Month) bool { return m >= first && m < first+12 }
		part := *ev
		part.Postings = slices.DeleteFunc(slices.Clone(ev.Postings), func(x cost.Posting) bool { return !in(x.Date.Month()) })
		switch key {
		case "bac":
			return explainLinesIn(current(p, ev.Budget), ev, in, whole)
		case "forecast_to_go":
			return explainLinesIn(ev.Forecast, ev, in, cost.Portion.After)
		}
		return explainActual(p, &part)
	}
}

func explainLinesIn(list []cost.Line, ev *Evidence, in func(calendar.Month) bool, pick func(cost.Portion) money.Amount) []Node {
	return explainLines(list, ev, func(x cost.Portion) money.Amount {
		if !in(x.Month) {
			return 0
		}
		return pick(x)
	})
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

func explainHours(_ *Project, ev *Evidence) []Node {
	return bookings(ev, func(b cost.Booking) (Node, bool) { return Node{Unit: Hours, Value: known(b.Hours)}, true })
}

func explainLabour(billing bool) func(*Project, *Evidence) []Node {
	return func(_ *Project, ev *Evidence) []Node {
		return bookings(ev, func(b cost.Booking) (Node, bool) {
			if billing && !b.Billable {
				return Node{}, false
			}
			n := Node{Unit: Money}
			a, x, err := ev.Tariffs.Worth(b, billing, ev.Rates)
			if err != nil {
				n.Value = unknown(err.Error())
				return n, true
			}
			per := x.Cost
			if billing {
				per = x.Billing
			}
			n.Value = amount(a)
			return priced(n, b.Hours, per, &x), true
		})
	}
}

// bookings gathers the rows of timesheets by person.
func bookings(ev *Evidence, leaf func(cost.Booking) (Node, bool)) []Node {
	at := map[string]int{}
	var list []Node
	for _, b := range ev.Bookings {
		if b.Date > ev.Env.AsOf {
			continue
		}
		n, ok := leaf(b)
		if !ok {
			continue
		}
		n.Label, n.Ref = b.Date.String(), b.Ref
		i, met := at[b.Person]
		if !met {
			i = len(list)
			at[b.Person] = i
			list = append(list, Node{Label: b.Person, Unit: n.Unit, Value: known(0)})
		}
		list[i].Children = append(list[i].Children, n)
		list[i].Value.N += n.Value.N
	}
	for i := range list {
		list[i].Rule = fmt.Sprintf("Sum of %d %s.", len(list[i].Children), rowWord(len(list[i].Children)))
	}
	return list
}

func explainRevenue(_ *Project, ev *Evidence) []Node {
	var list []Node
	for _, b := range ev.Billings {
		n := planned(b.Planned, b.Currency, b.Month, ev)
		n.Label, n.Ref = b.Month.String()+" "+b.Code+" "+b.Name, b.Ref
		list = append(list, n)
	}
	return list
}

func explainBilled(_ *Project, ev *Evidence) []Node {
	var list []Node
	for _, b := range ev.Billings {
		own := b.BilledBy(ev.Env.AsOf)
		if own == 0 {
			continue
		}
		a, rate, err := ev.Rates.Actual(own, b.Currency, b.BilledDay().Month())
		n := converted(own, a, b.Currency, rate, err, ev)
		n.Label, n.Ref = b.BilledDay().String()+" "+b.Code+" "+b.Name, b.Ref
		list = append(list, n)
	}
	return list
}

func explainFunds(pick func(cost.Share) money.Amount) func(*Project, *Evidence) []Node {
	return func(_ *Project, ev *Evidence) []Node {
		var list []Node
		for _, s := range ev.Shares {
			if pick(s) == 0 {
				continue
			}
			n := planned(pick(s), s.Currency, s.Month(ev.Env.AsOf), ev)
			n.Label, n.Ref = s.Funder, s.Ref
			list = append(list, n)
		}
		return list
	}
}
