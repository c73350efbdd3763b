package measure

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
)

// moneyDefinitions are the measures of budget, commitment, contingency, exchange rates, years, labour, revenue and funding. They come
// after those of budget, actual cost and forecast, which they build on.
func moneyDefinitions() []Definition {
	capital, operating := cost.Capital, cost.Operating
	return []Definition{
		{Key: "budget_original", Name: "Original budget", Unit: Money, Rollup: Sum,
			Formula: "Budget lines without a change, each converted at the plan rate of its month.",
			Source:  "budget", base: originalBudget, explain: explainOriginal},
		{Key: "budget_changes", Name: "Approved changes", Unit: Money, Rollup: Sum,
			Formula: "Budget lines of changes, those left out that the register of changes has as requested or refused.",
			Source:  "budget and changes", base: approvedChanges, explain: explainApproved},
		{Key: "changes_requested", Name: "Changes requested", Unit: Money, Rollup: Sum,
			Formula: "Amounts of the changes that are asked for and not decided, at the plan rate of the month they begin in.",
			Source:  "changes", base: requested, explain: explainRequested},
		{Key: "days_requested", Name: "Days requested", Unit: Days, Better: Lower, Rollup: Sum,
			Formula: "Effect on the finish of the changes that are asked for and not decided, in working days.",
			Source:  "changes", base: daysRequested, explain: explainDaysRequested},
		{Key: "commitments", Name: "Open commitments", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "What is ordered and not invoiced, at the plan rate of the month it is due in.",
			Source:  "commitments", base: commitments, explain: rowsOf((*Evidence).OfCommitments)},
		{Key: "committed_share", Name: "Committed share", Unit: Share, Rollup: Derived,
			Formula: "Actual cost and open commitments divided by budget at completion.",
			Source:  "measures", Inputs: []string{"ac", "commitments", "bac"}, derive: committedShare},
		{Key: "ac_at_plan", Name: "Actual cost at plan rates", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Postings dated up to the as-of date, each converted at the plan rate of its month.",
			Source:  "actuals", base: actualAtPlan, explain: explainAtPlan},
		{Key: "rate_variance", Name: "Variance by exchange rates", Unit: Money, Better: Higher, Rollup: Derived,
			Formula: "Actual cost at plan rates minus actual cost: what exchange rates have added or spared.",
			Source:  "measures", Inputs: []string{"ac_at_plan", "ac"}, derive: difference},
		{Key: "volume_variance", Name: "Variance by volume", Unit: Money, Better: Higher, Rollup: Derived,
			Formula: "Variance at completion minus the variance by exchange rates: what would be left at plan rates.",
			Source:  "measures", Inputs: []string{"vac", "rate_variance"}, derive: difference},
		{Key: "contingency", Name: "Contingency, as agreed", Unit: Money, Rollup: Sum,
			Formula: "Original budget on the cost codes that hold contingency.",
			Source:  "budget and cost codes", base: reserve(func(r cost.Reserve) money.Amount { return r.Original },
				func(g *cost.Gap) bool { return !g.Changed }, nil), explain: explainReserve},
		{Key: "contingency_drawn", Name: "Contingency drawn", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "What approved changes took off the cost codes that hold contingency.",
			Source:  "budget and cost codes", base: reserve(func(r cost.Reserve) money.Amount { return r.Drawn },
				func(g *cost.Gap) bool { return g.Changed }, nil), explain: explainDrawn},
		{Key: "contingency_left", Name: "Contingency left", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "Contingency as agreed, without what was drawn or posted on its cost codes.",
			Source:  "budget, actuals and cost codes", base: reserve(cost.Reserve.Left, everyGap, everyGap), explain: explainLeft},
		{Key: "bac_capital", Name: "Budget, capital", Unit: Money, Rollup: Sum,
			Formula: "Budget at completion on cost codes of capital expenditure.", Source: "budget and cost codes",
			base: ofClass("bac", capital, cost.Figures.Budget), explain: explainClass("bac", capital)},
		{Key: "bac_operating", Name: "Budget, operating", Unit: Money, Rollup: Sum,
			Formula: "Budget at completion on cost codes of operating expenditure.", Source: "budget and cost codes",
			base: ofClass("bac", operating, cost.Figures.Budget), explain: explainClass("bac", operating)},
		{Key: "ac_capital", Name: "Actual cost, capital", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Actual cost on cost codes of capital expenditure.", Source: "actuals and cost codes",
			base: ofClass("ac", capital, actualOf), explain: explainClass("ac", capital)},
		{Key: "ac_operating", Name: "Actual cost, operating", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Actual cost on cost codes of operating expenditure.", Source: "actuals and cost codes",
			base: ofClass("ac", operating, actualOf), explain: explainClass("ac", operating)},
		{Key: "eac_capital", Name: "Estimate at completion, capital", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Actual cost and forecast to go on cost codes of capital expenditure.", Source: "actuals, forecast and cost codes",
			base: ofClass("eac", capital, estimateOf), explain: explainClass("eac", capital)},
		{Key: "eac_operating", Name: "Estimate at completion, operating", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Actual cost and forecast to go on cost codes of operating expenditure.", Source: "actuals, forecast and cost codes",
			base: ofClass("eac", operating, estimateOf), explain: explainClass("eac", operating)},
		{Key: "run_rate", Name: "Run-rate", Unit: Money, Rollup: Sum,
			Formula: fmt.Sprintf("Mean monthly actual cost of the last %d whole months.", cost.RunMonths),
			Source:  "actuals", base: runRate, explain: explainRun},
		{Key: "budget_out", Name: "Budget runs out", Unit: Day, Better: Higher, Rollup: Pooled,
			Formula: "End of the month in which what remains of the budget after the as-of date is spent at the run-rate; where it is " +
				"overspent, of the month in which the cost so far passed it.",
			Source: "measures", Inputs: []string{"bac", "ac", "run_rate"}, needs: []string{"bac", "ac", "run_rate"},
			base: func(p *Project) Value { return budgetOut([]*Project{p}, p.env) }, group: budgetOut},
		{Key: "year_budget", Name: "Budget of the year", Unit: Money, Rollup: Sum,
			Formula: "Budget of the months of the budget year that the as-of date falls into.",
			Source:  "budget", base: ofYear(cost.InBudget, "no budget", budgetLines, func(y cost.Year) money.Amount { return y.Budget }),
			explain: explainYear("bac")},
		{Key: "year_actual", Name: "Actual cost of the year", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Postings of the budget year up to the as-of date.",
			Source:  "actuals", base: ofYear(cost.InActual, "", nil, func(y cost.Year) money.Amount { return y.Actual }),
			explain: explainYear("ac")},
		{Key: "year_to_go", Name: "Forecast for the rest of the year", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Forecast after the as-of date in the months left of the budget year.",
			Source:  "forecast", base: yearToGo, explain: explainYear("forecast_to_go")},
		{Key: "year_outlook", Name: "Outlook of the year", Unit: Money, Better: Lower, Rollup: Derived,
			Formula: "Actual cost of the year plus the forecast for the rest of it.",
			Source:  "measures", Inputs: []string{"year_actual", "year_to_go"}, derive: sumOf},
		{Key: "carry_over", Name: "Carry-over", Unit: Money, Rollup: Derived,
			Formula: "Budget of the year minus its outlook: what the year is not expected to use; negative is drawn from other years.",
			Source:  "measures", Inputs: []string{"year_budget", "year_outlook"}, derive: difference},
		{Key: "labour_hours", Name: "Hours booked", Unit: Hours, Rollup: Sum,
			Formula: "Hours of timesheets dated up to the as-of date.",
			Source:  "timesheets", base: labourHours, explain: rowsOf((*Evidence).OfHours)},
		{Key: "hours_planned", Name: "Hours planned to date", Unit: Hours, Rollup: Sum,
			Formula: "What assignments want up to the as-of date: percent of the hours of each working day, staffed or not.",
			Source:  "assignments", base: staffHours(past), explain: explainShares(past)},
		{Key: "hours_to_go", Name: "Hours planned to go", Unit: Hours, Rollup: Sum,
			Formula: "What assignments want after the as-of date, staffed or not.",
			Source:  "assignments", base: staffHours(ahead), explain: explainShares(ahead)},
		{Key: "hours_actual", Name: "Hours worked", Unit: Hours, Rollup: Sum,
			Formula: "Hours of timesheets dated up to the as-of date, to be held against the hours planned.",
			Source:  "timesheets", base: labourHours, explain: rowsOf((*Evidence).OfHours)},
		{Key: "labour_cost", Name: "Labour at hourly rates", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Hours times the rate in force on the day, of the person, else the role, else the cost code. It is part of actual " +
				"cost only where the project's labour is known from timesheets.",
			Source: "timesheets and hourly rates", base: labour(cost.InLabour, func(l cost.Labour) money.Amount { return l.Cost }),
			explain: rowsOf(func(ev *Evidence) []Node { return ev.OfLabour(false) })},
		{Key: "billable_value", Name: "Billable hours, value", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "Billable hours times the billing rate in force on the day.",
			Source:  "timesheets and hourly rates", base: labour(cost.InBilling, func(l cost.Labour) money.Amount { return l.Billable }),
			explain: rowsOf(func(ev *Evidence) []Node { return ev.OfLabour(true) })},
		{Key: "revenue", Name: "Revenue planned", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "What is to be billed in all, each line at the plan rate of its month.",
			Source:  "revenue", base: earnings(cost.InRevenue, func(e cost.Earnings) money.Amount { return e.Planned }),
			explain: rowsOf((*Evidence).OfBillings)},
		{Key: "billed", Name: "Revenue billed", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "What was billed by the as-of date, each bill at the rate of its month.",
			Source:  "revenue", base: earnings(cost.InBilled, func(e cost.Earnings) money.Amount { return e.Billed }),
			explain: rowsOf((*Evidence).OfBilled)},
		{Key: "revenue_remaining", Name: "Revenue remaining", Unit: Money, Rollup: Derived,
			Formula: "Revenue planned minus revenue billed.",
			Source:  "measures", Inputs: []string{"revenue", "billed"}, derive: difference},
		{Key: "margin", Name: "Margin", Unit: Share, Better: Higher, Rollup: Derived,
			Formula: "Revenue planned minus estimate at completion, divided by revenue planned.",
			Source:  "measures", Inputs: []string{"revenue", "eac"}, derive: margin("revenue planned")},
		{Key: "margin_planned", Name: "Margin by budget", Unit: Share, Better: Higher, Rollup: Derived,
			Formula: "Revenue planned minus budget at completion, divided by revenue planned.",
			Source:  "measures", Inputs: []string{"revenue", "bac"}, derive: margin("revenue planned")},
		{Key: "margin_to_date", Name: "Margin to date", Unit: Share, Better: Higher, Rollup: Derived,
			Formula: "Revenue billed minus actual cost, divided by revenue billed.",
			Source:  "measures", Inputs: []string{"billed", "ac"}, derive: margin("revenue billed")},
		{Key: "granted", Name: "Funding granted", Unit: Money, Rollup: Sum,
			Formula: "What those who pay have agreed to, at the plan rate of the as-of month.",
			Source:  "funding", base: funds(func(f cost.Funds) money.Amount { return f.Granted }),
			explain: rowsOf(func(ev *Evidence) []Node { return ev.OfShares(func(s cost.Share) money.Amount { return s.Granted }) })},
		{Key: "received", Name: "Funding received", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "What has come from those who pay, at the plan rate of the as-of month.",
			Source:  "funding", base: funds(func(f cost.Funds) money.Amount { return f.Received }),
			explain: rowsOf(func(ev *Evidence) []Node { return ev.OfShares(func(s cost.Share) money.Amount { return s.Received }) })},
		{Key: "funding_ahead", Name: "Funding ahead of cost", Unit: Money, Rollup: Derived,
			Formula: "Funding received minus actual cost: positive is drawn too early, negative is still to be drawn.",
			Source:  "measures", Inputs: []string{"received", "ac"}, derive: difference},
	}
}

