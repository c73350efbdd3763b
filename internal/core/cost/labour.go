package cost

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Tariff is what an hour costs and is billed at from a day on, for a person, a role or a cost code. A rate of 0 that is given is a rate;
// one that is not given is none, and the next of role or code is looked for.
type Tariff struct {
	From          calendar.Date  // 0 for always
	Cost, Billing money.Amount   // per hour
	Priced        bool           // a cost is given
	Billed        bool           // a billing rate is given
	Currency      money.Currency // of both amounts
	Ref           fact.Ref
}

// Booking is a row of a timesheet. Hours are ten-thousandths, below zero where they take back what was booked. Code is the cost code that
// it names, -1 where it names none. It is converted at the rate of the month of its date.
type Booking struct {
	Person, Role string
	Code         int32         // index of the cost code; -1 where none is named
	Date         calendar.Date // of the work
	Hours        int64         // ten-thousandths, negative to correct
	Billable     bool          // to whoever pays for the project
	Activity     string        // code of the activity worked on; empty where none is named
	Ref          fact.Ref
}

// HourUnits is the number of units of an hour in Booking.Hours.
const HourUnits = 10_000

// Tariffs finds the rate of an hour: of the person, else the role, else the cost code.
type Tariffs struct {
	person, role map[string][]Tariff
	code         map[int32][]Tariff
}

// ErrNoTariff is wrapped where nobody says what an hour costs.
var ErrNoTariff = errors.New("no hourly rate")

// Of adds a tariff of a person, a role or, where both are empty, a cost code.
func (t *Tariffs) Of(person, role string, code int32, x Tariff) {
	if t.person == nil {
		t.person, t.role, t.code = map[string][]Tariff{}, map[string][]Tariff{}, map[int32][]Tariff{}
	}
	switch {
	case person != "":
		t.person[person] = sorted(t.person[person], x)
	case role != "":
		t.role[role] = sorted(t.role[role], x)
	default:
		t.code[code] = sorted(t.code[code], x)
	}
}

// sorted adds a tariff to those in the order of their days, after others of the same day, so that the later row goes before.
func sorted(list []Tariff, x Tariff) []Tariff {
	list = append(list, x)
	slices.SortStableFunc(list, func(a, b Tariff) int { return cmp.Compare(a.From, b.From) })
	return list
}

// find is the last tariff in force on a day that says what is wanted.
func find(list []Tariff, day calendar.Date, wanted func(Tariff) bool) (Tariff, bool) {
	for i := len(list) - 1; i >= 0; i-- {
		if list[i].From <= day && wanted(list[i]) {
			return list[i], true
		}
	}
	return Tariff{}, false
}

// Find is the tariff in force on the day of a booking; billing looks for one that bills. None is an error wrapping ErrNoTariff.
func (t *Tariffs) Find(b Booking, billing bool) (Tariff, error) {
	wanted := func(x Tariff) bool { return !billing && x.Priced || billing && x.Billed }
	for _, list := range [][]Tariff{t.person[b.Person], t.role[b.Role], t.code[b.Code]} { // no tariff is of code -1
		if x, ok := find(list, b.Date, wanted); ok {
			return x, nil
		}
	}
	what := "cost"
	if billing {
		what = "billing"
	}
	return Tariff{}, fmt.Errorf("%w: no %s rate for %s on %s", ErrNoTariff, what, cmp.Or(b.Person, b.Role, "the cost code"), b.Date)
}

// Labour is the value of the hours booked up to the as-of date. Sums leave out hours without a rate, of which a gap is noted.
type Labour struct {
	Hours    int64        // ten-thousandths
	Cost     money.Amount // minor units of the reporting currency
	Billable money.Amount // of the hours that can be billed, at their billing rates
	Rows     int          // bookings counted
	Aside    int          // postings on codes of labour that are not counted, since the cost of labour is known in another way
}

// Worth is the cost, or with billing the price, of a booking in the reporting currency, at the rate of its month.
func (t *Tariffs) Worth(b Booking, billing bool, rates *Rates) (money.Amount, Tariff, error) {
	x, err := t.Find(b, billing)
	if err != nil {
		return 0, x, err
	}
	per := x.Cost
	if billing {
		per = x.Billing
	}
	a, _, err := rates.Actual(money.MulDiv(per, b.Hours, HourUnits), x.Currency, b.Date.Month())
	if err != nil {
		a = 0
	}
	return a, x, err
}

// Book adds the hours of a timesheet row dated up to the as-of date.
func (b *Builder) Book(x Booking, t *Tariffs) {
	if x.Date > b.asOf {
		return
	}
	l := &b.acc.Labour
	l.Rows++
	l.Hours += x.Hours
	a, _, err := t.Worth(x, false, b.rates)
	if err != nil {
		b.fail(InLabour, err)
	}
	l.Cost += a
	if b.way == Timesheets {
		p := t.Posting(&x, &b.classes)
		b.post(&p)
	}
	if x.Billable {
		if a, _, err = t.Worth(x, true, b.rates); err != nil {
			b.fail(InBilling, err)
		}
		l.Billable += a
	}
}
