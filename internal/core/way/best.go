package way

import (
	"math/big"

	"turret/internal/core/measure"
)

// noPast is the reason where fewer than two periods tell of something.
const noPast = "fewer than two periods tell of it"

// steps passes what a figure was in a closed period and in the one after it, the present one last.
func (x *finder) steps(key string, each func(was, is measure.Value)) {
	var was measure.Value
	for i := range x.p.Past {
		is := x.p.Past[i].Value(key)
		if was.Known && is.Known {
			each(was, is)
		}
		was = is
	}
	if is := x.p.Value(key); was.Known && is.Known {
		each(was, is)
	}
}

// most is the greatest of some changes of a figure from one period to the next, at least 0.
func (x *finder) most(key string, change func(was, is measure.Value) int64) measure.Value {
	best := measure.Value{Reason: noPast}
	x.steps(key, func(was, is measure.Value) {
		if n := max(0, change(was, is)); !best.Known || n > best.N {
			best = known(n)
		}
	})
	return best
}

// mostDays is the most working days by which the expected finish came nearer in one period.
func (x *finder) mostDays() measure.Value {
	return x.most("expected_finish", func(was, is measure.Value) int64 {
		return int64(x.env.Calendar.Between(is.Date(), was.Date()))
	})
}

// mostSaved is the most by which the estimate fell in one period.
func (x *finder) mostSaved() measure.Value {
	return x.most("eac", func(was, is measure.Value) int64 { return was.N - is.N })
}

// bestCost is the best cost index of one period: what was earned in it over what was spent.
func (x *finder) bestCost() measure.Value {
	var earned, spent []int64
	x.steps("ev", func(was, is measure.Value) { earned = append(earned, is.N-was.N) })
	x.steps("ac", func(was, is measure.Value) { spent = append(spent, is.N-was.N) })
	best := measure.Value{Reason: noPast}
	if len(earned) != len(spent) {
		return best // a period tells of one of them alone
	}
	for i := range earned {
		if spent[i] > 0 {
			if v := ratio(big.NewRat(earned[i], spent[i])); !best.Known || v.Ratio > best.Ratio {
				best = v
			}
		}
	}
	return best
}

// bestTime is the best index of time of one period: the plan that was earned in it over the time that passed.
func (x *finder) bestTime() measure.Value {
	var plan, time []float64
	x.steps("es", func(was, is measure.Value) { plan = append(plan, is.Ratio-was.Ratio) })
	x.steps("at", func(was, is measure.Value) { time = append(time, is.Ratio-was.Ratio) })
	best := measure.Value{Reason: noPast}
	if len(plan) != len(time) {
		return best
	}
	for i := range plan {
		if time[i] > 0 && (!best.Known || plan[i]/time[i] > best.Ratio) {
			best = measure.Value{Known: true, Ratio: plan[i] / time[i]}
		}
	}
	return best
}
