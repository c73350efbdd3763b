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
	return MonthNode(m, []Node{
		{Label: "Budget", Unit: Money, Value: amount(p.Account.Between(p.Account.BudgetBy, m, m)),
			Children: ev.OfLinesIn(current(p, ev.Budget), in, whole)},
		{Label: "Actual cost", Unit: Money, Value: amount(p.Account.Between(p.Account.ActualBy, m, m)), Children: explainActual(p, &part)},
		{Label: "Forecast", Unit: Money, Value: amount(p.Account.Between(p.Account.ForecastBy, m, m)),
			Children: ev.OfLinesIn(ev.Forecast, in, cost.Portion.After)},
	})
}

// MonthNode is a month made of its budget, actual cost and forecast. Its value is what the month has cost and is to cost yet.
func MonthNode(m calendar.Month, parts []Node) Node {
	return Node{Label: m.Name(), Unit: Money, Value: known(parts[1].Value.N + parts[2].Value.N),
		Rule:     "Actual cost up to the as-of date and the forecast after it, beside the budget of the month.",
		Children: parts}
}
