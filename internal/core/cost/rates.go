package cost

import (
	"errors"
	"fmt"
	"sort"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// ErrNoRate is wrapped by every MissingRate.
var ErrNoRate = errors.New("no exchange rate")

// MissingRate names the rate that a conversion needed and did not find.
type MissingRate struct {
	Currency money.Currency
	Month    calendar.Month
	Plan     bool // a plan rate was wanted, not the month's own
}

func (m MissingRate) Error() string {
	kind := "month"
	if m.Plan {
		kind = "plan"
	}
	return fmt.Sprintf("no %s rate for %s in %s", kind, m.Currency, m.Month)
}

// Unwrap returns ErrNoRate.
func (m MissingRate) Unwrap() error { return ErrNoRate }

// RateRow is one exchange rate: reporting units per unit of the currency.
type RateRow struct {
	Currency money.Currency
	Month    calendar.Month
	Plan     bool // in force from Month on; otherwise for Month alone
	Rate     money.Rate
	Ref      fact.Ref
}

type rateKey struct {
	currency money.Currency
	month    calendar.Month
}

// Rates finds the rate of a currency and month. The zero value knows only the reporting currency's own.
type Rates struct {
	Reporting money.Currency
	month     map[rateKey]RateRow
	plan      map[money.Currency][]RateRow // ascending by month
}

// NewRates indexes rows; of two for the same currency, month and kind the later row wins.
func NewRates(reporting money.Currency, rows []RateRow) *Rates {
	r := &Rates{Reporting: reporting, month: map[rateKey]RateRow{}, plan: map[money.Currency][]RateRow{}}
	for _, row := range rows {
		if row.Plan {
			r.addPlan(row)
		} else {
			r.month[rateKey{row.Currency, row.Month}] = row
		}
	}
	return r
}

func (r *Rates) addPlan(row RateRow) {
	list := r.plan[row.Currency]
	i := sort.Search(len(list), func(i int) bool { return list[i].Month >= row.Month })
	if i < len(list) && list[i].Month == row.Month {
		list[i] = row
		return
	}
	list = append(list, RateRow{})
	copy(list[i+1:], list[i:])
	list[i] = row
	r.plan[row.Currency] = list
}

// Find returns the month's own rate, or the plan rate in force in that month.
func (r *Rates) Find(c money.Currency, m calendar.Month, plan bool) (RateRow, error) {
	if c == r.Reporting {
		return RateRow{Currency: c, Month: m, Plan: plan, Rate: money.Rate{Digits: 1}}, nil
	}
	if plan {
		list := r.plan[c]
		if i := sort.Search(len(list), func(i int) bool { return list[i].Month > m }); i > 0 {
			return list[i-1], nil
		}
	} else if row, ok := r.month[rateKey{c, m}]; ok {
		return row, nil
	}
	return RateRow{}, MissingRate{c, m, plan}
}
