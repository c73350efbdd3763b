package earned

import (
	"math"
	"math/big"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Timing is earned schedule (Lipke 2003): how many periods of the plan are earned, against how many have passed. Periods are months,
// the first budgeted one being the first.
type Timing struct {
	Earned  float64 // es
	Passed  float64 // at
	Planned int     // periods of the whole plan
	Finish  calendar.Date
}

// Index is es divided by at.
func (t Timing) Index() float64 { return t.Earned / t.Passed }

// Schedule reads earned schedule off a plan of months. planned is the budget of each month from first on, value what is earned, end
// the as-of date or an earlier actual finish. It is false without a budget, or before anything of the first period has passed.
func Schedule(first calendar.Month, planned []money.Amount, value money.Amount, end calendar.Date, org *calendar.Calendar) (Timing, bool) {
	for len(planned) > 0 && planned[0] == 0 {
		planned, first = planned[1:], first+1
	}
	for len(planned) > 0 && planned[len(planned)-1] == 0 {
		planned = planned[:len(planned)-1]
	}
	t := Timing{Planned: len(planned)}
	t.Passed = passed(first, end, org)
	if t.Planned == 0 || t.Passed <= 0 {
		return t, false
	}
	t.Earned = earnedPeriods(planned, value)
	if t.Earned > 0 {
		t.Finish = after(first, float64(t.Planned)/t.Index(), org)
	}
	return t, true
}

func earnedPeriods(planned []money.Amount, value money.Amount) float64 {
	var sum money.Amount
	whole, at := 0, money.Amount(0) // the last whole period with a plan within what is earned
	for i, a := range planned {
		if sum += a; sum <= value {
			whole, at = i+1, sum
		}
	}
	if whole == len(planned) {
		return float64(whole)
	}
	next := at + planned[whole]
	if next <= at || value <= at {
		return float64(whole)
	}
	return float64(whole) + float64(value-at)/float64(next-at)
}

// passed is how many periods have passed by the end of a day, the last in proportion to working days.
func passed(first calendar.Month, end calendar.Date, org *calendar.Calendar) float64 {
	m := end.Month()
	all := org.Count(m.First(), m.Last())
	share := 1.0
	if end < m.Last() && all > 0 {
		share = float64(org.Count(m.First(), end)) / float64(all)
	}
	return float64(m-first) + share
}

// after is the working day on which a number of periods from the first has passed; 0 where that is beyond two hundred years.
func after(first calendar.Month, periods float64, org *calendar.Calendar) calendar.Date {
	if periods > 2400 {
		return 0
	}
	whole := math.Floor(periods + 1e-9)
	m := first + calendar.Month(whole)
	rest := periods - whole
	if rest < 1e-9 {
		return (m - 1).Last()
	}
	days := org.Count(m.First(), m.Last())
	if days == 0 {
		return m.Last()
	}
	return org.Finish(m.First(), max(1, int(math.Ceil(rest*float64(days)-1e-9))))
}

// AtBothIndices is the estimate at completion if the rest costs what cost and schedule index together say: cost plus the work left
// divided by their product, rounded half to even once. It is false where nothing is earned or planned.
func AtBothIndices(budget, cost, value, planned money.Amount) (money.Amount, bool) {
	if value <= 0 || planned <= 0 || cost < 0 {
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
