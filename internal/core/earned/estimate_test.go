package earned

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// Work worth 600 is left of a budget of 1,000, and 500 are spent. By hand: an estimate of 1,250 leaves 750, 0.80 for each; 1,100 leaves
// 600, 1.00; a gap right on a limit has not crossed it.
func TestWhatAnEstimateAsksOfTheRest(t *testing.T) {
	for _, x := range []struct {
		estimate money.Amount
		cpi      fact.Ratio
		index    fact.Ratio
		judged   Realism
		better   fact.Ratio
	}{
		{1250, fact.Of(4, 5), fact.Of(4, 5), InLine, fact.Of(0, 1)},
		{1100, fact.Of(4, 5), fact.Of(1, 1), Unrealistic, fact.Of(1, 4)},
		{1100, fact.Of(9, 10), fact.Of(1, 1), Hopeful, fact.Of(1, 9)},
		{1100, fact.Of(899, 1000), fact.Of(1, 1), Unrealistic, fact.Of(101, 899)},
		{1100, fact.Of(97, 100), fact.Of(1, 1), InLine, fact.Of(3, 97)},
		{1100, fact.Of(969, 1000), fact.Of(1, 1), Hopeful, fact.Of(31, 969)},
		{1100, fact.Of(11, 10), fact.Of(1, 1), InLine, fact.Of(-1, 11)},
		{1100, fact.Of(1101, 1000), fact.Of(1, 1), Cautious, fact.Of(-101, 1101)},
		{1100, fact.Ratio{}, fact.Of(1, 1), Unjudged, fact.Ratio{}},
		{1100, fact.Of(0, 1), fact.Of(1, 1), Unrealistic, fact.Ratio{}},
		{500, fact.Of(4, 5), fact.Ratio{}, Unjudged, fact.Ratio{}},
		{400, fact.Of(4, 5), fact.Ratio{}, Unjudged, fact.Ratio{}},
	} {
		got := Asks(x.estimate, 1000, 400, 500, x.cpi)
		assert.Equal(t, []bool{x.index.Given(), x.better.Given()}, []bool{got.Index.Given(), got.Better.Given()}, x)
		assert.Equal(t, x.judged, got.Judged, x)
		if x.index.Given() {
			assert.Zero(t, x.index.Cmp(got.Index), x)
		}
		if x.better.Given() {
			assert.Zero(t, x.better.Cmp(got.Better), x)
		}
	}
	done := Asks(1250, 1000, 1000, 500, fact.Of(2, 1))
	assert.Equal(t, Cautious, done.Judged, "nothing is left to do")
	assert.Equal(t, "cautious: far worse than so far", done.Judged.String())
	more := Asks(1250, 1000, 1075, 500, fact.Of(1, 2))
	assert.Equal(t, fact.Of(-1, 10), more.Index, "more is earned than was budgeted")
}
