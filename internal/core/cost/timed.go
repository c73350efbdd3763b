package cost

import (
	"cmp"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Timed keeps a project's money by cost centre and month, in the reporting currency.
type Timed struct {
	asOf  calendar.Date
	cells map[timedKey]*TimedCell
}

// timedKey is what cells are kept by.
type timedKey struct {
	centre string
	month  calendar.Month
}

// TimedCell is the money of a centre and month.
type TimedCell struct{ Budget, Actual, ToGo money.Amount }

// NewTimed adds up lines and postings by centre and month, as an account does. Changes held back have no part in it. Where an amount
// cannot be converted there is none of it: the error names what is missing.
func NewTimed(budget, forecast []Line, postings []Posting, rates *Rates, days *calendar.Calendar, asOf calendar.Date,
	held map[string]bool) (*Timed, error) {
	t := &Timed{asOf: asOf, cells: map[timedKey]*TimedCell{}}
	cut := NewCut(asOf, days)
	for _, l := range budget {
		if l.Change != "" && held[l.Change] {
			continue
		}
		parts, err := Portions(l, rates, days, cut)
		if err != nil {
			return nil, err
		}
		for _, p := range parts {
			t.cell(l.Centre, p.Month).Budget += p.Amount
		}
	}
	for _, l := range forecast {
		parts, err := Portions(l, rates, days, cut)
		if err != nil {
			return nil, err
		}
		for _, p := range parts {
			t.cell(l.Centre, p.Month).ToGo += p.After()
		}
	}
	for _, x := range postings {
		if x.Date > asOf {
			continue
		}
		if x.Work != nil && x.Work.Err != nil {
			return nil, x.Work.Err
		}
		a, _, err := rates.Actual(x.Amount, x.Currency, x.Date.Month())
		if err != nil {
			return nil, err
		}
		t.cell(x.Centre, x.Date.Month()).Actual += a
	}
	return t, nil
}

// cell is where a centre and month are added up.
func (t *Timed) cell(centre string, m calendar.Month) *TimedCell {
	k := timedKey{centre, m}
	c := t.cells[k]
	if c == nil {
		c = &TimedCell{}
		t.cells[k] = c
	}
	return c
}

// each passes the cells by centre, then month.
func (t *Timed) each(f func(centre string, m calendar.Month, c *TimedCell)) {
	keys := make([]timedKey, 0, len(t.cells))
	for k := range t.cells {
		keys = append(keys, k)
	}
	slices.SortFunc(keys, func(a, b timedKey) int {
		return cmp.Or(cmp.Compare(a.centre, b.centre), cmp.Compare(a.month, b.month))
	})
	for _, k := range keys {
		f(k.centre, k.month, t.cells[k])
	}
}
