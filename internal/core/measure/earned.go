package measure

import (
	"cmp"
	"errors"
	"fmt"
	"math/big"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/earned"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
)

// earnedOff is the reason of figures of a project whose earned value is switched off.
const earnedOff = "earned value is switched off for the project"

// earnedDefinitions are the measures of earned value. They come after bac, budget to date and actual cost, and before the estimate.
func earnedDefinitions() []Definition {
	return []Definition{
		{Key: PV, text: "pv", Name: "Planned value", Unit: Money, Rollup: Sum,
			Formula: "Budget of the months up to the as-of date, where earned value is on.",
			Source:  "budget", base: plannedValue, explain: explainBudgetToDate},
		{Key: EV, text: "ev", Name: "Earned value", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "Each activity's share of the budget, by weight or baseline duration, times what its method credits; without " +
				"such activities the budget times the accepted share of the backlog, else the reported percent.",
			Source: "activities and budget", base: earnedValue, explain: explainEarned},
		{Key: WorkDone, text: "work_done", Name: "Work done, value", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "Earned value; where it is switched off, the budget times the accepted share of the backlog, else the reported " +
				"percent complete.",
			Source: "activities, budget and status", base: workDone, explain: explainWork},
		{Key: CV, text: "cv", Name: "Cost variance", Unit: Money, Better: Higher, Rollup: Derived,
			Formula: "Earned value minus actual cost; negative is dearer than planned.",
			Source:  "measures", Inputs: []Key{EV, AC}, derive: difference},
		{Key: SV, text: "sv", Name: "Schedule variance", Unit: Money, Better: Higher, Rollup: Derived,
			Formula: "Earned value minus planned value; negative is behind.",
			Source:  "measures", Inputs: []Key{EV, PV}, derive: difference},
		{Key: CPI, text: "cpi", Name: "Cost performance index", Unit: Index, Better: Higher, Rollup: Derived,
			Formula: "Earned value divided by actual cost.",
			Source:  "measures", Inputs: []Key{EV, AC}, derive: ratio("actual cost")},
		{Key: SPI, text: "spi", Name: "Schedule performance index", Unit: Index, Better: Higher, Rollup: Derived,
			Formula: "Earned value divided by planned value.",
			Source:  "measures", Inputs: []Key{EV, PV}, derive: ratio("planned value")},
		{Key: PercentComplete, text: "percent_complete", Name: "Percent complete", Unit: Share, Better: Higher, Rollup: Derived,
			Formula: "Value of the work done divided by budget at completion.",
			Source:  "measures", Inputs: []Key{WorkDone, BAC}, derive: ratio("budget at completion")},
		{Key: PercentPlanned, text: "percent_planned", Name: "Percent planned", Unit: Share, Rollup: Derived,
			Formula: "Planned value divided by budget at completion.",
			Source:  "measures", Inputs: []Key{PV, BAC}, derive: ratio("budget at completion")},
		{Key: EACByCPI, text: "eac_cpi", Name: "Estimate by the cost index", Unit: Money, Better: Lower, Rollup: Derived,
			Formula: "Budget at completion divided by the cost performance index: the rest costs what the work so far did.",
			Source:  "measures", Inputs: []Key{BAC, AC, EV}, derive: atIndex},
		{Key: EACAtBudgetRate, text: "eac_budget_rate", Name: "Estimate at the budgeted rate", Unit: Money, Better: Lower, Rollup: Derived,
			Formula: "Actual cost plus the budget of the work left: the rest costs what it was budgeted to.",
			Source:  "measures", Inputs: []Key{AC, BAC, EV}, derive: atBudget},
		{Key: EACByCPIAndSPI, text: "eac_cpi_spi", Name: "Estimate by both indices", Unit: Money, Better: Lower, Rollup: Derived,
			Formula: "Actual cost plus the budget of the work left divided by cost index times schedule index.",
			Source:  "measures", Inputs: []Key{BAC, AC, EV, PV}, derive: atBoth},
		{Key: EarnedSchedule, text: "es", Name: "Earned schedule", Unit: Index, Better: Higher, Rollup: Months,
			Formula: "Months of the plan that the earned value reaches, from the first budgeted one on; the last in proportion (Lipke " +
				"2003).",
			Source: "budget and activities", base: timing(esOf), group: timings(esOf), needs: []Key{EV}, explain: explainTiming},
		{Key: ActualTime, text: "at", Name: "Actual time", Unit: Index, Rollup: Months,
			Formula: "Months passed since the first budgeted one began, the last in proportion to working days; of finished work up " +
				"to its finish.",
			Source: "budget", base: timing(atOf), group: timings(atOf), needs: []Key{EV}, explain: explainTiming},
		{Key: SVInTime, text: "sv_t", Name: "Schedule variance in time", Unit: Index, Better: Higher, Rollup: Derived,
			Formula: "Earned schedule minus actual time, in months; negative is behind.",
			Source:  "measures", Inputs: []Key{EarnedSchedule, ActualTime}, derive: timeVariance},
		{Key: SPIInTime, text: "spi_t", Name: "Schedule index in time", Unit: Index, Better: Higher, Rollup: Derived,
			Formula: "Earned schedule divided by actual time.",
			Source:  "measures", Inputs: []Key{EarnedSchedule, ActualTime}, derive: timeIndex},
		{Key: FinishByES, text: "finish_es", Name: "Finish by earned schedule", Unit: Day, Better: Lower, Rollup: Months,
			Formula: "The planned months divided by the schedule index in time, counted from the first budgeted one.",
			Source:  "budget and activities", base: timing(finishOf), group: timings(finishOf), needs: []Key{EV},
			explain: explainTiming},
	}
}

