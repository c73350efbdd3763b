package selection

import (
	"cmp"
	"context"
	"math"
	"slices"
)

// work is what a search goes on with.
type work struct {
	ctx        context.Context
	best       answer      // the best set known
	to         *answer     // what is searched for
	seen       []answer    // the best set found of those with each candidate left out, then of those with it in
	nodes      int         // looked at so far
	rows       [][]float64 // of the relaxation, as they came
	most       []float64
	scale      []float64 // of each row, by which the relaxation divides it
	values     []float64
	valueScale float64
	y, x       []float64     // scratch: prices of the rows, shares of the candidates
	worth      []float64     // of each candidate at these prices
	spare      []*relaxation // by depth
	states     [][]state
	order      []int
	then       []int64 // scratch: what is used
}

// answer is the best set that a search knows of, and what no set has more than.
type answer struct {
	known  bool
	set    []bool // by candidate; nobody changes it
	value  int64
	bound  int64 // no set has more
	proven bool
}

// take keeps the set, which nobody changes any more, where it is better.
func (a *answer) take(set []bool, value int64) {
	if !a.known || value > a.value {
		a.known, a.value, a.set = true, value, set
	}
}

// none is below every bound.
const none = math.MinInt64

// search is one branch and bound.
type search struct {
	*solver
	left  int     // nodes that may still be looked at
	bound int64   // of what was not looked at
	sum   float64 // the last bound
}

// run searches from a relaxation for a better set than the one known, and says what bound it proved.
func (s *solver) run(root *relaxation, settled []state, nodes int, to *answer) {
	s.to = to
	x := &search{solver: s, left: nodes, bound: none}
	x.visit(root, slices.Clone(settled), 0)
	to.bound, to.proven = x.bound, x.bound == none
	if to.known {
		to.bound = max(x.bound, to.value)
		to.proven = to.bound == to.value
	}
}

// visit looks at the sets that agree with what is settled.
func (x *search) visit(r *relaxation, settled []state, depth int) {
	possible, row := r.solve()
	if !possible {
		r.ray(row, x.y)
		if x.impossible(settled) {
			return
		}
	}
	r.duals(x.y)
	bound := x.upper(settled)
	if x.beaten(bound) {
		return
	}
	if x.left--; x.left < 0 || depth > deepest || x.ctx.Err() != nil {
		x.bound = max(x.bound, bound)
		return
	}
	x.nodes++
	r.parts(x.x)
	at, whole := x.branch(settled)
	if whole || x.nodes%roundEach == 1 {
		x.round(settled)
	}
	if x.beaten(bound) || at < 0 { // where all is settled, round has looked at it
		return
	}
	if !x.tighten(settled) {
		return
	}
	if settled[at] != open {
		if at, _ = x.branch(settled); at < 0 {
			x.round(settled)
			return
		}
	}
	first := in
	if x.x[at] < 0.5 {
		first = out
	}
	for _, to := range []state{first, in + out - first} {
		x.child(r, settled, at, to, depth)
	}
}

// deepest is how many candidates are settled one after another, each of which takes room.
const deepest = 300

// roundEach is at how many nodes sets are made of the relaxation.
const roundEach = 4

// tighten settles candidates whose other way is beaten by the bound, as prices of the rows have it; false where that leaves nothing.
func (x *search) tighten(settled []state) bool {
	if !x.to.known {
		return true
	}
	for i, at := range settled {
		if at != open {
			continue
		}
		if int64(math.Floor(x.sum-math.Abs(x.worth[i]))) > x.to.value {
			continue
		}
		to := out
		if x.worth[i] > 0 {
			to = in
		}
		if !x.set(settled, i, to) {
			return false
		}
	}
	return true
}

// child visits the sets in which a candidate is settled so.
func (x *search) child(r *relaxation, settled []state, at int, to state, depth int) {
	for len(x.spare) <= depth {
		x.spare, x.states = append(x.spare, nil), append(x.states, make([]state, len(settled)))
	}
	if c := x.spare[depth]; c == nil || c.m != r.m || c.n != r.n {
		x.spare[depth] = r.clone()
	} else {
		c.copyFrom(r)
	}
	next := x.states[depth]
	copy(next, settled)
	if !x.set(next, at, to) {
		return
	}
	for i, at := range next {
		if c := x.spare[depth]; at != open && c.low[i] != c.top[i] {
			c.fix(i, at == in)
		}
	}
	x.visit(x.spare[depth], next, depth+1)
}

// beaten reports whether a bound leaves nothing better than what is known.
func (x *search) beaten(bound int64) bool { return bound == none || x.to.known && bound <= x.to.value }

