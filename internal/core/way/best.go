package way

import (
	"math/big"

	"turret/internal/core/measure"
)

// noPast is the reason where fewer than two periods tell of something.
const noPast = "fewer than two periods tell of it"

// steps passes what a figure was in a closed period and in the one after it, the present one last.
func (x *finder) steps(key measure.Key, each func(was, is measure.Value)) {
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
func (x *finder) most(key measure.Key, change func(was, is measure.Value) int64) measure.Value {
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
	return x.most(measure.ExpectedFinish, func(was, is measure.Value) int64 {
		return int64(x.env.Calendar.Between(is.Date(), was.Date()))
	})
}

// mostSaved is the most by which the estimate fell in one period.
func (x *finder) mostSaved() measure.Value {
	return x.most(measure.EAC, func(was, is measure.Value) int64 { return was.N - is.N })
}

// bestCost is the best cost index of one period: what was earned in it over what was spent.
func (x *finder) bestCost() measure.Value {
	return x.bestIndex(measure.EV, measure.AC, func(v measure.Value) *big.Rat { return whole(v.N) })
}

// bestTime is the best index of time of one period: the plan that was earned in it over the time that passed.
func (x *finder) bestTime() measure.Value {
	return x.bestIndex(measure.EarnedSchedule, measure.ActualTime,
		func(v measure.Value) *big.Rat { return new(big.Rat).SetFloat64(v.Ratio) })
}

// bestIndex is the greatest quotient of what two figures gained in one period.
func (x *finder) bestIndex(over measure.Key, under measure.Key, read func(measure.Value) *big.Rat) measure.Value {
	gains := func(key measure.Key) (list []*big.Rat) {
		x.steps(key, func(was, is measure.Value) { list = append(list, new(big.Rat).Sub(read(is), read(was))) })
		return list
	}
	best := measure.Value{Reason: noPast}
	gained, passed := gains(over), gains(under)
	if len(gained) != len(passed) {
		return best // a period tells of one of them alone
	}
	for i := range gained {
		if passed[i].Sign() > 0 {
			if v := ratio(gained[i].Quo(gained[i], passed[i])); !best.Known || v.Ratio > best.Ratio {
				best = v
			}
		}
	}
	return best
}
