package check

import (
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
)

// Forecast is a forecast as it was sent: own amounts by month, then by cost code, centre and currency. The zero value is empty. Months
// that hold no line are not there, which differs from an amount of 0: only months that both files hold compare.
type Forecast map[calendar.Month]map[ForecastLine]money.Amount

// ForecastLine is what an amount of a forecast's month is for.
type ForecastLine struct {
	Code     int32
	Centre   string
	Currency money.Currency
}

// Add adds a line, one without a month spread over its span.
func (f *Forecast) Add(l *cost.Line, days *calendar.Calendar) {
	if *f == nil {
		*f = Forecast{}
	}
	months, amounts := cost.Spread(*l, days)
	for i, m := range months {
		if (*f)[m] == nil {
			(*f)[m] = map[ForecastLine]money.Amount{}
		}
		(*f)[m][ForecastLine{l.Code, l.Centre, l.Currency}] += amounts[i]
	}
}

// Same reports whether two forecasts are the same in the months that both hold; false where they have none in common. Monthly files list
// the months left, so that only these can be compared.
func (f Forecast) Same(was Forecast) bool {
	common := false
	for m, now := range f {
		then, ok := was[m]
		if !ok {
			continue
		}
		common = true
		for k, a := range now {
			if then[k] != a {
				return false
			}
		}
		for k, a := range then {
			if now[k] != a {
				return false
			}
		}
	}
	return common
}