func originalBudget(p *Project) Value {
	return p.amountOf(cost.InBudget, p.Account.Lines, "no budget", p.Account.Original, func(g *cost.Gap) bool { return !g.Changed })
}

func approvedChanges(p *Project) Value {
	return p.amountOf(cost.InBudget, p.Account.Lines, "no budget", p.Account.Figures.Changes, func(g *cost.Gap) bool { return g.Changed })
}

func requested(p *Project) Value {
	if len(p.Changes) == 0 {
		return unknown("no register of changes")
	}
	return p.fromAccount(cost.InChanges, 1, "", p.Account.Asked.Amount)
}

func daysRequested(p *Project) Value {
	if len(p.Changes) == 0 {
		return unknown("no register of changes")
	}
	return known(p.Account.Asked.Days)
}

func commitments(p *Project) Value {
	v := p.fromAccount(cost.InCommitments, 1, "", p.Account.Committed)
	if v.Known && p.Account.Commitments == 0 {
		return unknown("no commitments sent")
	}
	return v
}

func committedShare(_ Env, in []Value) Value {
	if in[2].N == 0 {
		return unknown("budget at completion is zero")
	}
	return quotient(in[0].N+in[1].N, in[2].N)
}

func actualAtPlan(p *Project) Value {
	return p.fromAccount(cost.InSplit, 1, "", p.Account.ActualAtPlan)
}

