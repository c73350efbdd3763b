// Package backlog counts the items that a project works off: points in all, accepted, and added after its baseline.
package backlog

import (
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Item is one entry of a backlog.
type Item struct {
	Code, Title, State, Iteration, Owner string

	Points          fact.Int // ten-thousandths
	Added, Accepted calendar.Date
	Rank            fact.Int
	Blocked         bool
	Ref             fact.Ref
}

// Done reports whether the item was accepted by the end of asOf; one without a date counts by its state.
func (i *Item) Done(asOf calendar.Date) bool {
	if i.Accepted != 0 {
		return i.Accepted <= asOf
	}
	return i.State == "accepted"
}

// Since reports whether the item came after a day; one without a date was there from the start.
func (i *Item) Since(day calendar.Date) bool { return day != 0 && i.Added > day }

// Sums are points of a backlog, in ten-thousandths.
type Sums struct{ All, Accepted, Added int64 }

// Sum adds up the points of items that were there by the end of asOf: all, accepted, and added after the baseline day.
func Sum(items []Item, asOf, baseline calendar.Date) Sums {
	var s Sums
	for k := range items {
		i := &items[k]
		if i.Added > asOf {
			continue
		}
		s.All += i.Points.N
		if i.Done(asOf) {
			s.Accepted += i.Points.N
		}
		if i.Since(baseline) {
			s.Added += i.Points.N
		}
	}
	return s
}

// Percent is the share of points accepted, in hundredths of a percent, rounded half to even; false where there are no points.
func (s Sums) Percent() (int64, bool) {
	if s.All <= 0 {
		return 0, false
	}
	return int64(money.MulDiv(money.Amount(s.Accepted), 10_000, s.All)), true
}
