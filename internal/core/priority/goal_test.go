package priority_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/money"
	"turret/internal/core/priority"
)

// By hand: 100 of the first project is split 3 to 1 among two goals: 75 and 25. The second gives its 11 to the first goal; 10 of the third
// in
// three equal parts is 4, 3 and 3, since parts add up. The fourth has a rating of 0 alone, the fifth none: both are idle. In all 121.
func TestGoalsByHand(t *testing.T) {
	list, idle := priority.Cover(4, []money.Amount{100, 11, 10, 500, 7}, []priority.Contribution{{0, 0, 30_000}, {0, 1, 10_000},
		{1, 0, 50_000}, {2, 0, 5}, {2, 1, 5}, {2, 2, 5}, {3, 1, 0}})
	var got [][]int64
	for _, c := range list {
		got = append(got, []int64{int64(c.Projects), int64(c.Money)})
	}
	assert.Equal(t, [][]int64{{3, 90}, {2, 28}, {1, 3}, {0, 0}}, got)
	assert.Equal(t, []int{3, 4}, idle)
	assert.InDelta(t, 90.0/121, list[0].Share.Float(), 1e-12)
	list, _ = priority.Cover(1, []money.Amount{0}, []priority.Contribution{{0, 0, 1}})
	assert.False(t, list[0].Share.Given(), "nothing to share")
	assert.Equal(t, 1, list[0].Projects)
}
