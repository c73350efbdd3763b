package people

import (
	"slices"

	"turret/internal/core/capacity"
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
