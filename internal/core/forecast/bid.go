package forecast

import (
	"cmp"
	"slices"

	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// Bid is something that is chosen and not begun, with what it is to use of each of several limits. Uses are whole numbers of the units of
// the limits; one that is negative gives room.
type Bid struct {
	Code, Category string
	Use            []money.Amount
}

// Bids are what some bids may use together.
type Bids struct {
	Sums   [][]money.Amount // of each limit, ascending
	Kept   fact.Ratio       // share of the runs in which every limit is kept to, that much included; none without a bid
	Pooled int              // bids that have finished projects to draw from; the others use what they are to use
}

// ChooseBids draws for each bid how a finished project turned out: its final cost over its first budget, of one of the bid's category with
// equal chance, where at least Enough are known, else of one of all. Most is how much may be used of each limit.
func ChooseBids(list []Bid, most []money.Amount, stories []Story, runs int, seed uint64) *Bids {
	b := &Bids{Sums: make([][]money.Amount, len(most))}
	for k := range most {
		b.Sums[k] = make([]money.Amount, runs)
	}
	pools := overrunsOf(stories)
	drawn, keys := make([][]fact.Ratio, len(list)), make([]uint64, len(list))
	for i := range list {
		keys[i] = key("bid", list[i].Code)
		if drawn[i] = pools.of("", list[i].Category); drawn[i] != nil {
			b.Pooled++
		}
	}
	kept := 0
	for run := range runs {
		s, within := stream(seed, run), true
		for i := range list {
			x := &list[i]
			ratio := fact.Of(1, 1)
			if drawn[i] != nil {
				ratio = pick(uniform(s, keys[i]), drawn[i])
			}
			for k := range most {
				b.Sums[k][run] += money.MulDiv(x.Use[k], ratio.Num, ratio.Den)
			}
		}
		for k := range most {
			within = within && b.Sums[k][run] <= most[k]
		}
		if within {
			kept++
		}
	}
	for k := range most {
		slices.Sort(b.Sums[k])
	}
	if len(list) > 0 && runs > 0 {
		b.Kept = fact.Of(int64(kept), int64(runs))
	}
	return b
}

// overrunsOf are the final costs of finished projects over their first budgets, by the codes of projects, so that no order of reading
// changes a draw.
func overrunsOf(stories []Story) *pools {
	x := &pools{category: map[string][]fact.Ratio{}}
	sorted := slices.SortedFunc(indexes(len(stories)), func(i, k int) int {
		return cmp.Compare(stories[i].Project.Code, stories[k].Project.Code)
	})
	for _, i := range sorted {
		p := stories[i].Project
		ac, first := p.Value(measure.AC), p.Value(measure.BudgetOriginal)
		if p.Status != measure.Closed || !ac.Known || !first.Known || first.N <= 0 {
			continue
		}
		r := fact.Of(ac.N, first.N)
		x.category[p.Category] = append(x.category[p.Category], r)
		x.all = append(x.all, r)
	}
	return x
}
