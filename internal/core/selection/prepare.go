package selection

import "slices"

// state says what is settled of a candidate.
type state int8

const (
	open state = iota
	in
	out
)

// solver works on a problem that was prepared: what requirements settle is settled.
type solver struct {
	*Problem
	settled []state
	needs   [][]int // what each needs
	needed  [][]int // by what each is needed
	apart   [][]int
	without int // limit that is left out; -1 for none
	work
}

// prepare settles what musts, nevers and requirements settle, or tells why they cannot be kept to.
func prepare(p *Problem) (*solver, *Unmet) {
	n := len(p.Candidates)
	s := &solver{Problem: p, settled: make([]state, n), needs: make([][]int, n), needed: make([][]int, n), apart: make([][]int, n),
		without: -1}
	for _, x := range p.Needs {
		s.needs[x[0]] = append(s.needs[x[0]], x[1])
		s.needed[x[1]] = append(s.needed[x[1]], x[0])
	}
	for _, x := range p.Apart {
		s.apart[x[0]] = append(s.apart[x[0]], x[1])
		s.apart[x[1]] = append(s.apart[x[1]], x[0])
	}
	for i := range p.Candidates {
		if !p.Candidates[i].Valued && s.settled[i] == open {
			s.set(s.settled, i, out)
		}
	}
	for _, i := range p.Never {
		s.set(s.settled, i, out)
	}
	if list := s.clashes(); len(list) > 0 {
		return nil, &Unmet{Clashes: list}
	}
	for _, i := range p.Must {
		s.set(s.settled, i, in)
	}
	return s, nil
}

// set settles a candidate and what follows from it; false where that contradicts what is settled.
func (s *solver) set(at []state, i int, to state) bool {
	if at[i] != open {
		return at[i] == to
	}
	at[i] = to
	if to == out {
		for _, k := range s.needed[i] {
			if !s.set(at, k, out) {
				return false
			}
		}
		return true
	}
	for _, k := range s.needs[i] {
		if !s.set(at, k, in) {
			return false
		}
	}
	for _, k := range s.apart[i] {
		if !s.set(at, k, out) {
			return false
		}
	}
	return true
}

// used adds up what a set uses of each limit.
func (s *solver) used(set []bool) []int64 {
	sums := make([]int64, len(s.Limits))
	for i, chosen := range set {
		if chosen {
			for k, u := range s.Candidates[i].Use {
				sums[k] += u
			}
		}
	}
	return sums
}

// keeps reports whether a set keeps to every limit.
func (s *solver) keeps(used []int64) bool {
	for k, u := range used {
		if k != s.without && u > s.Limits[k].Most {
			return false
		}
	}
	return true
}

// value adds up a set.
func (s *solver) value(set []bool) (sum int64) {
	for i, chosen := range set {
		if chosen {
			sum += s.Candidates[i].Value
		}
	}
	return sum
}

// binding lists the limits that could be passed at all.
func (s *solver) binding() []int {
	var list []int
	for k := range s.Limits {
		var most int64
		for i := range s.Candidates {
			if s.settled[i] != out {
				if u := s.Candidates[i].Use[k]; u > 0 || s.settled[i] == in {
					most += u
				}
			}
		}
		if k != s.without && most > s.Limits[k].Most {
			list = append(list, k)
		}
	}
	return list
}

// mostPairs is how many requirements are rows of the relaxation. The others are kept to all the same, by what each set of them settles.
const mostPairs = 40

// relaxed makes the linear relaxation of what is open, and the rows that it is bounded by.
func (s *solver) relaxed() *relaxation {
	n := len(s.Candidates)
	s.rows, s.most = nil, nil
	for _, k := range s.binding() {
		row := make([]float64, n)
		for i := range s.Candidates {
			row[i] = float64(s.Candidates[i].Use[k])
		}
		s.rows, s.most = append(s.rows, row), append(s.most, float64(s.Limits[k].Most))
	}
	pairs := 0
	pair := func(a, b int, second, most float64) {
		if s.settled[a] == open && s.settled[b] == open && pairs < mostPairs {
			pairs++
			row := make([]float64, n)
			row[a], row[b] = 1, second
			s.rows, s.most = append(s.rows, row), append(s.most, most)
		}
	}
	for _, x := range s.Needs {
		pair(x[0], x[1], -1, 0)
	}
	for _, x := range s.Apart {
		pair(x[0], x[1], 1, 1)
	}
	scaled, most := slices.Clone(s.rows), slices.Clone(s.most)
	s.scale = make([]float64, len(s.rows))
	for i, row := range s.rows { // so that rows of money and of people weigh alike
		s.scale[i] = largest(row)
		scaled[i] = make([]float64, n)
		for j, u := range row {
			scaled[i][j] = u / s.scale[i]
		}
		most[i] /= s.scale[i]
	}
	values := make([]float64, n)
	for i := range s.Candidates {
		values[i] = float64(s.Candidates[i].Value)
	}
	s.values = values
	s.valueScale = largest(values)
	unit := make([]float64, n)
	for i, v := range values {
		unit[i] = v / s.valueScale
	}
	s.y, s.x, s.worth = make([]float64, len(s.rows)), make([]float64, n), make([]float64, n)
	r := newRelaxation(unit, scaled, most)
	for i, at := range s.settled {
		if at != open {
			r.fix(i, at == in)
		}
	}
	return r
}

// largest is the greatest of some numbers without their signs, and 1 where all are 0.
func largest(list []float64) float64 {
	most := 0.0
	for _, x := range list {
		most = max(most, x, -x)
	}
	if most == 0 {
		return 1
	}
	return most
}
