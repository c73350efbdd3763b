package selection

import "math"

// relaxation is the linear program in which candidates may be chosen in part, solved by the dual simplex method with bounded variables.
// Its
// tableau holds the columns outside the basis alone: x(row) = g(row) - sum over columns of t(row, column) x(column), and the value is
// sum of d(column) x(column) and a constant that nobody asks for. Structural variables come first, then the slack of each row.
type relaxation struct {
	n, m     int       // candidates and rows
	t        []float64 // m rows of n
	g        []float64
	d        []float64
	basis    []int     // variable of each row
	outside  []int     // variable of each column
	low, top []float64 // bounds of each variable
	high     []bool    // by variable: at its upper bound while outside
	x        []float64 // of each row
	row      []float64 // scratch
}

const (
	tiny  = 1e-9 // below it a number is nothing
	loose = 1e-7 // by so much a variable may miss its bounds
)

// newRelaxation begins outside all rows, each variable at the bound that its value likes better: nothing can be gained by moving one
// alone.
func newRelaxation(values []float64, rows [][]float64, most []float64) *relaxation {
	n, m := len(values), len(rows)
	r := &relaxation{n: n, m: m, t: make([]float64, m*n), g: append([]float64(nil), most...), d: append([]float64(nil), values...),
		basis: make([]int, m), outside: make([]int, n), low: make([]float64, n+m), top: make([]float64, n+m), high: make([]bool, n+m),
		x: make([]float64, m), row: make([]float64, n)}
	for i, row := range rows {
		copy(r.t[i*n:], row)
		r.basis[i], r.top[n+i] = n+i, math.Inf(1)
	}
	for j := range n {
		r.outside[j], r.top[j], r.high[j] = j, 1, values[j] > 0
	}
	return r
}

// copyFrom takes over another of the same size.
func (r *relaxation) copyFrom(from *relaxation) {
	copy(r.t, from.t)
	copy(r.g, from.g)
	copy(r.d, from.d)
	copy(r.basis, from.basis)
	copy(r.outside, from.outside)
	copy(r.low, from.low)
	copy(r.top, from.top)
	copy(r.high, from.high)
}

// clone is a copy that shares nothing.
func (r *relaxation) clone() *relaxation {
	c := &relaxation{n: r.n, m: r.m, t: make([]float64, len(r.t)), g: make([]float64, len(r.g)), d: make([]float64, len(r.d)),
		basis: make([]int, len(r.basis)), outside: make([]int, len(r.outside)), low: make([]float64, len(r.low)),
		top: make([]float64, len(r.top)), high: make([]bool, len(r.high)), x: make([]float64, len(r.x)), row: make([]float64, r.n)}
	c.copyFrom(r)
	return c
}

// fix keeps a candidate in or out.
func (r *relaxation) fix(j int, in bool) {
	r.low[j], r.top[j], r.high[j] = 0, 0, false
	if in {
		r.low[j], r.top[j] = 1, 1
	}
}

// at is where a variable outside the basis stands.
func (r *relaxation) at(v int) float64 {
	if r.high[v] {
		return r.top[v]
	}
	return r.low[v]
}

// settle counts the values of the rows anew; pivots go on from there.
func (r *relaxation) settle() {
	for k, v := range r.outside {
		r.row[k] = r.at(v)
	}
	for i := range r.m {
		sum := r.g[i]
		for k, t := range r.t[i*r.n : i*r.n+r.n] {
			sum -= t * r.row[k]
		}
		r.x[i] = sum
	}
}

// solve pivots until every row is within its bounds, or until none can be brought there, or it has taken too long. What it came to is in
// duals, which hold a bound in any case.
func (r *relaxation) solve() (possible bool, row int) {
	r.settle()
	for range 50 + 5*(r.m+r.n) {
		row, below := r.worst()
		if row < 0 {
			return true, -1
		}
		k := r.entering(row, below)
		if k < 0 {
			return false, row
		}
		r.pivot(row, k, below)
	}
	return true, -1
}

// worst is the row that misses its bounds by most; -1 where none does.
func (r *relaxation) worst() (row int, below bool) {
	row, most := -1, loose
	for i, v := range r.basis {
		if miss := r.low[v] - r.x[i]; miss > most {
			row, most, below = i, miss, true
		}
		if miss := r.x[i] - r.top[v]; miss > most {
			row, most, below = i, miss, false
		}
	}
	return row, below
}

// entering is the column that brings a row back and loses least; -1 where none does.
func (r *relaxation) entering(row int, below bool) int {
	best, least, size := -1, math.Inf(1), 0.0
	for k, t := range r.t[row*r.n : row*r.n+r.n] {
		v := r.outside[k]
		if r.low[v] == r.top[v] || math.Abs(t) < tiny {
			continue
		}
		if below != (t > 0 == r.high[v]) { // moving it off its bound moves the row the other way
			continue
		}
		loss := math.Abs(r.d[k] / t)
		if loss < least-tiny || loss < least+tiny && math.Abs(t) > size {
			best, least, size = k, min(loss, least), math.Abs(t)
		}
	}
	return best
}

// pivot exchanges the variable of a row, which goes to the bound that it misses, with that of a column.
func (r *relaxation) pivot(row, k int, below bool) {
	n := r.n
	at := r.t[row*n : row*n+n]
	leaves, enters := r.basis[row], r.outside[k]
	to := r.top[leaves]
	if below {
		to = r.low[leaves]
	}
	move := (r.x[row] - to) / at[k]
	inverse := 1 / at[k]
	for c := range at {
		at[c] *= inverse
	}
	at[k] = inverse
	r.g[row] *= inverse
	for i := range r.m {
		if i == row {
			continue
		}
		line := r.t[i*n : i*n+n]
		f := line[k]
		if f == 0 {
			continue
		}
		r.x[i] -= f * move
		line[k] = 0
		for c, a := range at {
			line[c] -= f * a
		}
		r.g[i] -= f * r.g[row]
	}
	f := r.d[k]
	r.d[k] = 0
	for c, a := range at {
		r.d[c] -= f * a
	}
	r.x[row] = r.at(enters) + move
	r.basis[row], r.outside[k] = enters, leaves
	r.high[leaves], r.high[enters] = !below, false
}

// duals are the prices of the rows, none negative.
func (r *relaxation) duals(y []float64) {
	clear(y)
	for k, v := range r.outside {
		if v >= r.n {
			y[v-r.n] = max(0, -r.d[k])
		}
	}
}

// ray is what rows, weighed so, show of a row that cannot be brought within its bounds.
func (r *relaxation) ray(row int, y []float64) {
	clear(y)
	sign := -1.0
	if v := r.basis[row]; r.x[row] < r.low[v] {
		sign = 1
	}
	for k, v := range r.outside {
		if v >= r.n {
			y[v-r.n] = max(0, sign*r.t[row*r.n+k])
		}
	}
	if v := r.basis[row]; v >= r.n {
		y[v-r.n] = 1
	}
}

// parts are the shares of the candidates.
func (r *relaxation) parts(x []float64) {
	for _, v := range r.outside {
		if v < r.n {
			x[v] = r.at(v)
		}
	}
	for i, v := range r.basis {
		if v < r.n {
			x[v] = min(1, max(0, r.x[i]))
		}
	}
}
