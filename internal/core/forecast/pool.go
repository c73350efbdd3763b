package forecast

import (
	"cmp"
	"math/big"
	"slices"

	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// outturn is a closed period of a finished project with what its cost to go came to.
type outturn struct {
	share fact.Ratio // elapsed
	till  fact.Ratio // the elapsed share half way to the next
	first bool       // it is earlier than the next, so that half way counts as near to it
	ratio fact.Ratio // the cost after it over the forecast to go then
	at    int        // among the closed periods
}

// outturns lists, of each finished project that tells any, the closed periods in which something was to go, by elapsed share; of equal ones
// the earliest.
func outturns(stories []Story) [][]outturn {
	var all [][]outturn
	for i := range stories {
		s := &stories[i]
		final := s.Project.Value(measure.AC)
		if s.Project.Status != measure.Closed || !final.Known {
			continue
		}
		if list := s.outturns(final.Amount()); len(list) > 0 {
			all = append(all, list)
		}
	}
	return all
}

// outturns are the closed periods of one story by elapsed share, with what the cost after each came to over the forecast then.
func (s *Story) outturns(final money.Amount) []outturn {
	var list []outturn
	for k := range s.Moments {
		m := &s.Moments[k]
		share, spent := m.Value(measure.TimePassed), m.Value(measure.AC)
		if share.Known && spent.Known && m.toGo() > 0 {
			list = append(list, outturn{share: share.Fraction(), ratio: fact.Of(int64(final-spent.Amount()), int64(m.toGo())), at: k})
		}
	}
	slices.SortFunc(list, func(a, b outturn) int { return cmp.Or(a.share.Cmp(b.share), cmp.Compare(a.at, b.at)) })
	list = slices.CompactFunc(list, func(a, b outturn) bool { return a.share.Cmp(b.share) == 0 })
	for k := range len(list) - 1 {
		next := &list[k+1]
		list[k].till, list[k].first = between(list[k].share, next.share), list[k].at < next.at
	}
	return list
}

// between is half way from one fraction to another.
func between(a, b fact.Ratio) fact.Ratio {
	sum := new(big.Rat).Add(a.Rat(), b.Rat())
	return fact.Exactly(sum.Quo(sum, big.NewRat(2, 1)))
}

// nearest is the one of a project's outturns, of which there are some, whose elapsed share is nearest to one; the earlier of two as near.
func nearest(list []outturn, share fact.Ratio) *outturn {
	i, _ := slices.BinarySearchFunc(list[:len(list)-1], share, func(x outturn, share fact.Ratio) int {
		c := x.till.Cmp(share)
		if c == 0 && !x.first {
			return -1 // so that the next is taken
		}
		return c
	})
	return &list[i]
}

// costPool is, of each finished project, the cost after its closed period at the elapsed share nearest to the project's own over the
// forecast to go then; empty where fewer than enough projects tell one.
func (b *builder) costPool(p *measure.Project) []fact.Ratio {
	share := p.Value(measure.TimePassed)
	if !share.Known || len(b.ended) < Enough {
		return nil
	}
	list := make([]fact.Ratio, len(b.ended))
	for i, of := range b.ended {
		list[i] = nearest(of, share.Fraction()).ratio
	}
	return list
}
