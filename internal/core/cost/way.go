package cost

import (
	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Way is what the cost of a project's labour is known from.
type Way uint8

// The ways. By any but the ledger, postings on cost codes of labour are not counted, so that no hour counts twice.
const (
	Ledger     Way = iota // postings, as they stand
	Timesheets            // hours times hourly rates
	AsPlanned             // the forecast on cost codes of labour, once its month has passed
)

func (w Way) String() string { return [...]string{"ledger", "timesheets", "planned"}[w] }

// ParseWay reads a way; what is none, is the ledger.
func ParseWay(s string) Way {
	for w := Ledger; w <= AsPlanned; w++ {
		if w.String() == s {
			return w
		}
	}
	return Ledger
}

// Work is what a posting was made of that is not in the ledger. A posting with an error has neither amount nor currency.
type Work struct {
	Way    Way
	Hours  int64  // ten-thousandths, by timesheets
	Tariff Tariff // that the hours were priced by
	Err    error  // the hourly rate that is missing; the posting has no amount then
}

// Counts reports whether a posting of the ledger counts by a way.
func (w Way) Counts(c *Classes, x *Posting) bool { return w == Ledger || !c.Labours(x.Code) }

// Labours reports whether what is booked on a code is labour.
func (c *Classes) Labours(code int32) bool {
	return code >= 0 && int(code) < len(c.Labour) && c.Labour[code]
}

// Home is the first code of labour, which hours that name no code are booked on; 0 where there is none.
func (c *Classes) Home() int32 {
	for i, labour := range c.Labour {
		if labour {
			return int32(i)
		}
	}
	return 0
}

// Posting is the cost of an hour as if it were posted, in the currency of its rate, rounded before it is converted.
func (t *Tariffs) Posting(b *Booking, c *Classes) Posting {
	x := Posting{Code: b.Code, Date: b.Date, Supplier: b.Person, Activity: b.Activity, Ref: b.Ref, Work: &Work{Way: Timesheets,
		Hours: b.Hours}}
	if x.Code < 0 {
		x.Code = c.Home()
	}
	w := x.Work
	if w.Tariff, w.Err = t.Find(*b, false); w.Err == nil {
		x.Amount, x.Currency = money.MulDiv(w.Tariff.Cost, b.Hours, HourUnits), w.Tariff.Currency
	}
	return x
}

// passed are the months of a forecast line of labour that have passed, each posted at its end.
func (c *Classes) passed(l *Line, days *calendar.Calendar, asOf calendar.Date) []Posting {
	if !c.Labours(l.Code) {
		return nil
	}
	months, amounts := Spread(*l, days)
	var list []Posting
	for i, m := range months {
		if m.Last() <= asOf {
			list = append(list, Posting{Code: l.Code, Date: m.Last(), Amount: amounts[i], Currency: l.Currency, Centre: l.Centre,
				Activity: l.Activity, Ref: l.Ref, Work: &Work{Way: AsPlanned}})
		}
	}
	return list
}

// Records are what the actual cost of one project is made of. Forecast is read by the planned way alone, Bookings by timesheets alone.
type Records struct {
	Ledger   []Posting
	Bookings []Booking
	Forecast []Line
}

// Counted are the postings that make up the actual cost by a way: those of the ledger that count, then labour.
func (r *Records) Counted(w Way, c *Classes, t *Tariffs, days *calendar.Calendar, asOf calendar.Date) []Posting {
	if w == Ledger {
		return r.Ledger
	}
	var list []Posting
	for i := range r.Ledger {
		if w.Counts(c, &r.Ledger[i]) {
			list = append(list, r.Ledger[i])
		}
	}
	switch w {
	case Timesheets:
		for i := range r.Bookings {
			list = append(list, t.Posting(&r.Bookings[i], c))
		}
	case AsPlanned:
		for i := range r.Forecast {
			list = append(list, c.passed(&r.Forecast[i], days, asOf)...)
		}
	}
	return list
}
