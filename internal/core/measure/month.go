package measure

import (
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
)

// ExplainMonth traces what a project's month is made of: budget, actual cost up to the as-of date and forecast after it, down to the rows.
func ExplainMonth(p *Project, ev *Evidence, m calendar.Month) Node {
	in := func(x calendar.Month) bool { return x == m }
	part := *ev
	part.Postings = slices.DeleteFunc(slices.Clone(ev.Postings), func(x cost.Posting) bool { return x.Date.Month() != m })
	return monthNode(m, []Node{
		{Label: "Budget", Unit: Money, Value: amount(p.Account.Between(p.Account.BudgetBy, m, m)),
			Children: explainLinesIn(current(p, ev.Budget), ev, in, whole)},
		{Label: "Actual cost", Unit: Money, Value: amount(p.Account.Between(p.Account.ActualBy, m, m)), Children: explainActual(p, &part)},
		{Label: "Forecast", Unit: Money, Value: amount(p.Account.Between(p.Account.ForecastBy, m, m)),
			Children: explainLinesIn(ev.Forecast, ev, in, cost.Portion.After)},
	})
}

func monthNode(m calendar.Month, parts []Node) Node {
	return Node{Label: m.Name(), Unit: Money, Value: known(parts[1].Value.N + parts[2].Value.N),
		Rule:     "Actual cost up to the as-of date and the forecast after it, beside the budget of the month.",
		Children: parts}
}

// ExplainMonthOf traces a month of several projects down to each of them.
func ExplainMonthOf(projects []*Project, m calendar.Month) Node {
	parts := []Node{{Label: "Budget", Unit: Money, Value: known(0)}, {Label: "Actual cost", Unit: Money, Value: known(0)},
		{Label: "Forecast", Unit: Money, Value: known(0)}}
	for _, p := range projects {
		a := &p.Account
		for i, v := range []Value{amount(a.Between(a.BudgetBy, m, m)), amount(a.Between(a.ActualBy, m, m)),
			amount(a.Between(a.ForecastBy, m, m))} {
			if v.N == 0 {
				continue
			}
			parts[i].Value.N += v.N
			parts[i].Children = append(parts[i].Children, Node{Label: p.Code + " " + p.Name, Project: p.Code, Key: "month", Unit: Money,
				Value: v})
		}
	}
	for i := range parts {
		slices.SortStableFunc(parts[i].Children, func(x, y Node) int { return int(min(max(y.Value.N-x.Value.N, -1), 1)) })
	}
	return monthNode(m, parts)
}
