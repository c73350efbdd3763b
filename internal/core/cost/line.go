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

// Line is one budget or forecast line. Code indexes the cost codes.
type Line struct {
	Code     int32
	Amount   money.Amount
	Currency money.Currency
	Month    calendar.Month // 0 where the line is a total over From to To
	From, To calendar.Date  // both included
	Profile  Profile
	Change   string // reference of the change; empty for the original budget
	Centre   string // cost centre
	Note     string
	Ref      fact.Ref
}

// Posting is one actual cost of the ledger.
type Posting struct {
	Code     int32
	Date     calendar.Date
	Amount   money.Amount
	Currency money.Currency
	Centre   string
	Document string
	Supplier string
	Ref      fact.Ref
}

// Commitment is what was ordered and is not invoiced yet.
type Commitment struct {
	Code     int32
	Amount   money.Amount
	Currency money.Currency
	Due      calendar.Date // 0 where not known
	Document string
	Supplier string
	Ref      fact.Ref
}

// Portion is the part of a line that falls into one month, converted and cut at the as-of date.
type Portion struct {
	Month  calendar.Month
	Own    money.Amount // in the line's currency
	Rate   RateRow
	Amount money.Amount // in the reporting currency
	Before money.Amount // the part of Amount up to the as-of date
}

// After is the part of the portion after the as-of date.
func (p Portion) After() money.Amount { return p.Amount - p.Before }

// Spread splits a line into months: the one it names, or the months of its span by working days and profile, by largest
// remainder. A span without working days counts its days.
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

// cumulative is the share of the profile after x of n days, times a constant power of n.
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

// Cut says which part of a month lies before the as-of date, in working days.
type Cut struct {
	Month       calendar.Month
	Passed, All int64
}

// NewCut counts the working days of the month of asOf; a month without any counts its days.
func NewCut(asOf calendar.Date, days *calendar.Calendar) Cut {
	m := asOf.Month()
	c := Cut{m, int64(days.Count(m.First(), asOf)), int64(days.Count(m.First(), m.Last()))}
	if c.All == 0 {
		c.Passed, c.All = int64(asOf-m.First())+1, int64(m.Last()-m.First())+1
	}
	if asOf == m.Last() {
		c.Passed = c.All
	}
	return c
}

// Before is the part of a month's amount that lies up to the as-of date, rounded half to even.
func (c Cut) Before(m calendar.Month, a money.Amount) money.Amount {
	switch {
	case m < c.Month:
		return a
	case m > c.Month:
		return 0
	}
	return money.MulDiv(a, c.Passed, c.All)
}

// Portions converts a budget or forecast line at the plan rate of each of its months, once per month of the line, and cuts
// it at the as-of date. Months without a rate come back as the first MissingRate.
func Portions(l Line, rates *Rates, days *calendar.Calendar, cut Cut) ([]Portion, error) {
	months, amounts := Spread(l, days)
	list := make([]Portion, 0, len(months))
	for i, m := range months {
		rate, err := rates.Find(l.Currency, m, true)
		if err != nil {
			return nil, err
		}
		p := Portion{Month: m, Own: amounts[i], Rate: rate, Amount: amounts[i]}
		if l.Currency != rates.Reporting {
			if p.Amount, err = money.Convert(p.Own, l.Currency, rates.Reporting, rate.Rate); err != nil {
				return nil, err
			}
		}
		p.Before = cut.Before(m, p.Amount)
		list = append(list, p)
	}
	return list, nil
}
