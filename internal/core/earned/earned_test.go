package earned

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

func on(s string) calendar.Date {
	if s == "" {
		return 0
	}
	d, err := calendar.ParseDate(s)
	if err != nil {
		panic(err)
	}
	return d
}

var asOf = on("2026-03-18")

// A wall of 1,000.00 in five parts by weight 40, 30, 20, 10 and nothing: the first is done (400.00), the second half done by its percent
// (150.00), the third begun under 25/75 (50.00), the fourth not begun under 50/50 (0), the last has no weight.
func TestEarnedValueByHand(t *testing.T) {
	w := func(code, method string, weight int64, percent int64, start, finish string) schedule.Activity {
		return schedule.Activity{Code: code, Method: method, Weight: fact.Some(weight * 10_000), Percent: fact.Some(percent * 100), ActualStart: on(start), ActualFinish: on(finish)}
	}
	list := []schedule.Activity{w("A", "", 40, 80, "2026-01-05", "2026-02-27"), w("B", "percent", 30, 50, "2026-02-02", ""), w("C", "25/75", 20, 90, "2026-03-02", ""),
		w("D", "50/50", 10, 10, "2026-03-19", ""), {Code: "E", BaselineStart: on("2026-01-05"), BaselineFinish: on("2026-12-31"), ActualFinish: on("2026-01-31")}}
	r, err := Value(list, 100_000, fact.Int{}, asOf, calendar.Standard)
	require.NoError(t, err)
	assert.Equal(t, money.Amount(60_000), r.Value)
	assert.True(t, r.Weighted)
	assert.Len(t, r.Parts, 4)
}

func TestMethods(t *testing.T) {
	credit := func(a schedule.Activity, others ...schedule.Activity) int64 {
		return Credit(append([]schedule.Activity{a}, others...), 0, asOf, calendar.Standard)
	}
	begun, done, later := on("2026-03-02"), on("2026-03-10"), on("2026-03-19")
	for _, c := range []struct {
		method                 string
		notBegun, begun, ended int64
	}{{"0/100", 0, 0, 10_000}, {"50/50", 0, 5_000, 10_000}, {"25/75", 0, 2_500, 10_000}, {"percent", 3_000, 3_000, 10_000}, {"points", 3_000, 3_000, 10_000}, {"", 3_000, 3_000, 10_000}} {
		a := schedule.Activity{Method: c.method, Percent: fact.Some(3_000)}
		assert.Equal(t, c.notBegun, credit(a), c.method)
		a.ActualStart = begun
		assert.Equal(t, c.begun, credit(a), c.method)
		a.ActualFinish = done
		assert.Equal(t, c.ended, credit(a), c.method)
		a.ActualStart, a.ActualFinish = later, later
		assert.Equal(t, c.notBegun, credit(a), "%s: what is dated after the day has not happened", c.method)
	}
	// Level of effort: 2 to 31 March has 22 working days, 13 of them up to the 18th: 59.09 %.
	effort := schedule.Activity{Method: "effort", BaselineStart: on("2026-03-02"), BaselineFinish: on("2026-03-31"), ActualFinish: done}
	assert.EqualValues(t, 5909, credit(effort))
	effort.BaselineStart = on("2026-04-01")
	assert.EqualValues(t, 0, credit(effort))
	// Weighted milestones: 3 of 8 reached.
	m := func(weight int64, day calendar.Date) schedule.Activity {
		return schedule.Activity{Kind: schedule.Milestone, Parent: "P", Weight: fact.Some(weight), ActualFinish: day}
	}
	assert.EqualValues(t, 3750, credit(schedule.Activity{Code: "P", Method: "milestones"}, m(30_000, done), m(10_000, 0), m(40_000, later)))
	assert.EqualValues(t, 4000, credit(schedule.Activity{Code: "Q", Method: "milestones", Percent: fact.Some(4000)}), "without milestones its percent counts")
}

func TestWithoutActivitiesTheReportedPercentCounts(t *testing.T) {
	r, err := Value(nil, 100_001, fact.Some(2_500), asOf, calendar.Standard)
	require.NoError(t, err)
	assert.Equal(t, money.Amount(25_000), r.Value, "25,000.25 to the even cent")
	_, err = Value([]schedule.Activity{{Kind: schedule.Milestone, BaselineFinish: asOf}}, 100_000, fact.Int{}, asOf, calendar.Standard)
	assert.ErrorIs(t, err, ErrNoBasis)
}

// A published kind of example: budget 1,000, earned 400 at a cost of 500: index 0.8, estimate 1,250.
func TestAtIndex(t *testing.T) {
	e, ok := AtIndex(100_000, 50_000, 40_000)
	assert.True(t, ok)
	assert.Equal(t, money.Amount(125_000), e)
	_, ok = AtIndex(100_000, 50_000, 0)
	assert.False(t, ok)
}

// The shares of the budget add up to it, nothing is earned of nothing done, all of it when all is done, and the order of the rows
// does not matter.
func TestEarnedValueAddsUpAndStaysWithinBounds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list []schedule.Activity
		weighted := rapid.Bool().Draw(t, "weighted")
		for i := range rapid.IntRange(1, 12).Draw(t, "activities") {
			a := schedule.Activity{Code: string(rune('A' + i)), BaselineStart: on("2026-01-05") + calendar.Date(rapid.IntRange(0, 60).Draw(t, "start")),
				Percent: fact.Some(rapid.Int64Range(0, Full).Draw(t, "percent")), Method: rapid.SampledFrom([]string{"", "0/100", "50/50", "25/75"}).Draw(t, "method")}
			a.BaselineFinish = a.BaselineStart + calendar.Date(rapid.IntRange(4, 90).Draw(t, "days"))
			if weighted {
				a.Weight = fact.Some(rapid.Int64Range(0, 1e6).Draw(t, "weight"))
			}
			list = append(list, a)
		}
		budget := money.Amount(rapid.Int64Range(0, 1e11).Draw(t, "budget"))
		value := func() Result {
			r, err := Value(list, budget, fact.Int{}, asOf, calendar.Standard)
			if err != nil {
				t.Skip("no basis")
			}
			return r
		}
		r := value()
		var shares money.Amount
		for _, p := range r.Parts {
			shares += p.Budget
			if p.Earned < 0 || p.Earned > p.Budget {
				t.Fatalf("earned %d of %d", p.Earned, p.Budget)
			}
		}
		if shares != budget {
			t.Fatalf("shares add up to %d of %d", shares, budget)
		}
		turned := append([]schedule.Activity{}, list[len(list)/2:]...)
		list = append(turned, list[:len(list)/2]...)
		if again := value(); again.Value != r.Value {
			t.Fatalf("in another order %d, not %d", again.Value, r.Value)
		}
		for i := range list {
			list[i].ActualStart, list[i].ActualFinish = asOf, asOf
		}
		if all := value(); all.Value != budget {
			t.Fatalf("all done earns %d of %d", all.Value, budget)
		}
		for i := range list {
			list[i].ActualStart, list[i].ActualFinish, list[i].Percent = 0, 0, fact.Some(0)
		}
		if none := value(); none.Value != 0 {
			t.Fatalf("nothing done earns %d", none.Value)
		}
	})
}
