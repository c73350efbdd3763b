package register

import "turret/internal/core/risk"

// Cell is a square of the grid of risks.
type Cell = risk.Cell

// cellOf is where a rating stands; nil where it stands nowhere.
func cellOf(r *risk.Rating) *Cell {
	if c, ok := r.Cell(); ok {
		return &c
	}
	return nil
}

func holds(c *Cell, l *Line, after bool) bool {
	r := &l.Before
	if after {
		r = &l.After
	}
	at := cellOf(r)
	return at != nil && *at == *c
}

// Spot is where a risk stands on the grid: now, in the period before, and after its response. Was is nil where it was not there or not
// rated.
type Spot struct {
	Line             *Line
	Now, Was, Aiming *Cell
}

// Spots are the open risks that are rated; without is how many are open and not.
func Spots(list, before []Line) (spots []Spot, without int) {
	was := map[string]*Cell{}
	for i := range before {
		if before[i].Open {
			was[before[i].Key()] = cellOf(&before[i].Before)
		}
	}
	for i := range list {
		l := &list[i]
		if !l.Open {
			continue
		}
		s := Spot{Line: l, Now: cellOf(&l.Before), Was: was[l.Key()], Aiming: cellOf(&l.After)}
		if s.Now == nil {
			without++
			continue
		}
		spots = append(spots, s)
	}
	return spots, without
}

// Counts are how many spots stand in each square, by likelihood and consequence less one; by their aims where after.
func Counts(spots []Spot, after bool) [5][5]int {
	var cells []risk.Cell
	for i := range spots {
		at := spots[i].Now
		if after {
			at = spots[i].Aiming
		}
		if at != nil {
			cells = append(cells, *at)
		}
	}
	return risk.Grid(cells)
}
