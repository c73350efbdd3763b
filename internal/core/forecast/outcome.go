package forecast

import (
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Percentile is the first value by which at least p percent of the runs came out, p from 1 to 100; the second result is false where there
// is none. The list stays as it is.
func Percentile[T calendar.Date | money.Amount](list []T, p int) (T, bool) {
	sorted := slices.Clone(list)
	slices.Sort(sorted)
	return At(sorted, p)
}

// At is Percentile of a list in ascending order.
func At[T calendar.Date | money.Amount](sorted []T, p int) (T, bool) {
	if len(sorted) == 0 {
		return 0, false
	}
	return sorted[max((p*len(sorted)+99)/100-1, 0)], true
}

// Chance is the share of the runs that came out at or before a value; none where nothing is known. Equal to the value is in time.
func Chance[T calendar.Date | money.Amount](list []T, by T) fact.Ratio {
	n := 0
	for _, x := range list {
		if x <= by {
			n++
		}
	}
	return fact.Of(int64(n), int64(len(list)))
}

// Group is what several projects come to together: the latest finish and the sum of the costs of those that have one, run by run, with the
// risks of nodes among them. A group in which nothing is known has empty lists.
func (m *Model) Group(r *Result, opt Options, projects []int, nodes []int64) Outcome {
	var g Outcome
	for _, i := range projects {
		if o := &r.Of[i]; o.Finish != nil && g.Finish == nil {
			g.Finish = make([]calendar.Date, r.Runs)
		}
		if o := &r.Of[i]; o.Cost != nil && g.Cost == nil {
			g.Cost = make([]money.Amount, r.Runs)
		}
	}
	for _, i := range projects {
		o := &r.Of[i]
		for run, d := range o.Finish {
			g.Finish[run] = max(g.Finish[run], d)
		}
		for run, a := range o.Cost {
			g.Cost[run] += a
		}
	}
	if g.Cost == nil || opt.NoRisks {
		return g
	}
	for _, id := range nodes {
		for k := range m.Nodes[id] {
			h := &m.Nodes[id][k]
			if h.Unpriced {
				g.Cost = nil
				return g
			}
			for run := range g.Cost {
				if !opt.Without[h.Code] && strikes(uniform(stream(opt.Seed, run), h.key), h.Probability) {
					g.Cost[run] += h.Cost
				}
			}
		}
	}
	return g
}
