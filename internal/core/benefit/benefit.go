// Package benefit adds up what projects are to bring: planned, now expected and achieved, month by month.
package benefit

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Benefit is one benefit in one month.
type Benefit struct {
	Code, Name string

	Month                       calendar.Month
	Planned, Forecast, Achieved money.Amount
	Expects, Counted            bool // a forecast, an achieved amount is given
	Currency                    money.Currency
	Ref                         fact.Ref
}

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
