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
		{Key: BudgetOriginal, text: "budget_original", Name: "Original budget", Unit: Money, Rollup: Sum,
			Formula: "Budget lines without a change, each converted at the plan rate of its month.",
			Source:  "budget", base: originalBudget, explain: explainOriginal},
		{Key: BudgetChanges, text: "budget_changes", Name: "Approved changes", Unit: Money, Rollup: Sum,
			Formula: "Budget lines of changes, those left out that the register of changes has as requested or refused.",
			Source:  "budget and changes", base: approvedChanges, explain: explainApproved},
		{Key: ChangesRequested, text: "changes_requested", Name: "Changes requested", Unit: Money, Rollup: Sum,
			Formula: "Amounts of the changes that are asked for and not decided, at the plan rate of the month they begin in.",
			Source:  "changes", base: requested, explain: explainRequested},
		{Key: DaysRequested, text: "days_requested", Name: "Days requested", Unit: Days, Better: Lower, Rollup: Sum,
			Formula: "Effect on the finish of the changes that are asked for and not decided, in working days.",
			Source:  "changes", base: daysRequested, explain: explainDaysRequested},
		{Key: Commitments, text: "commitments", Name: "Open commitments", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "What is ordered and not invoiced, at the plan rate of the month it is due in.",
			Source:  "commitments", base: commitments, explain: rowsOf((*Evidence).OfCommitments)},
		{Key: CommittedShare, text: "committed_share", Name: "Committed share", Unit: Share, Rollup: Derived,
			Formula: "Actual cost and open commitments divided by budget at completion.",
			Source:  "measures", Inputs: []Key{AC, Commitments, BAC}, derive: committedShare},
		{Key: ACAtPlan, text: "ac_at_plan", Name: "Actual cost at plan rates", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Postings dated up to the as-of date, each converted at the plan rate of its month.",
			Source:  "actuals", base: actualAtPlan, explain: explainAtPlan},
		{Key: RateVariance, text: "rate_variance", Name: "Variance by exchange rates", Unit: Money, Better: Higher, Rollup: Derived,
			Formula: "Actual cost at plan rates minus actual cost: what exchange rates have added or spared.",
			Source:  "measures", Inputs: []Key{ACAtPlan, AC}, derive: difference},
		{Key: VolumeVariance, text: "volume_variance", Name: "Variance by volume", Unit: Money, Better: Higher, Rollup: Derived,
			Formula: "Variance at completion minus the variance by exchange rates: what would be left at plan rates.",
			Source:  "measures", Inputs: []Key{VAC, RateVariance}, derive: difference},
		{Key: Contingency, text: "contingency", Name: "Contingency, as agreed", Unit: Money, Rollup: Sum,
			Formula: "Original budget on the cost codes that hold contingency.",
			Source:  "budget and cost codes", base: reserve(func(r cost.Reserve) money.Amount { return r.Original },
				func(g *cost.Gap) bool { return !g.Changed }, nil), explain: explainReserve},
		{Key: ContingencyDrawn, text: "contingency_drawn", Name: "Contingency drawn", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "What approved changes took off the cost codes that hold contingency.",
			Source:  "budget and cost codes", base: reserve(func(r cost.Reserve) money.Amount { return r.Drawn },
				func(g *cost.Gap) bool { return g.Changed }, nil), explain: explainDrawn},
		{Key: ContingencyLeft, text: "contingency_left", Name: "Contingency left", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "Contingency as agreed, without what was drawn or posted on its cost codes.",
			Source:  "budget, actuals and cost codes", base: reserve(cost.Reserve.Left, everyGap, everyGap), explain: explainLeft},
		{Key: BACCapital, text: "bac_capital", Name: "Budget, capital", Unit: Money, Rollup: Sum,
			Formula: "Budget at completion on cost codes of capital expenditure.", Source: "budget and cost codes",
			base: ofClass(BAC, capital, cost.Figures.Budget), explain: explainClass(BAC, capital)},
		{Key: BACOperating, text: "bac_operating", Name: "Budget, operating", Unit: Money, Rollup: Sum,
			Formula: "Budget at completion on cost codes of operating expenditure.", Source: "budget and cost codes",
			base: ofClass(BAC, operating, cost.Figures.Budget), explain: explainClass(BAC, operating)},
		{Key: ACCapital, text: "ac_capital", Name: "Actual cost, capital", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Actual cost on cost codes of capital expenditure.", Source: "actuals and cost codes",
			base: ofClass(AC, capital, actualOf), explain: explainClass(AC, capital)},
		{Key: ACOperating, text: "ac_operating", Name: "Actual cost, operating", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Actual cost on cost codes of operating expenditure.", Source: "actuals and cost codes",
			base: ofClass(AC, operating, actualOf), explain: explainClass(AC, operating)},
		{Key: EACCapital, text: "eac_capital", Name: "Estimate at completion, capital", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Actual cost and forecast to go on cost codes of capital expenditure.", Source: "actuals, forecast and cost codes",
			base: ofClass(EAC, capital, estimateOf), explain: explainClass(EAC, capital)},
		{Key: EACOperating, text: "eac_operating", Name: "Estimate at completion, operating", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Actual cost and forecast to go on cost codes of operating expenditure.", Source: "actuals, forecast and cost codes",
			base: ofClass(EAC, operating, estimateOf), explain: explainClass(EAC, operating)},
		{Key: RunRate, text: "run_rate", Name: "Run-rate", Unit: Money, Rollup: Sum,
			Formula: fmt.Sprintf("Mean monthly actual cost of the last %d whole months.", cost.RunMonths),
			Source:  "actuals", base: runRate, explain: explainRun},
		{Key: BudgetOut, text: "budget_out", Name: "Budget runs out", Unit: Day, Better: Higher, Rollup: Pooled,
			Formula: "End of the month in which what remains of the budget after the as-of date is spent at the run-rate; where it is " +
				"overspent, of the month in which the cost so far passed it.",
			Source: "measures", Inputs: []Key{BAC, AC, RunRate}, needs: []Key{BAC, AC, RunRate},
			base: func(p *Project) Value { return budgetOut([]*Project{p}, p.env) }, group: budgetOut},
		{Key: YearBudget, text: "year_budget", Name: "Budget of the year", Unit: Money, Rollup: Sum,
			Formula: "Budget of the months of the budget year that the as-of date falls into.",
			Source:  "budget", base: ofYear(cost.InBudget, "no budget", budgetLines, func(y cost.Year) money.Amount { return y.Budget }),
			explain: explainYear(BAC)},
		{Key: YearActual, text: "year_actual", Name: "Actual cost of the year", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Postings of the budget year up to the as-of date.",
			Source:  "actuals", base: ofYear(cost.InActual, "", nil, func(y cost.Year) money.Amount { return y.Actual }),
			explain: explainYear(AC)},
		{Key: YearToGo, text: "year_to_go", Name: "Forecast for the rest of the year", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Forecast after the as-of date in the months left of the budget year.",
			Source:  "forecast", base: yearToGo, explain: explainYear(ForecastToGo)},
		{Key: YearOutlook, text: "year_outlook", Name: "Outlook of the year", Unit: Money, Better: Lower, Rollup: Derived,
			Formula: "Actual cost of the year plus the forecast for the rest of it.",
			Source:  "measures", Inputs: []Key{YearActual, YearToGo}, derive: sumOf},
		{Key: CarryOver, text: "carry_over", Name: "Carry-over", Unit: Money, Rollup: Derived,
			Formula: "Budget of the year minus its outlook: what the year is not expected to use; negative is drawn from other years.",
			Source:  "measures", Inputs: []Key{YearBudget, YearOutlook}, derive: difference},
		{Key: LabourHours, text: "labour_hours", Name: "Hours booked", Unit: Hours, Rollup: Sum,
			Formula: "Hours of timesheets dated up to the as-of date.",
			Source:  "timesheets", base: labourHours, explain: rowsOf((*Evidence).OfHours)},
		{Key: HoursPlanned, text: "hours_planned", Name: "Hours planned to date", Unit: Hours, Rollup: Sum,
			Formula: "What assignments want up to the as-of date: percent of the hours of each working day, staffed or not.",
			Source:  "assignments", base: staffHours(past), explain: explainShares(past)},
		{Key: HoursToGo, text: "hours_to_go", Name: "Hours planned to go", Unit: Hours, Rollup: Sum,
			Formula: "What assignments want after the as-of date, staffed or not.",
			Source:  "assignments", base: staffHours(ahead), explain: explainShares(ahead)},
		{Key: HoursActual, text: "hours_actual", Name: "Hours worked", Unit: Hours, Rollup: Sum,
			Formula: "Hours of timesheets dated up to the as-of date, to be held against the hours planned.",
			Source:  "timesheets", base: labourHours, explain: rowsOf((*Evidence).OfHours)},
		{Key: LabourCost, text: "labour_cost", Name: "Labour at hourly rates", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Hours times the rate in force on the day, of the person, else the role, else the cost code. It is part of actual " +
				"cost only where the project's labour is known from timesheets.",
			Source: "timesheets and hourly rates", base: labour(cost.InLabour, func(l cost.Labour) money.Amount { return l.Cost }),
			explain: rowsOf(func(ev *Evidence) []Node { return ev.OfLabour(false) })},
		{Key: BillableValue, text: "billable_value", Name: "Billable hours, value", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "Billable hours times the billing rate in force on the day.",
			Source:  "timesheets and hourly rates", base: labour(cost.InBilling, func(l cost.Labour) money.Amount { return l.Billable }),
			explain: rowsOf(func(ev *Evidence) []Node { return ev.OfLabour(true) })},
		{Key: Revenue, text: "revenue", Name: "Revenue planned", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "What is to be billed in all, each line at the plan rate of its month.",
			Source:  "revenue", base: earnings(cost.InRevenue, func(e cost.Earnings) money.Amount { return e.Planned }),
			explain: rowsOf((*Evidence).OfBillings)},
		{Key: Billed, text: "billed", Name: "Revenue billed", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "What was billed by the as-of date, each bill at the rate of its month.",
			Source:  "revenue", base: earnings(cost.InBilled, func(e cost.Earnings) money.Amount { return e.Billed }),
			explain: rowsOf((*Evidence).OfBilled)},
		{Key: RevenueRemaining, text: "revenue_remaining", Name: "Revenue remaining", Unit: Money, Rollup: Derived,
			Formula: "Revenue planned minus revenue billed.",
			Source:  "measures", Inputs: []Key{Revenue, Billed}, derive: difference},
		{Key: Margin, text: "margin", Name: "Margin", Unit: Share, Better: Higher, Rollup: Derived,
			Formula: "Revenue planned minus estimate at completion, divided by revenue planned.",
			Source:  "measures", Inputs: []Key{Revenue, EAC}, derive: margin("revenue planned")},
		{Key: MarginPlanned, text: "margin_planned", Name: "Margin by budget", Unit: Share, Better: Higher, Rollup: Derived,
			Formula: "Revenue planned minus budget at completion, divided by revenue planned.",
			Source:  "measures", Inputs: []Key{Revenue, BAC}, derive: margin("revenue planned")},
		{Key: MarginToDate, text: "margin_to_date", Name: "Margin to date", Unit: Share, Better: Higher, Rollup: Derived,
			Formula: "Revenue billed minus actual cost, divided by revenue billed.",
			Source:  "measures", Inputs: []Key{Billed, AC}, derive: margin("revenue billed")},
		{Key: Granted, text: "granted", Name: "Funding granted", Unit: Money, Rollup: Sum,
			Formula: "What those who pay have agreed to, at the plan rate of the as-of month.",
			Source:  "funding", base: funds(func(f cost.Funds) money.Amount { return f.Granted }),
			explain: rowsOf(func(ev *Evidence) []Node { return ev.OfShares(func(s cost.Share) money.Amount { return s.Granted }) })},
		{Key: Received, text: "received", Name: "Funding received", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "What has come from those who pay, at the plan rate of the as-of month.",
			Source:  "funding", base: funds(func(f cost.Funds) money.Amount { return f.Received }),
			explain: rowsOf(func(ev *Evidence) []Node { return ev.OfShares(func(s cost.Share) money.Amount { return s.Received }) })},
		{Key: FundingAhead, text: "funding_ahead", Name: "Funding ahead of cost", Unit: Money, Rollup: Derived,
			Formula: "Funding received minus actual cost: positive is drawn too early, negative is still to be drawn.",
			Source:  "measures", Inputs: []Key{Received, AC}, derive: difference},
	}
}

