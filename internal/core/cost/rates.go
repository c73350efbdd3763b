package cost

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"sort"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// ErrNoRate is wrapped by every MissingRate.
var ErrNoRate = errors.New("no exchange rate")

// MissingRate names the rate that a conversion needed and did not find.
type MissingRate struct {
	Currency money.Currency // that is converted
	Month    calendar.Month // that it was wanted for
	Plan     bool           // a plan rate was wanted, not the month's own
}

// Error names the kind of rate, the currency and the month.
func (m MissingRate) Error() string {
	kind := "month"
	if m.Plan {
		kind = "plan"
	}
	return fmt.Sprintf("no %s rate for %s in %s", kind, m.Currency, m.Month)
}

// Unwrap returns ErrNoRate.
func (m MissingRate) Unwrap() error { return ErrNoRate }

// RateRow is one exchange rate: reporting units per unit of the currency. The rate is above 0.
type RateRow struct {
	Currency money.Currency
	Month    calendar.Month // of a plan rate the first that it holds for
	Plan     bool           // in force from Month on; otherwise for Month alone
	Rate     money.Rate     // reporting units for one unit of Currency
	Ref      fact.Ref
}

// rateKey is what rates of single months are found by.
type rateKey struct {
	currency money.Currency
	month    calendar.Month
}

// Rates finds the rate of a currency and month. The zero value knows only the reporting currency's own. A plan rate holds until the next
// one begins; a month's own rate holds for that month alone and does not stand in for another.
type Rates struct {
	Reporting money.Currency // that amounts come to
	month     map[rateKey]RateRow
	plan      map[money.Currency][]RateRow // ascending by month
	base      *Rates                       // of which these are shown in another currency
}

// In are the same rates with another currency to report in, crossed from those into this one.
func (r *Rates) In(c money.Currency) *Rates {
	if c == r.Reporting {
		return r
	}
	return &Rates{Reporting: c, base: r}
}

// cross finds a rate by way of the currency that the rates are kept in.
func (r *Rates) cross(c money.Currency, m calendar.Month, plan bool) (RateRow, error) {
	into, err := r.base.Find(r.Reporting, m, plan)
	if err != nil {
		return RateRow{}, err
	}
	row, err := r.base.Find(c, m, plan)
	if err != nil {
		return RateRow{}, err
	}
	if row.Ref == (fact.Ref{}) {
		row.Ref = into.Ref
	}
	row.Currency, row.Rate = c, money.Cross(row.Rate, into.Rate)
	return row, nil
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

// addPlan keeps plan rates ascending by month; a later row of the same month takes the place of the earlier.
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

// Known lists the currencies that there are rates of, ascending, the reporting one first.
func (r *Rates) Known() []money.Currency {
	if r.base != nil {
		return r.base.Known()
	}
	seen := map[money.Currency]bool{}
	for k := range r.month {
		seen[k.currency] = true
	}
	for c := range r.plan {
		seen[c] = true
	}
	return append([]money.Currency{r.Reporting}, slices.Sorted(maps.Keys(seen))...)
}

// Find returns the month's own rate, or the plan rate in force in that month.
func (r *Rates) Find(c money.Currency, m calendar.Month, plan bool) (RateRow, error) {
	if c == r.Reporting {
		return RateRow{Currency: c, Month: m, Plan: plan, Rate: money.Rate{Digits: 1}}, nil
	}
	if r.base != nil {
		return r.cross(c, m, plan)
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
