// Package figure is what a computed figure is: a value with its unit, or the reason why there is none.
package figure

import (
	"strconv"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
)

// Unit says what a value counts and how it is written.
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

func (u Unit) String() string {
	return [...]string{"money", "share", "working days", "date", "count", "status", "index", "hours", "points", "score",
		"expected working days", "month"}[u]
}

// Value is a figure or the reason why there is none. The zero value is undefined without a reason.
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
		return "–"
	}
	switch u {
	case Money:
		return v.Amount().Human(c)
	case Share:
		return health.Percent(v.Ratio)
	case Index, Score:
		return decimals(v.Ratio, places[u])
	case Days:
		return Signed(v.N)
	case Day:
		return v.Date().Human()
	case Month:
		return calendar.Month(v.N).Name()
	case Health:
		return v.Status().String()
	case Hours, Points, ExpectedDays:
		tenths := int64(money.MulDiv(money.Amount(v.N), 1, 1000))
		if tenths < 0 {
			return "−" + money.Group(money.Decimal(-tenths, 1))
		}
		return money.Group(money.Decimal(tenths, 1))
	}
	return money.Group(strconv.FormatInt(v.N, 10))
}

// Delta writes how a figure moved from one value to another, with its sign and unit, without a sign where it reads as nothing; empty where
// either is undefined or the figure is a status. Dates move by working days.
func (u Unit) Delta(from, to Value, c money.Currency, days *calendar.Calendar) string {
	if !from.Known || !to.Known {
		return ""
	}
	switch u {
	case Money:
		by := to.Amount() - from.Amount()
		if by > 0 {
			return "+" + by.Short(c)
		}
		return by.Short(c)
	case Share:
		return rising(to.Ratio-from.Ratio, health.Percent(to.Ratio-from.Ratio))
	case Index, Score:
		return rising(to.Ratio-from.Ratio, decimals(to.Ratio-from.Ratio, places[u]))
	case Day:
		return counted(int64(days.Between(from.Date(), to.Date())), "day")
	case Month:
		return counted(to.N-from.N, "month")
	case Hours, Points, ExpectedDays:
		return rising(float64(to.N-from.N), Value{Known: true, N: to.N - from.N}.Human(u, c))
	case Health:
		return ""
	}
	return Signed(to.N - from.N)
}

// places is how many decimals of a unit are read.
var places = map[Unit]int{Index: 2, Score: 1}

// decimals writes a number with so many places, a true minus, and none for what rounds to zero.
func decimals(x float64, places int) string {
	s := strconv.FormatFloat(x, 'f', places, 64)
	if strings.Trim(s, "-0.") == "" {
		return strings.TrimPrefix(s, "-")
	}
	return strings.Replace(s, "-", "−", 1)
}

// rising puts a plus before what is written of a number above zero, unless it reads as nothing.
func rising(x float64, written string) string {
	if x > 0 && strings.ContainsAny(written, "123456789") {
		return "+" + written
	}
	return written
}

// counted writes by how many of something a figure moved.
func counted(n int64, one string) string {
	if n == 1 || n == -1 {
		return Signed(n) + " " + one
	}
	return Signed(n) + " " + one + "s"
}

// Signed writes a number with its sign, a true minus, and none for zero.
func Signed(n int64) string {
	switch {
	case n > 0:
		return "+" + strconv.FormatInt(n, 10)
	case n < 0:
		return "−" + strings.TrimPrefix(strconv.FormatInt(n, 10), "-")
	}
	return "0"
}
