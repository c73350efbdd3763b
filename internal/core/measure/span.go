package measure

import (
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
)

// MonthsOf are the first and the last month in which projects have money, 0 where there is none.
func MonthsOf(projects []*Project) (first, last calendar.Month) {
	for _, p := range projects {
		if n := len(p.Account.BudgetBy); n > 0 {
			if first == 0 || p.Account.First < first {
				first = p.Account.First
			}
			last = max(last, p.Account.First+calendar.Month(n)-1)
		}
	}
	return first, last
}

// byMonth adds up a row of months of projects, densely from the first.
func byMonth(projects []*Project, row func(*cost.Account) []money.Amount) (calendar.Month, []money.Amount) {
	first, last := MonthsOf(projects)
	if first == 0 {
		return 0, nil
	}
	sum := make([]money.Amount, last-first+1)
	for _, p := range projects {
		for i, a := range row(&p.Account) {
			sum[int(p.Account.First-first)+i] += a
		}
	}
	return first, sum
}
