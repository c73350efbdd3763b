// Package cost adds up what a project was given, has spent and expects to spend, in the reporting currency.
//
// Budget and forecast are converted at plan rates, actual cost at the rate of its month, once per line and month, rounding
// half to even. The month of the as-of date is cut in proportion to working days; actual cost counts by its date.
package cost

import (
	"errors"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Figures are the sums of a project or of one of its cost codes, in the reporting currency.
type Figures struct {
	Original, Changes money.Amount // the two parts of the current budget
	BudgetToDate      money.Amount
	Actual            money.Amount // to the as-of date
	ForecastToGo      money.Amount
}

// Budget is the current budget at completion.
func (f Figures) Budget() money.Amount { return f.Original + f.Changes }

// CodeFigures are the figures of one cost code.
type CodeFigures struct {
	Code int32
	Figures
}

// Account is a project's money as of a day. Months run densely from First.
type Account struct {
	Figures
	Lines, ForecastLines, Postings int // rows counted, the postings up to the as-of date
	ByCode                         []CodeFigures
	First                          calendar.Month
	BudgetBy, ActualBy, ForecastBy []money.Amount // per month; the forecast after the as-of date only
	Missing                        [3]error       // the first problem of budget, actual and forecast; nil where whole
}

// The inputs of an account, as indexes of Missing.
const (
	InBudget = iota
	InActual
	InForecast
)

// Builder collects the lines of one project after another. It is not safe for concurrent use.
type Builder struct {
	rates *Rates
	days  *calendar.Calendar
	asOf  calendar.Date
	cut   Cut
	slot  []int32 // by cost code: 1 + index into the account's ByCode
	acc   Account
}

// NewBuilder makes a builder for accounts as of the end of asOf.
func NewBuilder(rates *Rates, days *calendar.Calendar, asOf calendar.Date) *Builder {
	return &Builder{rates: rates, days: days, asOf: asOf, cut: NewCut(asOf, days)}
}

func (b *Builder) code(c int32) *Figures {
	for int(c) >= len(b.slot) {
		b.slot = append(b.slot, make([]int32, int(c)+1-len(b.slot))...)
	}
	if b.slot[c] == 0 {
		b.acc.ByCode = append(b.acc.ByCode, CodeFigures{Code: c})
		b.slot[c] = int32(len(b.acc.ByCode))
	}
	return &b.acc.ByCode[b.slot[c]-1].Figures
}

// month returns the index of m in the account's months, widening them where needed.
func (b *Builder) month(m calendar.Month) int {
	a := &b.acc
	if a.First == 0 {
		a.First = m
	}
	if m < a.First {
		pad := make([]money.Amount, a.First-m)
		for _, s := range []*[]money.Amount{&a.BudgetBy, &a.ActualBy, &a.ForecastBy} {
			*s = append(slices.Clone(pad), *s...)
		}
		a.First = m
	}
	for int(m-a.First) >= len(a.BudgetBy) {
		a.BudgetBy, a.ActualBy, a.ForecastBy = append(a.BudgetBy, 0), append(a.ActualBy, 0), append(a.ForecastBy, 0)
	}
	return int(m - a.First)
}

func (b *Builder) fail(input int, err error) {
	if b.acc.Missing[input] == nil {
		b.acc.Missing[input] = err
	}
}

// Budget adds a line of the current budget.
func (b *Builder) Budget(l Line) {
	b.acc.Lines++
	parts, err := Portions(l, b.rates, b.days, b.cut)
	if err != nil {
		b.fail(InBudget, err)
		return
	}
	f := b.code(l.Code)
	for _, p := range parts {
		b.acc.BudgetBy[b.month(p.Month)] += p.Amount
		f.BudgetToDate += p.Before
		if l.Change == "" {
			f.Original += p.Amount
		} else {
			f.Changes += p.Amount
		}
	}
}

// Forecast adds a line of the current forecast; only its part after the as-of date counts.
func (b *Builder) Forecast(l Line) {
	b.acc.ForecastLines++
	parts, err := Portions(l, b.rates, b.days, b.cut)
	if err != nil {
		b.fail(InForecast, err)
		return
	}
	f := b.code(l.Code)
	for _, p := range parts {
		if after := p.After(); after != 0 {
			b.acc.ForecastBy[b.month(p.Month)] += after
			f.ForecastToGo += after
		}
	}
}

// Post adds an actual cost; one dated after the as-of date is left out.
func (b *Builder) Post(code int32, date calendar.Date, amount money.Amount, currency money.Currency) {
	if date > b.asOf {
		return
	}
	b.acc.Postings++
	m := date.Month()
	amount, _, err := b.rates.Actual(amount, currency, m)
	if err != nil {
		b.fail(InActual, err)
		return
	}
	b.code(code).Actual += amount
	b.acc.ActualBy[b.month(m)] += amount
}

// Actual converts an actual cost at the rate of its month.
func (r *Rates) Actual(a money.Amount, c money.Currency, m calendar.Month) (money.Amount, RateRow, error) {
	rate, err := r.Find(c, m, false)
	if err != nil || c == r.Reporting {
		return a, rate, err
	}
	a, err = money.Convert(a, c, r.Reporting, rate.Rate)
	return a, rate, err
}

// Account returns what was collected, cost codes ascending, and makes the builder ready for the next project.
func (b *Builder) Account() Account {
	a := b.acc
	for _, c := range a.ByCode {
		b.slot[c.Code] = 0
		a.Original += c.Original
		a.Changes += c.Changes
		a.BudgetToDate += c.BudgetToDate
		a.Actual += c.Actual
		a.ForecastToGo += c.ForecastToGo
	}
	slices.SortFunc(a.ByCode, func(x, y CodeFigures) int { return int(x.Code - y.Code) })
	b.acc = Account{}
	return a
}

// Problem joins the problems of the inputs named, nil where there is none.
func (a *Account) Problem(inputs ...int) error {
	var list []error
	for _, i := range inputs {
		list = append(list, a.Missing[i])
	}
	return errors.Join(list...)
}
