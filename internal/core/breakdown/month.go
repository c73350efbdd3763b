package breakdown

import (
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// MonthOf traces a month of several projects down to each of them. Amounts are minor units of the reporting currency; a project without an
// amount of a kind in the month is left out of it.
func MonthOf(projects []*measure.Project, m calendar.Month) measure.Node {
	parts := []measure.Node{{Label: "Budget"}, {Label: "Actual cost"}, {Label: "Forecast"}}
	for i := range parts {
		parts[i].Unit, parts[i].Value.Known = measure.Money, true
	}
	for _, p := range projects {
		a := &p.Account
		for i, v := range []money.Amount{a.Between(a.BudgetBy, m, m), a.Between(a.ActualBy, m, m), a.Between(a.ForecastBy, m, m)} {
			if v == 0 {
				continue
			}
			parts[i].Value.N += int64(v)
			parts[i].Children = append(parts[i].Children, measure.Node{Label: p.Code + " " + p.Name, Project: p.Code, Key: "month",
				Unit: measure.Money, Value: measure.Value{Known: true, N: int64(v)}})
		}
	}
	for i := range parts {
		slices.SortStableFunc(parts[i].Children, func(x, y measure.Node) int { return int(min(max(y.Value.N-x.Value.N, -1), 1)) })
	}
	return measure.MonthNode(m, parts)
}
