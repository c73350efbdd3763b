package risk

// Cell is a square of the grid of risks, by likelihood and consequence from 1 to 5.
type Cell struct{ Likelihood, Consequence int64 }

// Cell is where a rating stands on the grid; false where it lacks one of the two, or one is out of bounds.
func (r *Rating) Cell() (Cell, bool) {
	l, c := r.Likelihood, r.Consequence
	on := func(n int64) bool { return n >= 1 && n <= 5 }
	return Cell{l.N, c.N}, l.Given && c.Given && on(l.N) && on(c.N)
}

// Grid counts how many stand in each square, by likelihood and consequence less one.
func Grid(cells []Cell) (n [5][5]int) {
	for _, c := range cells {
		n[c.Likelihood-1][c.Consequence-1]++
	}
	return n
}
