package pipeline

import (
	"math"

	"turret/internal/core/fact"
	"turret/internal/core/forecast"
	"turret/internal/core/money"
)

// Ahead is what the chosen may cost, where they turn out as finished projects did.
type Ahead struct {
	Lines  []AheadLine // all of them at first, then by limit of money
	Kept   fact.Ratio  // chance that every limit of money is kept to; none where there is none, or nothing is chosen
	Chosen int
	Pooled int // of the chosen, those that have finished projects to draw from
	Runs   int
}

// AheadLine is what the chosen may use of a limit.
type AheadLine struct {
	Limit             *Limit // nil for their cost in all
	Planned, P50, P80 money.Amount
	Most              money.Amount // of the limit
	Kept              fact.Ratio   // chance that it is kept to; none for the cost in all
}

// aheadRuns is how often the cost of the chosen is drawn.
const aheadRuns = 2_000

// Ahead draws what the chosen may cost from how projects turned out, in the currency of the choice. How many people they need is not drawn.
func (c *Choice) Ahead(stories []forecast.Story) *Ahead {
	x := &Ahead{Runs: aheadRuns, Lines: []AheadLine{{Planned: money.Amount(c.Spent())}}}
	most, at := []money.Amount{math.MaxInt64}, []int{}
	for k, l := range c.Limits {
		if l.Money() {
			x.Lines = append(x.Lines, AheadLine{Limit: l, Planned: money.Amount(c.Result.Used[k]),
				Most: money.Amount(c.Most(k))})
			most, at = append(most, money.Amount(c.Most(k))), append(at, k)
		}
	}
	var bids []forecast.Bid
	for i := range c.Rows {
		r := &c.Rows[i]
		if !r.In {
			continue
		}
		b := forecast.Bid{Code: r.Project.Code, Category: r.Project.Category, Use: []money.Amount{r.Project.Account.Budget()}}
		for _, k := range at {
			b.Use = append(b.Use, money.Amount(r.Use[k]))
		}
		bids = append(bids, b)
	}
	got := forecast.ChooseBids(bids, most, stories, aheadRuns, 1)
	x.Chosen, x.Pooled = len(bids), got.Pooled
	if len(at) > 0 {
		x.Kept = got.Kept
	}
	for k := range x.Lines {
		line := &x.Lines[k]
		line.P50, _ = forecast.At(got.Sums[k], 50)
		line.P80, _ = forecast.At(got.Sums[k], 80)
		if line.Limit != nil {
			line.Kept = forecast.Chance(got.Sums[k], line.Most)
		}
	}
	return x
}
