// Package selection chooses among candidates: the set of the most value that keeps within limits and to requirements, proved where it can
// be,
// with what each candidate and each limit costs, and the best value at each budget. It works by branch and bound on the linear relaxation;
// the
// relaxation is in floating point, and only bounds that hold whatever it came to are believed. Sets are checked in whole numbers.
//
// # Method
//
// The problem is a binary linear program: a knapsack with several limits, precedence (needs) and conflicts (not with). Branch and bound
// (Land and Doig 1960) settles one candidate after another; the bound of each node is that of the Lagrangian at the prices of the rows
// that the dual simplex method found, which holds for any prices that are not negative. So rounding in floating point can cost time and
// never a proof.
//
// # Bounds
//
// Sixty candidates under fifteen limits are proved within two seconds; beyond, the effort ends the search and the result says how far its
// value may be from the best. Values and uses are below 2^53 together, so that sums in floating point hold them to a unit.
package selection

import (
	"context"
	"math"

	"turret/internal/core/fact"
)

// Candidate may be chosen or not. Value and Use are whole numbers of units of one's own. A value may be negative: it is then chosen only
// where it is needed or makes room.
type Candidate struct {
	Code   string
	Valued bool    // without a value it is never chosen
	Value  int64   // whole units, such as a score in millionths or an amount; it may be negative
	Use    []int64 // of each limit; it may be negative
}

// Limit is the most of something that the chosen may use together, that much included.
type Limit struct {
	Name string
	Most int64 // in units of the uses
}

// Problem is a choice to make. Candidates are named by their indexes. Values and uses add up to less than 2^53.
type Problem struct {
	Candidates []Candidate
	Limits     []Limit
	Must       []int    // that have to be chosen, by index
	Never      []int    // that must not be
	Needs      [][2]int // the first needs the second
	Apart      [][2]int // not both
}

// Result is the best set found. Chosen is by candidate; Used and GivesUp are by limit, in their units.
type Result struct {
	Chosen  []bool
	Value   int64      // sum of those chosen
	Bound   int64      // no set has more
	Proven  bool       // the value is the bound
	Used    []int64    // of each limit
	Price   []fact.Int // value lost if one chosen were left out, or one left out were forced in; none where no set allows it
	GivesUp []fact.Int // value that each limit costs: what a choice without it would have more
	Rough   int        // prices that were not proved, and may be too high
	Nodes   int        // looked at
}

// Effort bounds the work, the same on any machine: nodes of the main search, and of each search for a price.
type Effort struct{ Main, Price int }

// Usual is an effort of about two seconds, for n candidates under 15 limits.
func Usual(n int) Effort {
	share := math.Pow(60/float64(max(n, 60)), 1.5) // larger ones take longer at each node
	return Effort{Main: int(60_000 * share), Price: int(4_000 * share)}
}

// Solve finds the best set, and what each candidate and limit costs. Where no set keeps to musts and limits it tells why instead. The same
// problem and effort give the same result, unless the context ends first.
func Solve(ctx context.Context, p *Problem, effort Effort) (*Result, *Unmet) {
	s, root, why := begun(ctx, p, effort.Main)
	if why != nil {
		return nil, why
	}
	left := effort.Price * shared
	rough := s.prices(root, effort.Price, &left)
	r := s.result()
	r.Rough = rough
	s.price(r)
	s.costs(r, effort.Price, &left)
	return r, nil
}

// shared is how many searches for prices may take all the work that one may.
const shared = 20

// Best finds the best set alone, looking at so many nodes at most.
func Best(ctx context.Context, p *Problem, nodes int) (*Result, *Unmet) {
	s, _, why := begun(ctx, p, nodes)
	if why != nil {
		return nil, why
	}
	return s.result(), nil
}

// begun has searched for the best set.
func begun(ctx context.Context, p *Problem, nodes int) (*solver, *relaxation, *Unmet) {
	s, why := prepare(p)
	if why != nil {
		return nil, nil, why
	}
	s.ctx = ctx
	root := s.relaxed()
	s.start()
	s.run(root, s.settled, nodes, &s.best)
	if !s.best.known {
		return nil, nil, s.unmet()
	}
	return s, root, nil
}

// result is what was found so far.
func (s *solver) result() *Result {
	b := &s.best
	return &Result{Chosen: b.set, Value: b.value, Bound: max(b.bound, b.value), Proven: b.bound <= b.value, Used: s.used(b.set),
		Nodes: s.nodes}
}