// esOf is earned schedule in periods.
func esOf(t earned.Timing) Value { return rational(t.Earned) }

// atOf is the time that has passed in periods.
func atOf(t earned.Timing) Value { return rational(t.Passed) }

// finishOf is undefined before the first budgeted month, and while nothing is earned.
func finishOf(t earned.Timing) Value {
	if t.Passed.Sign() == 0 {
		return unknown(noTime)
	}
	return dateOr(t.Finish, "nothing is earned yet")
}

// noTime is the reason of an index of time before the first budgeted month.
const noTime = "the first budgeted month has not begun"

// timeVariance is in periods, exactly.
func timeVariance(_ Env, in []Value) Value {
	return rational(new(big.Rat).Sub(in[0].Fraction().Rat(), in[1].Fraction().Rat()))
}

// timeIndex is undefined while no time has passed.
func timeIndex(_ Env, in []Value) Value {
	at := in[1].Fraction().Rat()
	if at.Sign() == 0 {
		return unknown(noTime)
	}
	return rational(at.Quo(in[0].Fraction().Rat(), at))
}

// atBudget is of its inputs actual cost, budget and earned value.
func atBudget(_ Env, in []Value) Value { return known(in[0].N + in[1].N - in[2].N) }

// atBoth is of its inputs budget, actual cost, earned value and planned value; it says which of them is zero.
func atBoth(_ Env, in []Value) Value {
	e, ok := earned.AtBothIndices(in[0].Amount(), in[1].Amount(), in[2].Amount(), in[3].Amount())
	switch {
	case !ok && in[1].N != 0 && in[2].N != 0 && in[3].N == 0:
		return unknown("planned value is zero")
	case !ok:
		return unknown(noIndex(in[1], in[2]))
	}
	return amount(e)
}

// toComplete is the index at which the work left would have to cost to end at a total.
func toComplete(name string) func(Env, []Value) Value {
	return func(_ Env, in []Value) Value {
		left := in[0].N - in[2].N
		if left == 0 {
			return unknown(name + " is spent")
		}
		return quotient(in[1].N-in[3].N, left)
	}
}

// finished is the day on which the project's last activity ended, 0 while one is open.
func (p *Project) finished() calendar.Date { return p.end }

