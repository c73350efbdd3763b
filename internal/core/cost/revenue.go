package cost

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Billing is one expected or sent bill of a project. A bill that is planned and not sent has Billed 0; a credit has an amount below zero.
type Billing struct {
	Code, Name, Client string
	Timed              bool           // by hours; else a fixed fee
	Month              calendar.Month // in which it is planned
	Planned            money.Amount   // in Currency, as Billed is
	Billed             money.Amount   // 0 until it is sent
	BilledOn           calendar.Date  // 0 counts from the first day of the month
	Milestone          string         // code of the activity that it waits for
	Currency           money.Currency
	Ref                fact.Ref
}

// Earnings is the revenue of a project, in the reporting currency: planned at plan rates, billed at the rate of its month. The two lists
// have one length.
type Earnings struct {
	Lines           int            // bills counted
	Planned, Billed money.Amount   // planned of all months; billed up to the as-of date
	First           calendar.Month // month of the first amount
	PlannedBy       []money.Amount // per month from First
	BilledBy        []money.Amount // per month as well
}

// BilledDay is the day on which a bill counts.
func (x Billing) BilledDay() calendar.Date {
	if x.BilledOn != 0 {
		return x.BilledOn
	}
	return x.Month.First()
}

// BilledBy is what was billed by the end of a day, in the billing's own currency.
func (x Billing) BilledBy(day calendar.Date) money.Amount {
	if x.BilledDay() > day {
		return 0
	}
	return x.Billed
}

// Bill adds a line of revenue; what was billed counts up to the as-of date.
func (b *Builder) Bill(x Billing) {
	e := &b.acc.Earnings
	e.Lines++
	planned, _, err := b.rates.Planned(x.Planned, x.Currency, x.Month)
	if err != nil {
		b.fail(InRevenue, err)
		planned = 0
	}
	e.Planned += planned
	e.by(x.Month, &e.PlannedBy, planned)
	if own := x.BilledBy(b.asOf); own != 0 {
		m := x.BilledDay().Month()
		billed, _, err := b.rates.Actual(own, x.Currency, m)
		if err != nil {
			b.fail(InBilled, err)
			return
		}
		e.Billed += billed
		e.by(m, &e.BilledBy, billed)
	}
}

// by adds to a month, widening the months where needed.
func (e *Earnings) by(m calendar.Month, to *[]money.Amount, a money.Amount) {
	if e.First == 0 {
		e.First = m
	}
	for ; m < e.First; e.First-- {
		e.PlannedBy, e.BilledBy = append([]money.Amount{0}, e.PlannedBy...), append([]money.Amount{0}, e.BilledBy...)
	}
	for int(m-e.First) >= len(e.PlannedBy) {
		e.PlannedBy, e.BilledBy = append(e.PlannedBy, 0), append(e.BilledBy, 0)
	}
	(*to)[m-e.First] += a
}
