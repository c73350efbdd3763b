package backlog

import (
	"slices"

	"turret/internal/core/calendar"
)

// Burn is a backlog at the end of a day: points in ten-thousandths, or items.
type Burn struct {
	Day             calendar.Date
	Total, Accepted int64 // what counts on the day, and what of it is accepted
}

// Remaining is what is not accepted.
func (x Burn) Remaining() int64 { return x.Total - x.Accepted }

// Burns are how a backlog stood at the end of each day from one to another, as far as its items tell: what was accepted without a day is
// accepted from the start. by counts items instead of points where it is "items". Later days than asOf are not told. An item that was
// removed counts until the day before; the time is linear in items times days.
func (b *Backlog) Burns(from, to, asOf calendar.Date, by string) []Burn {
	if to = min(to, asOf); to < from {
		return nil
	}
	list := make([]Burn, to-from+1)
	for i := range list {
		list[i].Day = from + calendar.Date(i)
	}
	span := func(first, last calendar.Date, add func(*Burn)) { // days from first to before last, 0 for no end
		end := len(list)
		if last != 0 {
			end = min(end, int(last-from))
		}
		for i := max(0, int(first-from)); i < end; i++ {
			add(&list[i])
		}
	}
	for i := range b.Items {
		x := &b.Items[i]
		n := x.Points.N
		if by == "items" {
			n = 1
		}
		span(x.Added, x.Removed, func(d *Burn) { d.Total += n })
		if x.Done(asOf) {
			span(max(x.Accepted, x.Added), x.Removed, func(d *Burn) { d.Accepted += n })
		}
	}
	return list
}

// Begins is the day on which a backlog began: that of its baseline, else the first that its iterations or items tell of; 0 where none
// does.
func (b *Backlog) Begins() calendar.Date {
	if b.Baseline != 0 {
		return b.Baseline
	}
	var days []calendar.Date
	for i := range b.Iterations {
		days = append(days, b.Iterations[i].From)
	}
	for i := range b.Items {
		if b.Items[i].Added != 0 {
			days = append(days, b.Items[i].Added)
		}
	}
	if len(days) == 0 {
		return 0
	}
	return slices.Min(days)
}
