package backlog

import (
	"turret/internal/core/calendar"
)

// Worker is how somebody's items stand.
type Worker struct {
	Name     string
	Accepted [7]int // items on each of the last seven working days, the oldest first
	InWork   int    // items in state doing
	Blocked  int    // items that remain and are blocked
	Moved    calendar.Date
	Silent   bool // items in work, and none moved for as many working days as are asked for
}

// Workers tells of everybody who has items, in the order in which they first stand in the backlog; items without an owner are left out.
// silent is for how many working days nothing may move.
func (b *Backlog) Workers(asOf calendar.Date, days *calendar.Calendar, silent int) []Worker {
	var list []Worker
	at := map[string]int{}
	for i := range b.Items {
		x := &b.Items[i]
		if x.Owner == "" || !x.Here(asOf) {
			continue
		}
		k, ok := at[x.Owner]
		if !ok {
			k = len(list)
			at[x.Owner] = k
			list = append(list, Worker{Name: x.Owner})
		}
		list[k].take(x, asOf, days)
	}
	for i := range list {
		w := &list[i]
		w.Silent = w.InWork > 0 && w.Moved != 0 && days.Count(w.Moved+1, asOf) >= silent
	}
	return list
}

func (w *Worker) take(x *Item, asOf calendar.Date, days *calendar.Calendar) {
	for _, d := range []calendar.Date{x.Added, x.Started, x.DoneOn, x.Accepted} {
		if d <= asOf {
			w.Moved = max(w.Moved, d)
		}
	}
	switch done := x.Done(asOf); {
	case done && x.Accepted != 0:
		if ago := days.Count(x.Accepted+1, asOf); ago < len(w.Accepted) && days.Count(x.Accepted, x.Accepted) == 1 {
			w.Accepted[len(w.Accepted)-1-ago]++
		}
	case done:
	default:
		if x.State == "doing" {
			w.InWork++
		}
		if x.Blocked != "" {
			w.Blocked++
		}
	}
}
