package selection

import "slices"

// Unmet says why no set keeps to musts and limits.
type Unmet struct {
	Clashes []Clash // requirements that contradict one another
	Short   []Short // limits that the musts do not keep to, with the least that they would have to be
	Unknown bool    // no set was found, and it is not proved that there is none
}

// Clash is a must that cannot be kept to.
type Clash struct {
	Must  int   // the candidate that must be chosen
	Chain []int // what it needs, one needing the next, up to the one that cannot be
	Why   Why
	Other int // that it is apart from, and that must be chosen too
}

// Why says what forbids the last of a chain.
type Why uint8

// Reasons.
const (
	IsNever Why = iota
	HasNoValue
	IsApart
)

// Short is a limit that musts do not keep to.
type Short struct {
	Limit       int   // index of the limit
	Most, Least int64 // as it is, and what it would have to be at least
}

// clashes lists the musts that cannot be kept to.
func (s *solver) clashes() (list []Clash) {
	from, must := map[int]int{}, map[int]int{} // by what each is needed, and for which must
	var queue []int
	for _, i := range s.Must {
		if _, ok := must[i]; !ok {
			from[i], must[i] = -1, i
			queue = append(queue, i)
		}
	}
	for at := 0; at < len(queue); at++ {
		for _, k := range s.needs[queue[at]] {
			if _, ok := must[k]; !ok {
				from[k], must[k] = queue[at], must[queue[at]]
				queue = append(queue, k)
			}
		}
	}
	chain := func(i int) (list []int) {
		for ; i >= 0; i = from[i] {
			list = append(list, i)
		}
		slices.Reverse(list)
		return list
	}
	for _, i := range queue {
		switch {
		case slices.Contains(s.Never, i):
			list = append(list, Clash{must[i], chain(i), IsNever, -1})
		case !s.Candidates[i].Valued:
			list = append(list, Clash{must[i], chain(i), HasNoValue, -1})
		}
		for _, k := range s.apart[i] {
			if _, ok := must[k]; ok && i < k {
				list = append(list, Clash{must[i], chain(i), IsApart, k})
			}
		}
	}
	return list
}

// mostTried is up to how many candidates that use less than nothing of a limit are tried in all ways to tell the least relaxation.
const mostTried = 12

// unmet tells which limits the musts do not keep to, by the set that passes them least, as shares of what the candidates use of them.
func (s *solver) unmet() *Unmet {
	if !s.best.proven {
		return &Unmet{Unknown: true}
	}
	var eases []int
	for i := range s.Candidates {
		if s.settled[i] == open && slices.ContainsFunc(s.Candidates[i].Use, func(u int64) bool { return u < 0 }) {
			eases = append(eases, i)
		}
	}
	eases = eases[:min(len(eases), mostTried)]
	size := make([]float64, len(s.Limits))
	for k := range size {
		for i := range s.Candidates {
			size[k] += max(float64(s.Candidates[i].Use[k]), -float64(s.Candidates[i].Use[k]))
		}
	}
	var best []int64
	least := 0.0
	for pick := range 1 << len(eases) {
		at, ok := slices.Clone(s.settled), true
		for n, i := range eases {
			ok = ok && (pick>>n&1 == 0 || s.set(at, i, in))
		}
		if !ok {
			continue
		}
		set := make([]bool, len(at))
		for i := range at {
			set[i] = at[i] == in
		}
		used, excess := s.used(set), 0.0
		for k, u := range used {
			if over := u - s.Limits[k].Most; over > 0 {
				excess += float64(over) / max(size[k], 1)
			}
		}
		if best == nil || excess < least {
			best, least = used, excess
		}
	}
	u := &Unmet{}
	for k, used := range best {
		if used > s.Limits[k].Most {
			u.Short = append(u.Short, Short{k, s.Limits[k].Most, used})
		}
	}
	return u
}
