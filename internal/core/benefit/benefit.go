// Package benefit adds up what projects are to bring: planned, now expected and achieved, month by month; and sets it against what they
// cost, undiscounted and at what it is worth in the first month of cost.
//
// # Sources and deviations
//
// Net present value and payback follow the common definitions of capital budgeting, with months for years: an amount of month m is divided
// by (1 + r) to the power of m/12, where month 0 is the first with a cost. Amounts before it are therefore worth more than themselves, not
// less. Payback is undiscounted. All arithmetic is in binary numbers of 200 bits with a fixed order, so that two machines get the same
// minor unit; a total is rounded once, half to even.
package benefit

import (
	"math/big"
	"strconv"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Benefit is one benefit in one month. Of a unit other than money the amounts are that unit's, with as many decimals as the currency has,
// and stand in no sum of money.
type Benefit struct {
	Code, Name, Owner string
	Proof             string // how what came is counted
	Unit              string // what it is counted in; empty for money

	Month                       calendar.Month // in which it comes
	Planned, Forecast, Achieved money.Amount   // of a unit with as many decimals as the currency has
	Expects, Counted            bool           // a forecast, an achieved amount is given
	Currency                    money.Currency // of its amounts where it is money
	Ref                         fact.Ref
}

// InMoney reports whether the benefit is money; others stand in no sum.
func (b *Benefit) InMoney() bool { return b.Unit == "" }

// Outlook is what the month is expected to bring as of a day: what was achieved once the month has begun and it is known, else the
// forecast, else the plan.
func (b *Benefit) Outlook(asOf calendar.Date) money.Amount {
	switch {
	case b.Counted && b.Month <= asOf.Month():
		return b.Achieved
	case b.Expects:
		return b.Forecast
	}
	return b.Planned
}

// Come is what was achieved in a month up to that of the day. An achieved amount of a later month is not counted yet: it was sent for a
// month that has not begun.
func (b *Benefit) Come(asOf calendar.Date) money.Amount {
	if b.Counted && b.Month <= asOf.Month() {
		return b.Achieved
	}
	return 0
}

// Due is the part of an amount of the month that was to come by the end of asOf: the month of the day by its share of working days,
// rounded half to even.
func (b *Benefit) Due(amount money.Amount, asOf calendar.Date, days *calendar.Calendar) money.Amount {
	switch now := asOf.Month(); {
	case b.Month < now:
		return amount
	case b.Month > now:
		return 0
	}
	first, last := asOf.Month().First(), asOf.Month().Last()
	all := days.Count(first, last)
	switch {
	case asOf == last:
		return amount
	case all == 0: // a month without working days comes with its last day
		return 0
	}
	return money.MulDiv(amount, int64(days.Count(first, asOf)), int64(all))
}

// Sums are what several months of a benefit come to, in its own currency or unit. Due is planned of the time up to a day, the month of the
// day by its share of working days; Come is what was achieved by then.
type Sums struct{ Planned, Expected, Due, Come money.Amount }

// SumOf adds up months of one benefit as of a day.
func SumOf(months []*Benefit, asOf calendar.Date, days *calendar.Calendar) (s Sums) {
	for _, b := range months {
		s.Planned += b.Planned
		s.Expected += b.Outlook(asOf)
		s.Due += b.Due(b.Planned, asOf, days)
		s.Come += b.Come(asOf)
	}
	return s
}

// Share is what came of what was due; none where nothing was.
func (s Sums) Share() fact.Ratio { return fact.Of(int64(s.Come), int64(s.Due)) }

// Short reports whether a share of what was due is less than four fifths. Exactly four fifths are enough; no share is not short.
func Short(share fact.Ratio) bool { return share.Given() && share.Cmp(fact.Of(4, 5)) < 0 }

// Short reports whether too little came of what was due; where nothing was due nothing is short.
func (s Sums) Short() bool { return s.Due > 0 && Short(s.Share()) }

// Flow are amounts by month, densely from the first; without amounts there is none. Months between the first and the last without an
// amount hold 0; months outside are 0 as well.
type Flow struct {
	First calendar.Month // month of the first amount
	By    []money.Amount // minor units, one for each month
}

// Add adds an amount to a month.
func (f *Flow) Add(m calendar.Month, a money.Amount) {
	switch {
	case len(f.By) == 0:
		f.First, f.By = m, []money.Amount{0}
	case m < f.First:
		f.By = append(make([]money.Amount, f.First-m), f.By...)
		f.First = m
	}
	for int(m-f.First) >= len(f.By) {
		f.By = append(f.By, 0)
	}
	f.By[m-f.First] += a
}

// Begin is the first month with an amount that is not zero; false where there is none.
func (f *Flow) Begin() (calendar.Month, bool) {
	for i, a := range f.By {
		if a != 0 {
			return f.First + calendar.Month(i), true
		}
	}
	return 0, false
}

// At is the amount of a month.
func (f *Flow) At(m calendar.Month) money.Amount {
	if i := int(m - f.First); len(f.By) > 0 && i >= 0 && i < len(f.By) {
		return f.By[i]
	}
	return 0
}

// precision is that of discounting in bits: much more than amounts have, so that rounding is the same on any machine.
const precision = 200

// Monthly is the factor by which a month is worth less than the one before, for a yearly rate in hundredths of a percent above -100 %: the
// twelfth root of 1 + rate.
func Monthly(rate int64) *big.Float {
	one := func() *big.Float { return new(big.Float).SetPrec(precision) }
	a := one().Quo(one().SetInt64(10_000+rate), one().SetInt64(10_000))
	x := one().SetInt64(1)
	for range 60 { // Newton's steps to the cube root
		x = one().Quo(one().Add(one().Mul(x, one().SetInt64(2)), one().Quo(a, one().Mul(x, x))), one().SetInt64(3))
	}
	return one().Sqrt(one().Sqrt(x))
}

// Present is what the amounts of a flow are worth in a month, each divided by the factor to the power of its months after it, or times
// that before it. It is in minor units, not rounded.
func (f *Flow) Present(in calendar.Month, factor *big.Float) *big.Float {
	sum := new(big.Float).SetPrec(precision)
	for i, a := range f.By {
		if a == 0 {
			continue
		}
		x := new(big.Float).SetPrec(precision).SetInt64(int64(a))
		n := int(f.First) + i - int(in)
		if p := power(factor, max(n, -n)); n > 0 {
			x.Quo(x, p)
		} else {
			x.Mul(x, p)
		}
		sum.Add(sum, x)
	}
	return sum
}

// power is x to the power of n, 0 or more, by squaring.
func power(x *big.Float, n int) *big.Float {
	p, square := new(big.Float).SetPrec(precision).SetInt64(1), new(big.Float).SetPrec(precision).Set(x)
	for ; n > 0; n >>= 1 {
		if n&1 == 1 {
			p.Mul(p, square)
		}
		square.Mul(square, square)
	}
	return p
}

// Round is an amount rounded half to even; one that no amount can hold is the largest that can.
func Round(x *big.Float) money.Amount {
	n, _ := strconv.ParseInt(x.Text('f', 0), 10, 64) // which rounds half to even
	return money.Amount(n)
}

// Case is what something brings set against what it costs, in one currency. Both flows may be empty, of different lengths, and hold
// negative months.
type Case struct{ Gains, Costs Flow }

// Add adds another case, month by month.
func (c *Case) Add(d *Case) {
	for i, a := range d.Gains.By {
		c.Gains.Add(d.Gains.First+calendar.Month(i), a)
	}
	for i, a := range d.Costs.By {
		c.Costs.Add(d.Costs.First+calendar.Month(i), a)
	}
}

// Present is what gains and costs are worth in the first month of cost at a yearly rate in hundredths of a percent; false without cost.
func (c *Case) Present(rate int64) (gains, costs *big.Float, ok bool) {
	in, ok := c.Costs.Begin()
	if !ok {
		return nil, nil, false
	}
	factor := Monthly(rate)
	return c.Gains.Present(in, factor), c.Costs.Present(in, factor), true
}

// Payback is the first month, from the first of cost on, in which the gains so far are no less than the costs so far; false where there is
// none in the months that are known, or no cost.
func (c *Case) Payback() (calendar.Month, bool) {
	begin, ok := c.Costs.Begin()
	if !ok {
		return 0, false
	}
	first, last := c.Costs.First, c.Costs.First+calendar.Month(len(c.Costs.By))-1
	if len(c.Gains.By) > 0 {
		first, last = min(first, c.Gains.First), max(last, c.Gains.First+calendar.Month(len(c.Gains.By))-1)
	}
	var sum money.Amount
	for m := first; m <= last; m++ {
		if sum += c.Gains.At(m) - c.Costs.At(m); m >= begin && sum >= 0 {
			return m, true
		}
	}
	return 0, false
}
