package cost

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Profile is the shape by which a total without months is spread over its span.
type Profile uint8

// The profiles. Cumulative shares at the elapsed share x of the working days: even x; early 1-(1-x)²; late x²;
// bell 3x²-2x³.
const (
	Even Profile = iota
	Early
	Late
	Bell
)

func (p Profile) String() string { return [...]string{"even", "early", "late", "bell"}[p] }

// ParseProfile reads a profile; what is none, is even.
func ParseProfile(s string) Profile {
	for p := Even; p <= Bell; p++ {
		if p.String() == s {
			return p
		}
	}
	return Even
}

// Line is one budget or forecast line. Code indexes the cost codes. An amount may be negative. Of a total, From is on or before To.
type Line struct {
	Code     int32        // index of the cost code
	Amount   money.Amount // minor units of Currency; negative takes back
	Currency money.Currency
	Month    calendar.Month // 0 where the line is a total over From to To
	From, To calendar.Date  // both included
	Profile  Profile        // by which a total is spread
	Change   string         // reference of the change; empty for the original budget
	Centre   string         // cost centre
	Note     string
	Activity string // code of the activity it is for; empty for the project as a whole
	Ref      fact.Ref
}

// Posting is one actual cost of the ledger. A negative amount is a credit.
type Posting struct {
	Code     int32
	Date     calendar.Date // of the booking; it is converted at the rate of that month
	Amount   money.Amount  // minor units of Currency; negative is a credit
	Currency money.Currency
	Centre   string // cost centre; empty where none is named
	Document string // its number in the ledger
	Supplier string
	Activity string // as of a line; read where a project's ledger is read whole
	Ref      fact.Ref
	Work     *Work // where it is not of the ledger
}

// Label names the line by its month or span, and its change.
func (l *Line) Label() string {
	label := l.Month.String()
	if l.Month == 0 {
		label = l.From.String() + " to " + l.To.String()
	}
	if l.Change != "" {
		label += ", change " + l.Change
	}
	return label
}

// Label names the posting by its day, document and supplier.
func (x *Posting) Label() string {
	s := x.Date.String()
	for _, part := range []string{x.Document, x.Supplier} {
		if part != "" {
			s += ", " + part
		}
	}
	return s
}

// Commitment is what was ordered and is not invoiced yet.
type Commitment struct {
	Code     int32
	Amount   money.Amount // minor units of Currency, not invoiced yet
	Currency money.Currency
	Due      calendar.Date // 0 where not known
	Document string
	Supplier string
	Activity string // as of a line
	Ref      fact.Ref
}

// Portion is the part of a line that falls into one month, converted and cut at the as-of date.
type Portion struct {
	Month  calendar.Month
	Own    money.Amount // in the line's currency
	Rate   RateRow      // that it was converted at
	Amount money.Amount // in the reporting currency
	Before money.Amount // the part of Amount up to the as-of date

	Past, Ahead bool  // some of its days lie up to the as-of date, some after it
	Err         error // the plan rate that is missing; Amount and Before are 0 then
}

// After is the part of the portion after the as-of date.
func (p Portion) After() money.Amount { return p.Amount - p.Before }

// Spread splits a line into months: the one it names, or the months of its span by working days and profile, by largest remainder. A span
// without working days counts its days. Parts add up to the amount; months without working days of the span get 0.
func Spread(l Line, days *calendar.Calendar) ([]calendar.Month, []money.Amount) {
	if l.Month != 0 {
		return []calendar.Month{l.Month}, []money.Amount{l.Amount}
	}
	count := days.Count
	if count(l.From, l.To) == 0 {
		count = func(a, b calendar.Date) int { return int(b-a) + 1 }
	}
	n := int64(count(l.From, l.To))
	var months []calendar.Month
	var weights []int64
	done := int64(0)
	for m := l.From.Month(); m <= l.To.Month(); m++ {
		through := int64(count(l.From, min(m.Last(), l.To)))
		months = append(months, m)
		weights = append(weights, cumulative(l.Profile, through, n)-cumulative(l.Profile, done, n))
		done = through
	}
	return months, money.Split(l.Amount, weights)
}

// cumulative is the share of the profile after x of n days, times a constant power of n. It is whole, and grows with x from 0 to the power
// of n itself, so that differences are weights.
func cumulative(p Profile, x, n int64) int64 {
	switch p {
	case Early:
		return x * (2*n - x)
	case Late:
		return x * x
	case Bell:
		return x * x * (3*n - 2*x)
	}
	return x
}

// Cut says which part of the month of the as-of date lies up to it, in working days. Passed over All is 1 at the month's end, whichever
// its last days are.
type Cut struct {
	Month       calendar.Month // of the as-of date
	Passed, All int64          // working days of the month up to the as-of date, and all of them

	asOf calendar.Date
	days *calendar.Calendar
}

// NewCut counts the working days of the month of asOf; a month without any counts its days.
func NewCut(asOf calendar.Date, days *calendar.Calendar) Cut {
	c := Cut{Month: asOf.Month(), asOf: asOf, days: days}
	c.Passed, c.All = c.within(c.Month.First(), c.Month.Last())
	return c
}

// within counts the working days from first to last up to the as-of date, and all of them; where there is none, the days.
func (c Cut) within(first, last calendar.Date) (passed, all int64) {
	upTo := min(max(c.asOf, first-1), last)
	if all = int64(c.days.Count(first, last)); all == 0 {
		return int64(upTo-first) + 1, int64(last-first) + 1
	}
	if upTo == last {
		return all, all
	}
	return int64(c.days.Count(first, upTo)), all
}

// Share is the part of a line's month that lies up to the as-of date: of a month it names by the working days of the month, of a span by
// its own working days in it.
func (c Cut) Share(l *Line, m calendar.Month) (passed, all int64) {
	switch {
	case m < c.Month:
		return 1, 1
	case m > c.Month:
		return 0, 1
	case l.Month != 0:
		return c.Passed, c.All
	}
	return c.within(max(l.From, m.First()), min(l.To, m.Last()))
}

// Before is the part of an amount of a line's month that lies up to the as-of date, rounded half to even.
func (c Cut) Before(l *Line, m calendar.Month, a money.Amount) money.Amount {
	passed, all := c.Share(l, m)
	return money.MulDiv(a, passed, all)
}

// Portions converts a budget or forecast line at the plan rate of each of its months, once per month of the line, and cuts it at the
// as-of date. A month without a rate says so in its Err, and the first of them is returned as well.
func Portions(l Line, rates *Rates, days *calendar.Calendar, cut Cut) ([]Portion, error) {
	months, amounts := Spread(l, days)
	list := make([]Portion, len(months))
	var first error
	for i, m := range months {
		p := &list[i]
		passed, all := cut.Share(&l, m)
		p.Month, p.Own, p.Past, p.Ahead = m, amounts[i], passed > 0, passed < all
		if p.Amount, p.Rate, p.Err = rates.Planned(p.Own, l.Currency, m); p.Err != nil {
			p.Amount = 0
			if first == nil {
				first = p.Err
			}
			continue
		}
		p.Before = money.MulDiv(p.Amount, passed, all)
	}
	return list, first
}
