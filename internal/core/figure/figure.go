// Package figure is what a computed figure is: a value with its unit, or the reason why there is none.
package figure

import (
	"strconv"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/write"
)

// Unit says what a value counts and how it is written. It fixes in what a value's number is counted, so that figures of one unit compare.
type Unit uint8

// The units. Share is a ratio read as a percentage, Index one read as a number about 1.
const (
	Money Unit = iota
	Share
	Days
	Day
	Count
	Health
	Index
	Hours
	Points
	Score
	ExpectedDays
	Month
)

// String is the unit as files name it.
func (u Unit) String() string {
	return [...]string{"money", "share", "working days", "date", "count", "status", "index", "hours", "points", "score",
		"expected working days", "month"}[u]
}

// Value is a figure or the reason why there is none. The zero value is undefined without a reason. A known value has no reason, and one
// that is not known no number: zero is never a stand-in.
type Value struct {
	Known  bool
	N      int64      // minor units, working days, a calendar.Date, a count or a health.Status
	Ratio  float64    // of a Share, an Index or a Score
	Exact  fact.Ratio // of the same, without rounding; none where the figure was read back from a file
	Reason string     // why it is not known
	Note   string     // what a reader must know of a known value
}

// Fraction is the figure as a fraction, that of its decimals where it was read back from a file.
func (v Value) Fraction() fact.Ratio {
	if v.Exact.Given() {
		return v.Exact
	}
	return fact.Decimal(v.Ratio)
}

// Amount reads v as money in the currency of its project.
func (v Value) Amount() money.Amount { return money.Amount(v.N) }

// Date reads v as a day.
func (v Value) Date() calendar.Date { return calendar.Date(v.N) }

// Worded reports whether figures of the unit are no amounts: days, months and statuses, which cannot be added or weighed.
func (u Unit) Worded() bool { return u == Day || u == Month || u == Health }

// Status reads v as a status of health.
func (v Value) Status() health.Status { return health.Status(v.N) }

// Text writes v as files hold it: money in major units, shares to six decimals, dates ISO, undefined empty.
func (v Value) Text(u Unit, c money.Currency) string {
	if !v.Known {
		return ""
	}
	switch u {
	case Money:
		return v.Amount().Text(c)
	case Share, Index, Score:
		s := strconv.FormatFloat(v.Ratio, 'f', 6, 64)
		if s == "-0.000000" {
			return "0.000000"
		}
		return s
	case Day:
		return v.Date().String()
	case Month:
		return calendar.Month(v.N).String()
	case Health:
		return v.Status().String()
	case Hours, Points, ExpectedDays: // kept in ten-thousandths
		return money.Plain(v.N, 4)
	}
	return strconv.FormatInt(v.N, 10)
}

// Human writes v for reading; undefined is an en dash.
func (v Value) Human(u Unit, c money.Currency) string {
	if !v.Known {
		return write.None
	}
	switch u {
	case Money:
		return v.Amount().Human(c)
	case Share:
		return write.Percent(v.Ratio, 1)
	case Index, Score:
		return write.Float(v.Ratio, places[u])
	case Days:
		return write.Signed(v.N)
	case Day:
		return v.Date().Human()
	case Month:
		return calendar.Month(v.N).Name()
	case Health:
		return v.Status().String()
	case Hours, Points, ExpectedDays:
		return write.Decimal(tenths(v.N), 1)
	}
	return write.Whole(v.N)
}

// tenths are ten-thousandths rounded half to even.
func tenths(n int64) int64 { return int64(money.MulDiv(money.Amount(n), 1, 1000)) }

// Delta writes how a figure moved from one value to another, with its sign and unit, without a sign where it reads as nothing; empty where
// either is undefined or the figure is a status. Dates move by working days.
func (u Unit) Delta(from, to Value, c money.Currency, days *calendar.Calendar) string {
	if !from.Known || !to.Known {
		return ""
	}
	switch by := to.N - from.N; u {
	case Money:
		return money.Amount(by).Gain(c)
	case Share:
		return write.SignedPercent(to.Ratio-from.Ratio, 1)
	case Index, Score:
		return write.SignedFloat(to.Ratio-from.Ratio, places[u])
	case Day:
		return write.SignedCount(days.Between(from.Date(), to.Date()), "day", "days")
	case Month:
		return write.SignedCount(by, "month", "months")
	case Hours, Points, ExpectedDays:
		return write.SignedDecimal(tenths(by), 1)
	case Health:
		return ""
	default:
		return write.Signed(by)
	}
}

// places is how many decimals of a unit are read.
var places = map[Unit]int{Index: 2, Score: 1}
