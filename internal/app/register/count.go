package register

import (
	"cmp"
	"maps"
	"slices"
	"strings"

	"turret/internal/core/calendar"
)

// Work is what some open records come to: how many there are, how many of them are late, and when the next that is not is due; 0 for none.
type Work struct {
	Open, Late int
	Next       calendar.Date
}

func (w *Work) add(l *Line) {
	if !l.Open {
		return
	}
	if w.Open++; l.Late {
		w.Late++
	} else if l.Due != 0 && (w.Next == 0 || l.Due < w.Next) {
		w.Next = l.Due
	}
}

// WorkOf counts the open ones among records.
func WorkOf(list []Line) (w Work) {
	for i := range list {
		w.add(&list[i])
	}
	return w
}

// Owned is the open work of somebody; of nobody where the name is empty.
type Owned struct {
	Name string
	Work
}

// ByOwner is the open work of each, most first, then by name.
func ByOwner(list []Line) []Owned {
	by := map[string]*Owned{}
	for i := range list {
		l := &list[i]
		if by[l.Owner] == nil {
			by[l.Owner] = &Owned{Name: l.Owner}
		}
		by[l.Owner].add(l)
	}
	var owned []Owned
	for _, name := range slices.Sorted(maps.Keys(by)) {
		if by[name].Open > 0 {
			owned = append(owned, *by[name])
		}
	}
	slices.SortStableFunc(owned, func(a, b Owned) int {
		return cmp.Or(cmp.Compare(b.Open, a.Open), strings.Compare(a.Name, b.Name))
	})
	return owned
}

// Lacking is how many records lack each thing.
func Lacking(list []Line) map[Lack]int {
	n := map[Lack]int{}
	for i := range list {
		for _, lack := range list[i].Lacks {
			n[lack]++
		}
	}
	return n
}