// FinishedOn is the day on which the last of some activities ended, those that were cancelled left out; 0 while one is open at the end of
// asOf, and where none is left.
func FinishedOn(activities []schedule.Activity, asOf calendar.Date) calendar.Date {
	var last calendar.Date
	for i := range activities {
		a := &activities[i]
		if a.Kind == schedule.Summary || a.Withdrawn() {
			continue
		}
		if a.ActualFinish == 0 || a.ActualFinish > asOf {
			return 0
		}
		last = max(last, a.ActualFinish)
	}
	return last
}

// timing is the earned schedule of a project, up to its finish where it has ended.
func (p *Project) timing() (earned.Timing, Value) {
	ev := p.Value(EV)
	if !ev.Known {
		return earned.Timing{}, ev
	}
	end := cmp.Or(p.finished(), p.env.AsOf)
	t, ok := earned.Schedule(p.Account.First, p.Account.BudgetBy, ev.Amount(), end, p.env.Calendar)
	if !ok {
		return t, unknown("no month has a budget")
	}
	return t, known(0)
}

// timing reads one figure off earned schedule.
func timing(pick func(earned.Timing) Value) func(*Project) Value {
	return func(p *Project) Value {
		t, v := p.timing()
		if !v.Known {
			return v
		}
		return pick(t)
	}
}

// timings reads earned schedule off the months of several projects added up. Where all are finished, time stops at the latest finish.
func timings(pick func(earned.Timing) Value) func([]*Project, Env) Value {
	return func(projects []*Project, env Env) Value {
		first, budget := byMonth(projects, func(a *cost.Account) []money.Amount { return a.BudgetBy })
		var value money.Amount
		var last calendar.Date
		open := false
		for _, p := range projects {
			value += p.Value(EV).Amount()
			done := p.finished()
			last, open = max(last, done), open || done == 0
		}
		end := env.AsOf
		if !open {
			end = last
		}
		t, ok := earned.Schedule(first, budget, value, end, env.Calendar)
		if !ok {
			return unknown("no month has a budget")
		}
		return pick(t)
	}
}

// explainTiming traces the plan added up by month, and what is earned.
func explainTiming(p *Project, ev *Evidence) []Node {
	var list []Node
	var sum int64
	for i, a := range p.Account.BudgetBy {
		sum += int64(a)
		list = append(list, Node{Label: (p.Account.First + calendar.Month(i)).Name() + ", planned value added up", Unit: Money,
			Value: known(sum)})
	}
	n, _ := Explain(p, ev, EV)
	return []Node{n, {Label: "The plan by month", Unit: Money, Value: known(sum), Children: list}}
}

// completionDefinitions come after the estimate.
func completionDefinitions() []Definition {
	return []Definition{
		{Key: TCPIToBAC, text: "tcpi_bac", Name: "To-complete index, budget", Unit: Index, Better: Lower, Rollup: Derived,
			Formula: "Budget of the work left divided by the budget left: how well the rest must go to end within the budget.",
			Source:  "measures", Inputs: []Key{BAC, BAC, AC, EV}, derive: toComplete("the budget")},
		{Key: TCPIToEAC, text: "tcpi_eac", Name: "To-complete index, estimate", Unit: Index, Better: Lower, Rollup: Derived,
			Formula: "Budget of the work left divided by the estimate left: how well the rest must go to end at the estimate.",
			Source:  "measures", Inputs: []Key{EAC, BAC, AC, EV}, derive: toComplete("the estimate")},
	}
}

// plannedValue is the budget to date where earned value is on.
func plannedValue(p *Project) Value {
	if !p.EarnedValue {
		return unknown(earnedOff)
	}
	return budgetToDate(p)
}

// reportedPercent is in hundredths of a percent; missing where the lead told none.
func reportedPercent(p *Project) fact.Int {
	if p.Declared == nil {
		return fact.Int{}
	}
	return p.Declared.Percent
}