// reserve is a figure of the contingency, which needs some of the budget lines on its codes and perhaps what is posted on them.
func reserve(pick func(cost.Reserve) money.Amount, of, posted func(*cost.Gap) bool) func(*Project) Value {
	return func(p *Project) Value {
		for input, needs := range map[int]func(*cost.Gap) bool{cost.InBudget: of, cost.InActual: posted} {
			if needs == nil {
				continue
			}
			if err := p.Account.Gap(input, func(g *cost.Gap) bool { return g.Reserve && needs(g) }); err != nil {
				return unknown(err.Error())
			}
		}
		if p.Account.Reserve == (cost.Reserve{}) {
			return unknown("no budget on a cost code that holds contingency")
		}
		return amount(pick(p.Account.Reserve))
	}
}

func everyGap(*cost.Gap) bool { return true }

func actualOf(f cost.Figures) money.Amount   { return f.Actual }
func estimateOf(f cost.Figures) money.Amount { return f.Actual + f.ForecastToGo }

// ofClass is the part of a measure that falls on one class of cost codes. It needs what the whole needs, of those codes.
func ofClass(whole string, c cost.Class, pick func(cost.Figures) money.Amount) func(*Project) Value {
	return func(p *Project) Value {
		of := func(g *cost.Gap) bool { return g.Class == c }
		a := pick(p.Account.ByClass[c])
		switch whole {
		case "bac":
			return p.amountOf(cost.InBudget, p.Account.Lines, "no budget", a, of)
		case "ac":
			return p.amountOf(cost.InActual, 1, "", a, of)
		}
		if v := p.amountOf(cost.InActual, 1, "", a, of); !v.Known {
			return v
		}
		if p.closedWithout() {
			return amount(a)
		}
		return p.amountOf(cost.InForecast, p.Account.ForecastLines, "no forecast", a, func(g *cost.Gap) bool {
			return g.Class == c &&
				g.Ahead
		})
	}
}

