package measure

import (
	"math/big"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Past is how a project stood when an earlier period was closed. Figures are as they were when the period was closed, whatever was
// corrected since.
type Past struct {
	Period calendar.Period
	Values []Value // in the order of PastKeys

	SameForecast bool // its forecast was the present one, in the months that both hold
}

var pastKeys = []Key{BAC, EAC, EV, AC, CPI, WorkDone, PercentComplete, ForecastTotal, BaselineFinish,
	ExpectedFinish, OverallHealth, EarnedSchedule, ActualTime}

// PastKeys are the measures that later figures and checks look back at.
func PastKeys() []Key { return pastKeys }

// Value is the figure of one of PastKeys; undefined for another.
func (x *Past) Value(key Key) Value {
	if i := slices.Index(pastKeys, key); i >= 0 && i < len(x.Values) {
		return x.Values[i]
	}
	return unknown("not kept of closed periods")
}

// recentPeriods is how many periods recent performance is measured over.
const recentPeriods = 3

// recentDefinitions are the measures that look back at closed periods.
func recentDefinitions() []Definition {
	return []Definition{
		{Key: EVRecent, text: "ev_recent", Name: "Earned in the last three periods", Unit: Money, Better: Higher, Rollup: Sum,
			Formula: "Earned value minus that of the period closed three before.", Source: "closed periods", base: recent(EV),
			explain: explainRecent(EV)},
		{Key: ACRecent, text: "ac_recent", Name: "Spent in the last three periods", Unit: Money, Better: Lower, Rollup: Sum,
			Formula: "Actual cost minus that of the period closed three before.", Source: "closed periods", base: recent(AC),
			explain: explainRecent(AC)},
		{Key: CPIRecent, text: "cpi_recent", Name: "Cost index, last three periods", Unit: Index, Better: Higher, Rollup: Derived,
			Formula: "Earned in the last three periods divided by spent in them.", Source: "measures",
			Inputs: []Key{EVRecent, ACRecent}, derive: ratio("cost of the last three periods")},
		{Key: EACByRecent, text: "eac_recent", Name: "Estimate by the recent index", Unit: Money, Better: Lower, Rollup: Derived,
			Formula: "Actual cost plus the budget of the work left divided by the cost index of the last three periods.",
			Source:  "measures", Inputs: []Key{AC, BAC, EV, EVRecent, ACRecent}, derive: atRecent},
		{Key: ETCGap, text: "etc_gap", Name: "Declared against recent", Unit: Money, Better: Higher, Rollup: Derived,
			Formula: "Declared estimate minus the estimate by the recent index; negative is more hopeful than the last three periods.",
			Source:  "measures", Inputs: []Key{EACDeclared, AC, BAC, EV, EVRecent, ACRecent}, derive: declaredGap},
		{Key: TCPIGap, text: "tcpi_gap", Name: "Asked beyond the cost index", Unit: Index, Better: Lower, Rollup: Derived,
			Formula: "To-complete index at the estimate minus the cost index: how much better the rest must go.",
			Source:  "measures", Inputs: []Key{EAC, BAC, AC, EV}, derive: askedGap},
	}
}

// at is the closed period n before the as-of date; nil where there is none.
func (p *Project) at(n calendar.Period) *Past {
	want := p.env.Period() - n
	i := slices.IndexFunc(p.Past, func(x Past) bool { return x.Period == want })
	if i < 0 {
		return nil
	}
	return &p.Past[i]
}

// recent is what a figure gained since the period three before was closed; without that period it is undefined.
func recent(key Key) func(*Project) Value {
	return func(p *Project) Value {
		now := p.Value(key)
		if !now.Known {
			return now
		}
		past := p.at(recentPeriods)
		if past == nil {
			return unknown("no period was closed three periods before")
		}
		if was := past.Value(key); was.Known {
			return known(now.N - was.N)
		}
		return unknown("not known in " + past.Period.Name())
	}
}

// explainRecent traces the figure now and as it was closed three periods before.
func explainRecent(key Key) func(*Project, *Evidence) []Node {
	return func(p *Project, ev *Evidence) []Node {
		n, _ := Explain(p, ev, key)
		list := []Node{n}
		if past := p.at(recentPeriods); past != nil {
			list = append(list, Node{Label: n.Label + " of " + past.Period.Name() + ", as closed", Unit: Money, Value: past.Value(key)})
		}
		return list
	}
}

// atRecent is of its inputs actual cost, budget, earned value, and what was earned and spent in three periods; rounded half to even once.
func atRecent(_ Env, in []Value) Value {
	left, earned, spent := in[1].N-in[2].N, in[3].N, in[4].N
	switch {
	case spent == 0:
		return unknown("cost of the last three periods is zero")
	case earned == 0:
		return unknown("nothing was earned in the last three periods")
	}
	return amount(in[0].Amount() + money.MulDiv(money.Amount(left), spent, earned))
}

// declaredGap is the declared estimate minus that by the recent index, of its inputs in the order of etc_gap.
func declaredGap(env Env, in []Value) Value {
	by := atRecent(env, in[1:])
	if !by.Known {
		return by
	}
	return known(in[0].N - by.N)
}

// askedGap is the to-complete index at the estimate minus the cost index.
func askedGap(env Env, in []Value) Value {
	asked := toComplete("the estimate")(env, in)
	if !asked.Known {
		return asked
	}
	so := ratio("actual cost")(env, []Value{in[3], in[2]})
	if !so.Known {
		return so
	}
	return rational(new(big.Rat).Sub(asked.Exact.Rat(), so.Exact.Rat()))
}
