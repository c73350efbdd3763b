package earned

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Planned 100, 200, 300, 400 from February on; 450 earned by the end of May: two months and half of the third in four: 2.5 of 4, an
// index of 0.625, and the four months take 6.4: six to the end of July, and 40 % of August's 21 working days are 8.4: the ninth, 13 August.
func TestEarnedScheduleByHand(t *testing.T) {
	s, ok := Schedule(on("2026-01-01").Month(), []money.Amount{0, 100, 200, 300, 400, 0}, 450, on("2026-05-31"), calendar.Standard)
	require.True(t, ok)
	assert.InDelta(t, 2.5, s.Earned, 1e-12)
	assert.InDelta(t, 4, s.Passed, 1e-12)
	assert.InDelta(t, 0.625, s.Index(), 1e-12)
	assert.Equal(t, 4, s.Planned)
	assert.Equal(t, on("2026-08-13"), s.Finish)
}

func TestEarnedScheduleAtItsEnds(t *testing.T) {
	plan := []money.Amount{100, 100}
	first := on("2026-01-01").Month()
	s, ok := Schedule(first, plan, 0, on("2026-01-31"), calendar.Standard)
	require.True(t, ok)
	assert.Zero(t, s.Earned)
	assert.Zero(t, s.Finish, "nothing earned tells of no finish")
	s, _ = Schedule(first, plan, 200, on("2026-02-28"), calendar.Standard)
	assert.Equal(t, []float64{2, 2}, []float64{s.Earned, s.Passed})
	assert.Equal(t, on("2026-02-28"), s.Finish)
	s, _ = Schedule(first, plan, 300, on("2026-02-28"), calendar.Standard)
	assert.InDelta(t, 2, s.Earned, 1e-12, "no more than the whole plan is earned")
	_, ok = Schedule(first, nil, 5, on("2026-02-28"), calendar.Standard)
	assert.False(t, ok)
	_, ok = Schedule(first, plan, 5, on("2025-12-31"), calendar.Standard)
	assert.False(t, ok, "nothing has passed")
}

// Budget 1,000, spent 500, earned 400 of 500 planned: 500 + 600 / (0.8 x 0.8) = 1,437.50.
func TestAtBothIndices(t *testing.T) {
	e, ok := AtBothIndices(100_000, 50_000, 40_000, 50_000)
	assert.True(t, ok)
	assert.Equal(t, money.Amount(143_750), e)
	_, ok = AtBothIndices(100_000, 50_000, 0, 50_000)
	assert.False(t, ok)
}

// More earned is never less schedule, and what is earned as planned is as many periods as have passed.
func TestEarnedScheduleGrowsWithWhatIsEarned(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		first := on("2026-01-01").Month()
		var plan []money.Amount
		var sum money.Amount
		for range rapid.IntRange(1, 24).Draw(t, "months") {
			plan = append(plan, money.Amount(rapid.Int64Range(1, 1e9).Draw(t, "planned")))
			sum += plan[len(plan)-1]
		}
		a := money.Amount(rapid.Int64Range(0, int64(sum)).Draw(t, "earned"))
		b := money.Amount(rapid.Int64Range(int64(a), int64(sum)).Draw(t, "more"))
		x, _ := Schedule(first, plan, a, on("2026-12-31"), calendar.Standard)
		y, _ := Schedule(first, plan, b, on("2026-12-31"), calendar.Standard)
		if x.Earned > y.Earned+1e-12 || x.Earned < 0 || y.Earned > float64(len(plan)) {
			t.Fatalf("%d earns %f periods, %d %f of %d", a, x.Earned, b, y.Earned, len(plan))
		}
		k := rapid.IntRange(1, len(plan)).Draw(t, "whole")
		var whole money.Amount
		for _, m := range plan[:k] {
			whole += m
		}
		z, _ := Schedule(first, plan, whole, (first + calendar.Month(k) - 1).Last(), calendar.Standard)
		if z.Earned != float64(k) || z.Passed != float64(k) {
			t.Fatalf("as planned after %d periods: %+v", k, z)
		}
	})
}