// Earn weighs a project's progress; the budget must be known.
func (p *Project) Earn() (earned.Result, error) {
	return earned.Value(p.progress(p.Activities), p.Account.Budget(), p.env.AsOf, p.env.Calendar)
}

// progress is what tells how far the project is.
func (p *Project) progress(activities []schedule.Activity) earned.Progress {
	x := earned.Progress{Activities: activities, Reported: reportedPercent(p)}
	if len(p.Items) > 0 {
		s := p.BacklogProgress()
		x.Points = &earned.Counted{Done: s.Accepted, All: s.Total}
	}
	return x
}

// earnedValue needs the whole budget, since shares of it are earned.
func earnedValue(p *Project) Value {
	if !p.EarnedValue {
		return unknown(earnedOff)
	}
	if v := bac(p); !v.Known {
		return v
	}
	r, err := p.Earn()
	if err != nil {
		return unknown(err.Error())
	}
	return amount(r.Value)
}

// workDone is earned value, or where that is off what backlog or reported percent make of the budget.
func workDone(p *Project) Value {
	if p.EarnedValue {
		return earnedValue(p)
	}
	v := bac(p)
	if !v.Known {
		return v
	}
	r, err := earned.Value(p.progress(nil), v.Amount(), p.env.AsOf, p.env.Calendar)
	switch {
	case errors.Is(err, earned.ErrNoBasis):
		return unknown("no reported percent complete")
	case err != nil:
		return unknown(err.Error())
	}
	return amount(r.Value)
}

// atIndex is of its inputs budget, actual cost and earned value.
func atIndex(_ Env, in []Value) Value {
	e, ok := earned.AtIndex(in[0].Amount(), in[1].Amount(), in[2].Amount())
	if !ok {
		return unknown(noIndex(in[1], in[2]))
	}
	return amount(e)
}

// noIndex says why there is no cost index to go by.
func noIndex(cost, value Value) string {
	if cost.N == 0 {
		return "actual cost is zero"
	}
	return "nothing is earned yet"
}

// explainWork traces what the work done is valued by.
func explainWork(p *Project, ev *Evidence) []Node {
	if p.EarnedValue {
		return explainEarned(p, ev)
	}
	return explainReported(p)
}

// explainReported traces the value of a project that no activity tells of: by its backlog, else by the percent its lead reported.
func explainReported(p *Project) []Node {
	if len(p.Items) > 0 {
		s := p.BacklogProgress()
		return []Node{{Label: fmt.Sprintf("%s of %s points of the backlog are accepted", money.Plain(s.Accepted, 4),
			money.Plain(s.Total, 4)), Unit: Money, Value: workDone(p),
			Children: explainItems(accepted)(p, nil)}}
	}
	if p.Declared == nil {
		return nil
	}
	return []Node{{Label: "Percent complete as reported: " + write.Percent(float64(p.Declared.Percent.N)/earned.Full, 1), Unit: Money,
		Value: workDone(p), Ref: p.Declared.Ref}}
}

// explainEarned traces each activity's share of the budget and what of it is credited, by what method.
func explainEarned(p *Project, ev *Evidence) []Node {
	r, err := p.Earn()
	if err != nil || len(r.Parts) == 0 {
		return explainReported(p)
	}
	var list []Node
	for _, x := range r.Parts {
		a := &p.Activities[x.Activity]
		basis := write.Days(x.Weight) + " of its baseline"
		if r.Weighted {
			basis = "weight " + money.Decimal(x.Weight, 4)
		}
		method := a.Method
		if method == "" {
			method = "percent"
		}
		list = append(list, Node{Label: a.Code + " " + a.Name, Unit: Money, Value: amount(x.Earned), Ref: a.Ref,
			Detail: fmt.Sprintf("%s of its %s by %s; %s", write.Percent(x.Credit.Share(), 1), x.Budget.Human(ev.Env.Currency), method,
				basis)})
	}
	return list
}