// originalBudget needs the rates of lines without a change alone.
func originalBudget(p *Project) Value {
	return p.amountOf(cost.InBudget, p.Account.Lines, "no budget", p.Account.Original, func(g *cost.Gap) bool { return !g.Changed })
}

// approvedChanges needs the rates of lines of changes alone.
func approvedChanges(p *Project) Value {
	return p.amountOf(cost.InBudget, p.Account.Lines, "no budget", p.Account.Figures.Changes, func(g *cost.Gap) bool { return g.Changed })
}

// requested is 0 where the register has changes and none is asked for, undefined where there is no register.
func requested(p *Project) Value {
	if len(p.Changes) == 0 {
		return unknown("no register of changes")
	}
	return p.fromAccount(cost.InChanges, 1, "", p.Account.Asked.Amount)
}

// daysRequested adds working days as they were asked for; they may be negative.
func daysRequested(p *Project) Value {
	if len(p.Changes) == 0 {
		return unknown("no register of changes")
	}
	return known(p.Account.Asked.Days)
}

// commitments is undefined where none were sent: that differs from an order book of 0.
func commitments(p *Project) Value {
	v := p.fromAccount(cost.InCommitments, 1, "", p.Account.Committed)
	if v.Known && p.Account.Commitments == 0 {
		return unknown("no commitments sent")
	}
	return v
}

