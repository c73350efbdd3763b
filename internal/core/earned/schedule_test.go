package earned

import (
	"math/big"
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
	assert.Equal(t, []string{"5/2", "4/1", "5/8"}, []string{s.Earned.String(), s.Passed.String(), s.Index().String()})
	assert.Equal(t, 4, s.Planned)
	assert.Equal(t, on("2026-08-13"), s.Finish)
}

func TestEarnedScheduleAtItsEnds(t *testing.T) {
	plan := []money.Amount{100, 100}
	first := on("2026-01-01").Month()
	for _, c := range []struct {
		name          string
		plan          []money.Amount
		value         money.Amount
		end           string
		es, at, index string
		finish        string
	}{
		{"nothing earned tells of no finish", plan, 0, "2026-01-31", "0/1", "1/1", "0/1", ""},
		{"all earned in time", plan, 200, "2026-02-28", "2/1", "2/1", "1/1", "2026-02-28"},
		{"no more than the whole plan is earned", plan, 300, "2026-02-28", "2/1", "2/1", "1/1", "2026-02-28"},
		{"before the first month no time has passed", plan, 5, "2025-12-31", "1/20", "0/1", "", ""},
		{"nor in the middle of the month before", plan, 0, "2025-12-15", "0/1", "0/1", "", ""},
		{"and none of it on the last day before it", plan, 0, "2025-06-01", "0/1", "0/1", "", ""},
		{"the first of January is one of 22 working days", plan, 50, "2026-01-01", "1/2", "1/22", "11/1", "2026-01-06"},
		{"a Sunday is as far as the Friday before it", plan, 50, "2026-01-11", "1/2", "7/22", "11/7", "2026-02-09"},
		{"an empty month is earned with the one before it", []money.Amount{100, 0, 100}, 100, "2026-03-31", "2/1", "3/1", "2/3",
			"2026-05-15"},
		{"below zero too the last month whose plan is within it counts", []money.Amount{-100, -100}, -50, "2026-02-28", "2/1", "2/1",
			"1/1", "2026-02-28"},
		{"and none where no plan is", []money.Amount{-100, -100}, -201, "2026-02-28", "0/1", "2/1", "0/1", ""},
		{"and wholly by all of it", []money.Amount{-100, -100}, -200, "2026-02-28", "2/1", "2/1", "1/1", "2026-02-28"},
	} {
		s, ok := Schedule(first, c.plan, c.value, on(c.end), calendar.Standard)
		require.True(t, ok, c.name)
		index := ""
		if i := s.Index(); i != nil {
			index = i.String()
		}
		assert.Equal(t, []string{c.es, c.at, index}, []string{s.Earned.String(), s.Passed.String(), index}, c.name)
		assert.Equal(t, c.index, index, c.name)
		assert.Equal(t, on(c.finish), s.Finish, c.name)
	}
	_, ok := Schedule(first, nil, 5, on("2026-02-28"), calendar.Standard)
	assert.False(t, ok, "without a budget there is no plan to read it off")
}

// Budget 1,000, spent 500, earned 400 of 500 planned: 500 + 600 / (0.8 x 0.8) = 1,437.50.
func TestAtBothIndices(t *testing.T) {
	e, ok := AtBothIndices(100_000, 50_000, 40_000, 50_000)
	assert.True(t, ok)
	assert.Equal(t, money.Amount(143_750), e)
	// Credits beyond the cost: 500 below zero turns both indices below zero: -500 + 600 / (-0.8 x 0.8) = -1,437.50.
	e, ok = AtBothIndices(100_000, -50_000, 40_000, 50_000)
	assert.True(t, ok)
	assert.Equal(t, money.Amount(-143_750), e)
	for _, c := range [][3]money.Amount{{0, 40_000, 50_000}, {50_000, 0, 50_000}, {50_000, 40_000, 0}} {
		_, ok = AtBothIndices(100_000, c[0], c[1], c[2])
		assert.False(t, ok, "cost, earned and planned %v", c)
	}
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
		if x.Earned.Cmp(y.Earned) > 0 || x.Earned.Sign() < 0 || y.Earned.Cmp(big.NewRat(int64(len(plan)), 1)) > 0 {
			t.Fatalf("%d earns %s periods, %d %s of %d", a, x.Earned, b, y.Earned, len(plan))
		}
		k := rapid.IntRange(1, len(plan)).Draw(t, "whole")
		var whole money.Amount
		for _, m := range plan[:k] {
			whole += m
		}
		z, _ := Schedule(first, plan, whole, (first + calendar.Month(k) - 1).Last(), calendar.Standard)
		if n := big.NewRat(int64(k), 1); z.Earned.Cmp(n) != 0 || z.Passed.Cmp(n) != 0 {
			t.Fatalf("as planned after %d periods: %+v", k, z)
		}
	})
}