func runRate(p *Project) Value {
	last := cost.LastWhole(p.env.AsOf)
	return p.amountOf(cost.InActual, p.Account.Postings, "no postings up to the as-of date", p.Account.RunRate(p.env.AsOf),
		between(last-cost.RunMonths+1, last))
}

// between picks the gaps of the months from one to another, both included.
func between(from, to calendar.Month) func(*cost.Gap) bool {
	return func(g *cost.Gap) bool { return g.Month >= from && g.Month <= to }
}

// budgetOut tells of projects together when their budget is spent; each must have a budget, actual cost and a run-rate.
func budgetOut(projects []*Project, env Env) Value {
	var budget, spent, rate money.Amount
	for _, p := range projects {
		for _, x := range []struct {
			key string
			to  *money.Amount
		}{{"bac", &budget}, {"ac", &spent}, {"run_rate", &rate}} {
			v := p.Value(x.key)
			if !v.Known {
				return v
			}
			*x.to += v.Amount()
		}
	}
	first, by := byMonth(projects, func(a *cost.Account) []money.Amount { return a.ActualBy })
	m, ok := cost.RunsOut(budget, spent, rate, first, by, cost.NewCut(env.AsOf, env.Calendar))
	if !ok {
		return unknown("at this rate the budget does not run out")
	}
	return date(m.Last())
}

func budgetLines(a *cost.Account) int { return a.Lines }

func ofYear(input int, none string, rows func(*cost.Account) int, pick func(cost.Year) money.Amount) func(*Project) Value {
	return func(p *Project) Value {
		n := 1
		if rows != nil {
			n = rows(&p.Account)
		}
		first := p.env.YearBegins(p.env.AsOf)
		return p.amountOf(input, n, none, pick(p.year()), between(first, first+11))
	}
}

// year is the budget year that the as-of date falls into.
func (p *Project) year() cost.Year { return p.Account.Year(p.env.YearBegins(p.env.AsOf)) }

func yearToGo(p *Project) Value {
	if p.closedWithout() {
		return forecastToGo(p)
	}
	in := between(0, p.env.YearBegins(p.env.AsOf)+11)
	return p.amountOf(cost.InForecast, p.Account.ForecastLines, "no forecast", p.year().ToGo,
		func(g *cost.Gap) bool { return g.Ahead && in(g) })
}

func labourHours(p *Project) Value {
	if p.Account.Labour.Rows == 0 {
		return unknown("no timesheets")
	}
	return known(p.Account.Labour.Hours)
}

func labour(input int, pick func(cost.Labour) money.Amount) func(*Project) Value {
	return func(p *Project) Value {
		return p.fromAccount(input, p.Account.Labour.Rows, "no timesheets", pick(p.Account.Labour))
	}
}

func earnings(input int, pick func(cost.Earnings) money.Amount) func(*Project) Value {
	return func(p *Project) Value {
		return p.fromAccount(input, p.Account.Earnings.Lines, "no revenue", pick(p.Account.Earnings))
	}
}

func margin(name string) func(Env, []Value) Value {
	return func(_ Env, in []Value) Value {
		if in[0].N == 0 {
			return unknown(name + " is zero")
		}
		return quotient(in[0].N-in[1].N, in[0].N)
	}
}

func funds(pick func(cost.Funds) money.Amount) func(*Project) Value {
	return func(p *Project) Value {
		return p.fromAccount(cost.InFunding, p.Account.Funds.Rows, "no funding sent", pick(p.Account.Funds))
	}
}