// committedShare is of its inputs actual cost, commitments and budget.
func committedShare(_ Env, in []Value) Value {
	if in[2].N == 0 {
		return unknown("budget at completion is zero")
	}
	return quotient(in[0].N+in[1].N, in[2].N)
}

// actualAtPlan needs a plan rate for every posting.
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

// everyGap picks all that is missing.
func everyGap(*cost.Gap) bool { return true }

// actualOf is actual cost among some figures.
func actualOf(f cost.Figures) money.Amount { return f.Actual }

// estimateOf is actual cost and forecast to go among some figures.
func estimateOf(f cost.Figures) money.Amount { return f.Actual + f.ForecastToGo }

// ofClass is the part of a measure that falls on one class of cost codes. It needs what the whole needs, of those codes.
func ofClass(whole Key, c cost.Class, pick func(cost.Figures) money.Amount) func(*Project) Value {
	return func(p *Project) Value {
		of := func(g *cost.Gap) bool { return g.Class == c }
		a := pick(p.Account.ByClass[c])
		switch whole {
		case BAC:
			return p.amountOf(cost.InBudget, p.Account.Lines, "no budget", a, of)
		case AC:
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

// runRate needs the rates of its three months alone.
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
			key Key
			to  *money.Amount
		}{{BAC, &budget}, {AC, &spent}, {RunRate, &rate}} {
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

// budgetLines is how many lines the budget has.
func budgetLines(a *cost.Account) int { return a.Lines }

// ofYear is a figure of the budget year that the as-of date falls into; it needs the rates of that year's months alone.
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

// yearToGo needs the rates of the months left of the year alone.
func yearToGo(p *Project) Value {
	if p.closedWithout() {
		return forecastToGo(p)
	}
	in := between(0, p.env.YearBegins(p.env.AsOf)+11)
	return p.amountOf(cost.InForecast, p.Account.ForecastLines, "no forecast", p.year().ToGo,
		func(g *cost.Gap) bool { return g.Ahead && in(g) })
}

// labourHours are ten-thousandths of an hour, and may be below 0 where corrections outweigh.
func labourHours(p *Project) Value {
	if p.Account.Labour.Rows == 0 {
		return unknown("no timesheets")
	}
	return known(p.Account.Labour.Hours)
}

// labour is a value of the hours booked; a missing hourly rate makes it undefined and leaves the other one known.
func labour(input int, pick func(cost.Labour) money.Amount) func(*Project) Value {
	return func(p *Project) Value {
		return p.fromAccount(input, p.Account.Labour.Rows, "no timesheets", pick(p.Account.Labour))
	}
}

// earnings is an amount of the revenue, undefined where none was sent.
func earnings(input int, pick func(cost.Earnings) money.Amount) func(*Project) Value {
	return func(p *Project) Value {
		return p.fromAccount(input, p.Account.Earnings.Lines, "no revenue", pick(p.Account.Earnings))
	}
}

// margin is of its inputs revenue and cost; name is what must not be zero.
func margin(name string) func(Env, []Value) Value {
	return func(_ Env, in []Value) Value {
		if in[0].N == 0 {
			return unknown(name + " is zero")
		}
		return quotient(in[0].N-in[1].N, in[0].N)
	}
}

// funds is an amount of what funders agreed to, undefined where none were sent.
func funds(pick func(cost.Funds) money.Amount) func(*Project) Value {
	return func(p *Project) Value {
		return p.fromAccount(cost.InFunding, p.Account.Funds.Rows, "no funding sent", pick(p.Account.Funds))
	}
}
