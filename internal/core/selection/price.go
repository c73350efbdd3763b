package selection

import (
	"slices"

	"turret/internal/core/fact"
)

// other is the best set known of those in which a candidate stands the other way than in the best one.
func (s *solver) other(i int) *answer {
	if s.best.set[i] {
		return &s.seen[i]
	}
	return &s.seen[i+len(s.Candidates)]
}

// prices searches, candidate by candidate, for the best set in which it stands the other way; left is the work that all of them may take.
// It
// tells how many were not proved.
func (s *solver) prices(root *relaxation, most int, left *int) (rough int) {
	r := root.clone()
	for i := range s.Candidates {
		to := out
		if !s.best.set[i] {
			to = in
		}
		at := slices.Clone(s.settled)
		if s.settled[i] != open || !s.set(at, i, to) {
			continue
		}
		if *left <= 0 {
			rough++
			continue
		}
		r.copyFrom(root)
		for k := range at {
			if at[k] != s.settled[k] {
				r.fix(k, at[k] == in)
			}
		}
		before, a := s.nodes, s.other(i)
		s.run(r, at, min(most, *left), a)
		*left -= s.nodes - before
		if !a.proven {
			rough++
		}
	}
	return rough
}

// price fills in what the other way costs.
func (s *solver) price(r *Result) {
	r.Price = make([]fact.Int, len(s.Candidates))
	for i := range r.Price {
		if a := s.other(i); a.known {
			r.Price[i] = fact.Some(r.Value - a.value)
		}
	}
}

// costs fills in what each limit costs.
func (s *solver) costs(r *Result, most int, left *int) {
	r.GivesUp = make([]fact.Int, len(s.Limits))
	bound := s.binding()
	for k := range s.Limits {
		r.GivesUp[k] = fact.Some(0)
		if !slices.Contains(bound, k) {
			continue
		}
		s.without = k
		before, a := s.nodes, answer{known: true, value: r.Value}
		s.run(s.relaxed(), s.settled, min(most, max(0, *left)), &a)
		*left -= s.nodes - before
		r.GivesUp[k] = fact.Some(a.value - r.Value)
		s.without = -1
	}
}

// Point is the best value that a budget buys.
type Point struct {
	Budget, Value int64 // the most that may be used, and the best value known for it
	Chosen        []bool
	Proven        bool // no set within the budget has more
}

// Steps are budgets from 0 to what all candidates use of one, so many equal steps, with those besides that are named.
func Steps(budget []int64, steps int, besides ...int64) []int64 {
	var all int64
	for _, n := range budget {
		all += max(0, n)
	}
	list := append([]int64{all}, besides...)
	for k := range steps {
		list = append(list, all/int64(steps)*int64(k))
	}
	slices.Sort(list)
	return slices.Compact(list)
}

// Frontier is the best value at each of some budgets, of which each candidate takes its part. Budgets that musts do not keep to are left
// out. Each budget is solved by itself; the value never falls as the budget grows where both are proved.
func Frontier(p *Problem, best func(*Problem) *Result, budget, at []int64) []Point {
	q := *p
	q.Candidates = slices.Clone(p.Candidates)
	q.Limits = append(slices.Clone(p.Limits), Limit{})
	for i := range q.Candidates {
		q.Candidates[i].Use = append(slices.Clone(q.Candidates[i].Use), budget[i])
	}
	var list []Point
	for _, most := range at {
		q.Limits[len(q.Limits)-1].Most = most
		if r := best(&q); r != nil {
			list = append(list, Point{most, r.Value, r.Chosen, r.Proven})
		}
	}
	return list
}
