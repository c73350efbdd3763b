package earned

import (
	"math/big"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Timing is earned schedule (Lipke 2003): how many periods of the plan are earned, against how many have passed, both exact. Periods are
// months, the first budgeted one being the first. Fractions are not rounded; a period is one month whatever its number of working days.
type Timing struct {
	Earned  *big.Rat      // es
	Passed  *big.Rat      // at; 0 before the first budgeted month
	Planned int           // periods of the whole plan
	Finish  calendar.Date // 0 where the index is not known or zero
}

// Index is es divided by at; nil where no time has passed.
func (t Timing) Index() *big.Rat {
	if t.Passed.Sign() == 0 {
		return nil
	}
	return new(big.Rat).Quo(t.Earned, t.Passed)
}

// Schedule reads earned schedule off a plan of months. planned is the budget of each month from first on, value what is earned, end the
// as-of date or an earlier actual finish. It is false without a budget. Months without a budget at either end are no part of the plan.
// Value below 0 earns no time.
func Schedule(first calendar.Month, planned []money.Amount, value money.Amount, end calendar.Date, org *calendar.Calendar) (Timing, bool) {
	for len(planned) > 0 && planned[0] == 0 {
		planned, first = planned[1:], first+1
	}
	for len(planned) > 0 && planned[len(planned)-1] == 0 {
		planned = planned[:len(planned)-1]
	}
	t := Timing{Planned: len(planned), Earned: earnedPeriods(planned, value), Passed: passed(first, end, org)}
	if t.Planned == 0 {
		return t, false
	}
	if i := t.Index(); i != nil && i.Sign() > 0 {
		t.Finish = after(first, new(big.Rat).Quo(big.NewRat(int64(t.Planned), 1), i), org)
	}
	return t, true
}

// earnedPeriods is n + (value - pv of n) / (pv of n+1 - pv of n) with n the last whole period whose planned value is within what is earned.
func earnedPeriods(planned []money.Amount, value money.Amount) *big.Rat {
	var sum money.Amount
	n, at := 0, money.Amount(0)
	for i, a := range planned {
		if sum += a; sum <= value {
			n, at = i+1, sum
		}
	}
	es := new(big.Rat).SetInt64(int64(n))
	if n == len(planned) || planned[n] <= 0 || value <= at {
		return es
	}
	return es.Add(es, big.NewRat(int64(value-at), int64(planned[n])))
}

// passed is how many periods have passed by the end of a day, the last in proportion to working days; none before the first.
func passed(first calendar.Month, end calendar.Date, org *calendar.Calendar) *big.Rat {
	m := end.Month()
	if m < first {
		return new(big.Rat)
	}
	done := new(big.Rat).SetInt64(int64(m - first))
	all := org.Count(m.First(), m.Last())
	if end >= m.Last() || all == 0 {
		return done.Add(done, big.NewRat(1, 1))
	}
	return done.Add(done, big.NewRat(int64(org.Count(m.First(), end)), int64(all)))
}

// farthest bounds how many periods ahead a finish is told.
var farthest = big.NewRat(2400, 1)

// after is the working day on which a number of periods from the first has passed; 0 where that is beyond two hundred years.
func after(first calendar.Month, periods *big.Rat, org *calendar.Calendar) calendar.Date {
	if periods.Cmp(farthest) > 0 {
		return 0
	}
	whole, rest := new(big.Int).QuoRem(periods.Num(), periods.Denom(), new(big.Int))
	m := first + calendar.Month(whole.Int64())
	if rest.Sign() == 0 {
		return (m - 1).Last()
	}
	days := org.Count(m.First(), m.Last())
	if days == 0 {
		return m.Last()
	}
	rest.Mul(rest, big.NewInt(int64(days)))
	part, more := rest.QuoRem(rest, periods.Denom(), new(big.Int))
	n := int(part.Int64())
	if more.Sign() > 0 {
		n++
	}
	return org.Finish(m.First(), n)
}

// AtBothIndices is the estimate at completion if the rest costs what cost and schedule index together say: cost plus the work left
// divided by their product, rounded half to even once. It is false where one of them is zero or has none: nothing is earned, planned or
// spent.
func AtBothIndices(budget, cost, value, planned money.Amount) (money.Amount, bool) {
	if value == 0 || planned == 0 || cost == 0 {
		return 0, false
	}
	num := new(big.Int).Mul(big.NewInt(int64(budget-value)), new(big.Int).Mul(big.NewInt(int64(cost)), big.NewInt(int64(planned))))
	den := new(big.Int).Mul(big.NewInt(int64(value)), big.NewInt(int64(value)))
	q, r := new(big.Int).QuoRem(num, den, new(big.Int))
	twice := new(big.Int).Lsh(new(big.Int).Abs(r), 1)
	if c := twice.Cmp(den); c > 0 || c == 0 && q.Bit(0) == 1 {
		q.Add(q, big.NewInt(int64(num.Sign())))
	}
	if !q.IsInt64() {
		return 0, false
	}
	return cost + money.Amount(q.Int64()), true
}
