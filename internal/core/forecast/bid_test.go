package forecast

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// overrun are finished projects of a category that were budgeted at 100.00 and cost so many cents in the end.
func overrun(category string, n int, final money.Amount) (list []Story) {
	for i := range n {
		p := &measure.Project{Info: measure.Info{Code: fmt.Sprintf("%s%03d", category, i), Status: measure.Closed, Category: category}}
		b := cost.NewBuilder(rates, env.Calendar, env.AsOf)
		b.Budget(cost.Line{Amount: 10_000, Currency: "EUR", Month: on("2026-01-01").Month()})
		b.Post(cost.Posting{Date: on("2026-02-02"), Amount: final, Currency: "EUR"})
		p.Account = b.Account()
		measure.Assess(p, env)
		list = append(list, Story{Project: p})
	}
	return list
}

// What finished projects came to in every case is what the chosen come to: 1,000 and 500 at twice the budget are 3,000.
func TestTheChosenCostWhatFinishedProjectsDid(t *testing.T) {
	bids := []Bid{{"P1", "a", []money.Amount{1_000, 0}}, {"P2", "b", []money.Amount{500, 40}}}
	b := ChooseBids(bids, []money.Amount{3_000, 80}, overrun("a", 20, 20_000), 7, 1)
	assert.Equal(t, [][]money.Amount{{3_000, 3_000, 3_000, 3_000, 3_000, 3_000, 3_000}, {80, 80, 80, 80, 80, 80, 80}}, b.Sums)
	assert.Equal(t, fact.Of(7, 7), b.Kept, "as much as there is")
	assert.Equal(t, 2, b.Pooled, "b has none of its own, and draws from all")
	for _, most := range [][]money.Amount{{2_999, 80}, {3_000, 79}} {
		assert.Zero(t, ChooseBids(bids, most, overrun("a", 20, 20_000), 7, 1).Kept.Num, "one limit passed is enough")
	}

	few := ChooseBids(bids, []money.Amount{1_500, 40}, overrun("a", 19, 20_000), 3, 1)
	assert.Equal(t, [][]money.Amount{{1_500, 1_500, 1_500}, {40, 40, 40}}, few.Sums, "nineteen are too few to draw from")
	assert.Zero(t, few.Pooled)
	assert.False(t, ChooseBids(nil, []money.Amount{1}, nil, 3, 1).Kept.Given())
}

// Of the bid's own category where there are enough, else of all; what is not finished, or has no first budget, teaches nothing.
func TestWhatABidDrawsFrom(t *testing.T) {
	stories := slices.Concat(overrun("a", 20, 20_000), overrun("b", 20, 10_000))
	sums := func(category string, stories []Story) []money.Amount {
		return slices.Compact(ChooseBids([]Bid{{"P", category, []money.Amount{100}}}, []money.Amount{1}, stories, 400, 1).Sums[0])
	}
	assert.Equal(t, []money.Amount{200}, sums("a", stories))
	assert.Equal(t, []money.Amount{100}, sums("b", stories))
	assert.Equal(t, []money.Amount{100, 200}, sums("c", stories))
	for i := range stories[:20] {
		stories[i].Project.Status = measure.Open
	}
	assert.Equal(t, []money.Amount{100}, sums("a", stories))
}

// Half of what is drawn from has doubled: of two bids of 100, each run doubles none in a quarter, one in a half, both in a quarter. What
// one
// draws hangs neither on the other nor on the order of reading.
func TestBidsAreDrawnEachByItself(t *testing.T) {
	stories := slices.Concat(overrun("a", 20, 20_000), overrun("b", 20, 10_000))
	two := []Bid{{"P1", "c", []money.Amount{100}}, {"P2", "c", []money.Amount{100}}}
	b := ChooseBids(two, []money.Amount{300}, stories, 40_000, 5)
	count := map[money.Amount]int{}
	for _, x := range b.Sums[0] {
		count[x]++
	}
	assert.InDelta(t, 10_000, count[200], 400)
	assert.InDelta(t, 20_000, count[300], 400)
	assert.InDelta(t, 10_000, count[400], 400)
	assert.InDelta(t, 0.75, b.Kept.Float(), 0.01)

	slices.Reverse(stories)
	slices.Reverse(two)
	assert.Equal(t, b.Sums, ChooseBids(two, []money.Amount{300}, stories, 40_000, 5).Sums)
	assert.NotEqual(t, b.Sums, ChooseBids(two, []money.Amount{300}, stories, 40_000, 6).Sums, "another seed")
}
