package people

import (
	"slices"

	"turret/internal/core/capacity"
	"turret/internal/core/fact"
)

// Shortest is the span in which most people are missing of a row, the first of several; -1 where there are enough in each.
func (l *Line) Shortest() int {
	worst := -1
	for i := range l.Cells {
		if gap := l.Cells[i].Gap(); gap.Given && gap.N < 0 && (worst < 0 || gap.N < l.Cells[worst].Gap().N) {
			worst = i
		}
	}
	return worst
}

// Short is how many of some rows are short of people at some time, and the row that is shortest of all; nil where none is.
func Short(lines []Line) (n int, worst *Line) {
	for i := range lines {
		l := &lines[i]
		at := l.Shortest()
		if at < 0 {
			continue
		}
		if n++; worst == nil || l.Cells[at].Gap().N < worst.Cells[worst.Shortest()].Gap().N {
			worst = l
		}
	}
	return n, worst
}

// Busy is how many rows have a name, how many of these are over at some time, and of how many nothing is wanted.
type Busy struct{ All, Over, Idle int }

// BusyOf counts rows by how busy they are; what belongs to nobody is none.
func BusyOf(lines []Line, limits capacity.Limits) (b Busy) {
	for i := range lines {
		l := &lines[i]
		if l.Name == "" {
			continue
		}
		b.All++
		if slices.ContainsFunc(l.Cells, func(c capacity.Cell) bool { return limits.Of(&c) == capacity.Over }) {
			b.Over++
		}
		if l.Total.Demand == 0 {
			b.Idle++
		}
	}
	return b
}

// Overload is somebody who has too much in some spans of a sheet.
type Overload struct {
	Person *capacity.Person
	Weeks  int // how many spans
	First  int // the first of them
	Worst  fact.Ratio
}

// Overloads are the people of a sheet who have too much at some time, those with the most such spans first. A span in which they have no
// hours
// at all is none.
func Overloads(s *Sheet, limits capacity.Limits) []Overload {
	var list []Overload
	for _, l := range s.Lines() {
		if o := l.Overload(limits); o.Weeks > 0 {
			list = append(list, o)
		}
	}
	slices.SortStableFunc(list, func(x, y Overload) int { return y.Weeks - x.Weeks })
	return list
}

// Overload is how somebody is overloaded; of no weeks where they are not, and for what is nobody's.
func (l *Line) Overload(limits capacity.Limits) Overload {
	o := Overload{Person: l.Person}
	for k := range l.Cells {
		x := &l.Cells[k]
		if l.Person == nil || x.Available == 0 || limits.Of(x) != capacity.Over {
			continue
		}
		if o.Weeks++; o.Weeks == 1 {
			o.First = k
		}
		if load := x.Load(); !o.Worst.Given() || load.Cmp(o.Worst) > 0 {
			o.Worst = load
		}
	}
	return o
}

// Used is what some rows come to together, and how many of them are below their target.
func Used(lines []Line) (all capacity.Cell, below int) {
	for i := range lines {
		t := &lines[i].Total
		all.Add(t)
		if t.Below(t.Target()) {
			below++
		}
	}
	return all, below
}
