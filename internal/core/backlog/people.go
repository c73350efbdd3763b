package backlog

import (
	"turret/internal/core/calendar"
)

// Worker is how somebody's items stand. An item counts for its owner of today, whoever had it when it moved.
type Worker struct {
	Name     string
	Accepted [7]int        // items on each of the last seven working days, the oldest first
	InWork   int           // items in state doing
	Blocked  int           // items that remain and are blocked
	Moved    calendar.Date // the last day on which an item was added, begun, done or accepted; 0 where none tells
	Silent   bool          // items in work, and none moved for as many working days as are asked for
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

// take counts one item for its owner: the last day on or before asOf that anything happened to it, and what it is now. Items accepted on a
// day off stand on no working day.
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
