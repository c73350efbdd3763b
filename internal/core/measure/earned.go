package measure

import (
	"fmt"

	"turret/internal/core/earned"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
)

// earnedOff is the reason of figures of a project whose earned value is switched off.
const earnedOff = "earned value is switched off for the project"

// earnedDefinitions are the measures of earned value. They come after bac, budget to date and actual cost, and before the estimate.
func earnedDefinitions() []Definition {
	return []Definition{
		{Key: "pv", Name: "Planned value", Unit: Money, Rollup: Sum,
			Formula: "Budget of the months up to the as-of date, where earned value is on.",
			Source:  "budget", base: plannedValue, explain: explainBudgetToDate},
		{Key: "ev", Name: "Earned value", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "Each activity's share of the budget, by weight or baseline duration, times what its method credits; without activities the budget times the reported percent.",
			Source:  "activities and budget", base: earnedValue, explain: explainEarned},
		{Key: "work_done", Name: "Work done, value", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "Earned value; where it is switched off, the budget times the reported percent complete.",
			Source:  "activities, budget and status", base: workDone, explain: explainWork},
		{Key: "cv", Name: "Cost variance", Unit: Money, Better: Higher, Rollup: Derived,
			Formula: "Earned value minus actual cost; negative is dearer than planned.",
			Source:  "measures", Inputs: []string{"ev", "ac"}, derive: difference},
		{Key: "sv", Name: "Schedule variance", Unit: Money, Better: Higher, Rollup: Derived,
			Formula: "Earned value minus planned value; negative is behind.",
			Source:  "measures", Inputs: []string{"ev", "pv"}, derive: difference},
		{Key: "cpi", Name: "Cost performance index", Unit: Index, Better: Higher, Rollup: Derived,
			Formula: "Earned value divided by actual cost.",
			Source:  "measures", Inputs: []string{"ev", "ac"}, derive: ratio("actual cost")},
		{Key: "spi", Name: "Schedule performance index", Unit: Index, Better: Higher, Rollup: Derived,
			Formula: "Earned value divided by planned value.",
			Source:  "measures", Inputs: []string{"ev", "pv"}, derive: ratio("planned value")},
		{Key: "percent_complete", Name: "Percent complete", Unit: Share, Better: Higher, Rollup: Derived,
			Formula: "Value of the work done divided by budget at completion.",
			Source:  "measures", Inputs: []string{"work_done", "bac"}, derive: ratio("budget at completion")},
		{Key: "percent_planned", Name: "Percent planned", Unit: Share, Rollup: Derived,
			Formula: "Planned value divided by budget at completion.",
			Source:  "measures", Inputs: []string{"pv", "bac"}, derive: ratio("budget at completion")},
		{Key: "eac_cpi", Name: "Estimate by the cost index", Unit: Money, Better: Lower, Rollup: Derived,
			Formula: "Budget at completion divided by the cost performance index: the rest costs what the work so far did.",
			Source:  "measures", Inputs: []string{"bac", "ac", "ev"}, derive: atIndex},
	}
}

func plannedValue(p *Project) Value {
	if !p.EarnedValue {
		return unknown(earnedOff)
	}
	return budgetToDate(p)
}

func reportedPercent(p *Project) fact.Int {
	if p.Declared == nil {
		return fact.Int{}
	}
	return p.Declared.Percent
}

// earn weighs a project's progress; the budget must be known.
func (p *Project) earn(env Env) (earned.Result, error) {
	return earned.Value(p.Activities, p.Account.Budget(), reportedPercent(p), env.AsOf, env.Calendar)
}

func earnedValue(p *Project) Value {
	if !p.EarnedValue {
		return unknown(earnedOff)
	}
	if v := bac(p); !v.Known {
		return v
	}
	r, err := p.earn(p.env)
	if err != nil {
		return unknown(err.Error())
	}
	return amount(r.Value)
}

func workDone(p *Project) Value {
	if p.EarnedValue {
		return earnedValue(p)
	}
	v, reported := bac(p), reportedPercent(p)
	switch {
	case !v.Known:
		return v
	case !reported.Given:
		return unknown("no reported percent complete")
	}
	return amount(money.MulDiv(v.Amount(), reported.N, earned.Full))
}

func atIndex(_ Env, in []Value) Value {
	e, ok := earned.AtIndex(in[0].Amount(), in[1].Amount(), in[2].Amount())
	if !ok {
		return unknown("nothing is earned yet")
	}
	return amount(e)
}

func explainWork(p *Project, ev *Evidence) []Node {
	if p.EarnedValue {
		return explainEarned(p, ev)
	}
	return explainReported(p)
}

func explainReported(p *Project) []Node {
	if p.Declared == nil {
		return nil
	}
	return []Node{{Label: "Percent complete as reported: " + health.Percent(float64(p.Declared.Percent.N)/earned.Full), Unit: Money, Value: workDone(p), Ref: p.Declared.Ref}}
}

func explainEarned(p *Project, ev *Evidence) []Node {
	r, err := p.earn(ev.Env)
	if err != nil || len(r.Parts) == 0 {
		return explainReported(p)
	}
	var list []Node
	for _, x := range r.Parts {
		a := &p.Activities[x.Activity]
		basis := fmt.Sprintf("%d working days of its baseline", x.Weight)
		if r.Weighted {
			basis = "weight " + money.Decimal(x.Weight, 4)
		}
		method := a.Method
		if method == "" {
			method = "percent"
		}
		list = append(list, Node{Label: a.Code + " " + a.Name, Unit: Money, Value: amount(x.Earned), Ref: a.Ref,
			Detail: fmt.Sprintf("%s of its %s by %s; %s", health.Percent(float64(x.Percent)/earned.Full), x.Budget.Human(ev.Env.Currency), method, basis)})
	}
	return list
}