// upper is a bound of the value of all sets that agree with what is settled. It holds for any prices of the rows that are not negative:
// what a
// set uses too much of only lowers its worth at them.
func (x *search) upper(settled []state) int64 {
	sum, size := 0.0, 0.0
	for k, y := range x.y {
		x.y[k] = y * x.valueScale / x.scale[k]
		sum += x.y[k] * x.most[k]
		size += math.Abs(x.y[k] * x.most[k])
	}
	for i, v := range x.values {
		if settled[i] == out {
			continue
		}
		worth, besides := v, math.Abs(v)
		for k, y := range x.y {
			if y != 0 {
				worth -= y * x.rows[k][i]
				besides += math.Abs(y * x.rows[k][i])
			}
		}
		size += besides
		x.worth[i] = worth
		if settled[i] == in || worth > 0 {
			sum += worth
		}
	}
	x.sum = sum + size*slip
	return int64(math.Floor(x.sum))
}

// slip is more than a sum of floating point numbers is wrong by, of the size of its parts.
const slip = 1e-13

// impossible reports whether the rows, weighed as a ray has it, let nothing through.
func (x *search) impossible(settled []state) bool {
	least, size := 0.0, 0.0
	for i := range x.values {
		if settled[i] == out {
			continue
		}
		use := 0.0
		for k, y := range x.y {
			if y != 0 {
				use += y * x.rows[k][i] / x.scale[k]
				size += math.Abs(y * x.rows[k][i] / x.scale[k])
			}
		}
		if settled[i] == in || use < 0 {
			least += use
		}
	}
	for k, y := range x.y {
		least -= y * x.most[k] / x.scale[k]
		size += math.Abs(y * x.most[k] / x.scale[k])
	}
	return least > size*slip
}

// branch is the open candidate that is least decided, -1 for none, and whether all are decided.
func (x *search) branch(settled []state) (best int, whole bool) {
	best, whole = -1, true
	most := -1.0
	for i, at := range settled {
		if at != open {
			continue
		}
		whole = whole && min(x.x[i], 1-x.x[i]) < loose
		undecided := min(x.x[i], 1-x.x[i]) * (1 + math.Abs(x.values[i])/x.valueScale)
		if undecided > most {
			best, most = i, undecided
		}
	}
	return best, whole
}

// round makes a set of the relaxation, the surest first, and takes it where it keeps to everything. It takes whatever is better.
func (x *search) round(settled []state) {
	x.order = x.order[:0]
	for i, at := range settled {
		if at == open {
			x.order = append(x.order, i)
		}
	}
	slices.SortFunc(x.order, func(a, b int) int {
		return cmp.Or(cmp.Compare(x.x[b], x.x[a]), cmp.Compare(x.values[b], x.values[a]), a-b)
	})
	x.fill(settled, x.order)
}

// fill takes candidates in an order as long as limits and requirements let it.
func (s *solver) fill(settled []state, order []int) {
	at := slices.Clone(settled)
	used := make([]int64, len(s.Limits))
	for i := range at {
		if at[i] == in {
			s.add(used, i)
		}
	}
	for _, i := range order {
		if at[i] != open {
			continue
		}
		next := at
		if len(s.needs[i])+len(s.apart[i]) > 0 {
			if next = slices.Clone(at); !s.set(next, i, in) {
				continue
			}
		}
		worth, then := s.with(used, at, next, i)
		keeps := s.keeps(used)
		if s.keeps(then) && (worth > 0 || !keeps) || !keeps && lighter(then, used) {
			at, used = next, slices.Clone(then)
			at[i] = in
		}
	}
	if !s.keeps(used) {
		return
	}
	set := make([]bool, len(at))
	for i := range at {
		set[i] = at[i] == in
	}
	s.found(set)
}

// add adds what a candidate uses.
func (s *solver) add(used []int64, i int) {
	for k, u := range s.Candidates[i].Use {
		used[k] += u
	}
}

// with is what a candidate is worth, and what is used with it, and with all that next takes besides what at does.
func (s *solver) with(used []int64, at, next []state, i int) (worth int64, then []int64) {
	s.then = append(s.then[:0], used...)
	worth = s.Candidates[i].Value
	s.add(s.then, i)
	if &at[0] == &next[0] {
		return worth, s.then
	}
	for k := range next {
		if k != i && next[k] == in && at[k] != in {
			worth += s.Candidates[k].Value
			s.add(s.then, k)
		}
	}
	return worth, s.then
}

// lighter reports whether nothing is used more and something less.
func lighter(a, b []int64) bool {
	less := false
	for k := range a {
		if a[k] > b[k] {
			return false
		}
		less = less || a[k] < b[k]
	}
	return less
}

// found notes a set that keeps to everything.
func (s *solver) found(set []bool) {
	value := s.value(set)
	s.to.take(set, value)
	if s.without < 0 {
		for i, chosen := range set {
			at := i
			if chosen {
				at += len(set)
			}
			s.seen[at].take(set, value)
		}
		s.best.take(set, value)
	}
}

// start fills the candidates in by value, so that something is known early.
func (s *solver) start() {
	n := len(s.Candidates)
	s.seen, s.to = make([]answer, 2*n), &s.best
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Or(cmp.Compare(s.Candidates[b].Value, s.Candidates[a].Value), a-b) })
	s.fill(s.settled, order)
}
