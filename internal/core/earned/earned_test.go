package earned

import (
	"math/big"
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
		return schedule.Activity{Code: code, Method: method, Weight: fact.Some(weight * 10_000), Percent: fact.Some(percent * 100),
			ActualStart: on(start), ActualFinish: on(finish)}
	}
	list := []schedule.Activity{w("A", "", 40, 80, "2026-01-05", "2026-02-27"), w("B", "percent", 30, 50, "2026-02-02", ""),
		w("C", "25/75", 20, 90, "2026-03-02", ""),
		w("D", "50/50", 10, 10, "2026-03-19", ""), {Code: "E", BaselineStart: on("2026-01-05"), BaselineFinish: on("2026-12-31"),
			ActualFinish: on("2026-01-31")}}
	r, err := Value(Progress{Activities: list}, 100_000, asOf, calendar.Standard)
	require.NoError(t, err)
	assert.Equal(t, money.Amount(60_000), r.Value)
	assert.True(t, r.Weighted)
	assert.Len(t, r.Parts, 4)
}

func TestMethods(t *testing.T) {
	credit := func(a schedule.Activity, others ...schedule.Activity) string {
		p := Progress{Activities: append([]schedule.Activity{a}, others...), Points: &Counted{1, 3}}
		c, err := CreditOf(p, 0, asOf, calendar.Standard)
		require.NoError(t, err)
		return big.NewRat(c.Num, c.Den).String()
	}
	begun, done, later := on("2026-03-02"), on("2026-03-10"), on("2026-03-19")
	for _, c := range []struct{ method, notBegun, begun, ended string }{
		{"0/100", "0/1", "0/1", "1/1"}, {"50/50", "0/1", "1/2", "1/1"}, {"25/75", "0/1", "1/4", "1/1"},
		{"percent", "3/10", "3/10", "1/1"}, {"points", "1/3", "1/3", "1/1"}, {"", "3/10", "3/10", "1/1"}} {
		a := schedule.Activity{Method: c.method, Percent: fact.Some(3_000)}
		assert.Equal(t, c.notBegun, credit(a), c.method)
		a.ActualStart = begun
		assert.Equal(t, c.begun, credit(a), c.method)
		a.ActualFinish = done
		assert.Equal(t, c.ended, credit(a), c.method)
		a.ActualStart, a.ActualFinish = asOf, 0
		assert.Equal(t, c.begun, credit(a), "%s: what begins on the day has begun", c.method)
		a.ActualStart, a.ActualFinish = asOf, asOf
		assert.Equal(t, c.ended, credit(a), "%s: what is dated on the day has happened", c.method)
		a.ActualStart, a.ActualFinish = later, later
		assert.Equal(t, c.notBegun, credit(a), "%s: what is dated after the day has not happened", c.method)
	}
	// Level of effort: 2 to 31 March has 22 working days, 13 of them up to the 18th, whether or not it is finished.
	effort := schedule.Activity{Method: "effort", BaselineStart: on("2026-03-02"), BaselineFinish: on("2026-03-31"), ActualFinish: done}
	assert.Equal(t, "13/22", credit(effort))
	effort.BaselineStart = on("2026-03-19")
	assert.Equal(t, "0/1", credit(effort))
	effort.BaselineStart, effort.BaselineFinish = on("2026-03-02"), on("2026-03-18")
	assert.Equal(t, "1/1", credit(effort))
	// Weighted milestones: 3 of 8 reached; those without a weight count one each.
	m := func(weight int64, day calendar.Date) schedule.Activity {
		return schedule.Activity{Kind: schedule.Milestone, Parent: "P", Weight: fact.Some(weight), ActualFinish: day}
	}
	plain := schedule.Activity{Kind: schedule.Milestone, Parent: "P"}
	assert.Equal(t, "3/8", credit(schedule.Activity{Code: "P", Method: "milestones"}, m(30_000, done), m(10_000, 0), m(40_000, later)))
	assert.Equal(t, "2/3", credit(schedule.Activity{Code: "P", Method: "milestones"}, m(20_000, done), plain))
}

// What has nothing to count is undefined and says why, and so is the value of its project.
func TestNothingToCount(t *testing.T) {
	weighted := func(a schedule.Activity) []schedule.Activity {
		a.Code, a.Weight = "A1", fact.Some(10_000)
		return []schedule.Activity{a, {Code: "M", Kind: schedule.Milestone, Parent: "A1", Weight: fact.Some(0)}}
	}
	saturday := schedule.Activity{Method: "effort", BaselineStart: on("2026-03-14"), BaselineFinish: on("2026-03-15")}
	for _, c := range []struct {
		a      schedule.Activity
		points *Counted
		says   string
	}{
		{schedule.Activity{Method: "milestones"}, nil, "nothing to count: A1 earns by milestones and no milestone below it has a weight"},
		{schedule.Activity{Method: "points"}, nil, "nothing to count: A1 earns by points and the project has no backlog"},
		{schedule.Activity{Method: "points"}, &Counted{}, "nothing to count: A1 earns by points and no item of the backlog has points"},
		{schedule.Activity{Method: "effort"}, nil, "nothing to count: A1 earns by effort and its baseline has no working days"},
		{saturday, nil, "nothing to count: A1 earns by effort and its baseline has no working days"},
	} {
		_, err := Value(Progress{Activities: weighted(c.a), Points: c.points, Reported: fact.Some(5_000)}, 100_000, asOf, calendar.Standard)
		require.ErrorIs(t, err, ErrUncounted)
		assert.EqualError(t, err, c.says)
	}
	_, err := Value(Progress{Points: &Counted{}, Reported: fact.Some(5_000)}, 100_000, asOf, calendar.Standard)
	assert.ErrorIs(t, err, ErrUncounted, "a project run by a backlog without points")
}

// Baselines of 10 working days and of none: 2 to 13 March is ten, the milestone and the deliverable of a day have none, whatever their
// dates.
func TestSharesOfTheBudget(t *testing.T) {
	work := schedule.Activity{Code: "A", BaselineStart: on("2026-03-02"), BaselineFinish: on("2026-03-13"), Percent: fact.Some(5_000)}
	day := schedule.Activity{Code: "M", Kind: schedule.Milestone, BaselineStart: on("2026-03-13"), BaselineFinish: on("2026-03-13"),
		ActualFinish: on("2026-03-13")}
	thing := day
	thing.Code, thing.Kind = "D", schedule.Deliverable
	phase := schedule.Activity{Code: "S", Kind: schedule.Summary, Weight: fact.Some(90_000), BaselineStart: on("2026-03-02"),
		BaselineFinish: on("2026-03-13")}
	shares := func(list ...schedule.Activity) map[string]money.Amount {
		r, err := Value(Progress{Activities: list}, 1_000, asOf, calendar.Standard)
		require.NoError(t, err)
		got := map[string]money.Amount{}
		for _, p := range r.Parts {
			got[list[p.Activity].Code] = p.Budget
		}
		return got
	}
	assert.Equal(t, map[string]money.Amount{"A": 1_000}, shares(work, day, thing, phase), "durations: 10, 0, 0; a summary's weight is none")
	day.Weight = fact.Some(10_000)
	assert.Equal(t, map[string]money.Amount{"M": 1_000}, shares(work, day, thing), "one weight given, the others have none")
	// Milestones that credit A have no share of their own, and their weights do not make the project a weighted one.
	work.Method, day.Parent = "milestones", "A"
	assert.Equal(t, map[string]money.Amount{"A": 1_000}, shares(work, day))
	other := work
	other.Code, other.Method = "B", ""
	assert.Equal(t, map[string]money.Amount{"A": 500, "B": 500}, shares(work, day, other))
	other.Weight, work.Weight = fact.Some(10_000), fact.Some(30_000)
	assert.Equal(t, map[string]money.Amount{"A": 750, "B": 250}, shares(work, day, other), "also where the others have weights")
	// Level of effort of 13 of 22 days on a budget of 333.33: 196.968…, not 59.09 % of it, which were 196.96.
	r, err := Value(Progress{Activities: []schedule.Activity{{Code: "E", Method: "effort", BaselineStart: on("2026-03-02"),
		BaselineFinish: on("2026-03-31")}}}, 33_333, asOf, calendar.Standard)
	require.NoError(t, err)
	assert.Equal(t, money.Amount(19_697), r.Value)
}

func TestWithoutActivitiesTheReportedPercentCounts(t *testing.T) {
	r, err := Value(Progress{Reported: fact.Some(2_500)}, 100_002, asOf, calendar.Standard)
	require.NoError(t, err)
	assert.Equal(t, money.Amount(25_000), r.Value, "250.005 to the even cent")
	milestone := []schedule.Activity{{Kind: schedule.Milestone, BaselineStart: asOf, BaselineFinish: asOf}}
	_, err = Value(Progress{Activities: milestone}, 100_000, asOf, calendar.Standard)
	assert.ErrorIs(t, err, ErrNoBasis)
	// A backlog goes before the reported percent: 1 of 3 points of 1,000.00 is 333.33.
	r, err = Value(Progress{Activities: milestone, Points: &Counted{10_000, 30_000}, Reported: fact.Some(9_000)}, 100_000, asOf,
		calendar.Standard)
	require.NoError(t, err)
	assert.Equal(t, money.Amount(33_333), r.Value)
	assert.True(t, r.Backlog)
}

// A published kind of example: budget 1,000, earned 400 at a cost of 500: index 0.8, estimate 1,250.
func TestAtIndex(t *testing.T) {
	e, ok := AtIndex(100_000, 50_000, 40_000)
	assert.True(t, ok)
	assert.Equal(t, money.Amount(125_000), e)
	for _, c := range [][2]money.Amount{{50_000, 0}, {0, 40_000}, {0, 0}} {
		_, ok = AtIndex(100_000, c[0], c[1])
		assert.False(t, ok, "cost and earned %v: the index is zero or has none", c)
	}
	e, ok = AtIndex(-100_000, -50_000, -40_000) // all below zero
	assert.True(t, ok)
	assert.Equal(t, money.Amount(-125_000), e)
}

// The shares of the budget add up to it, nothing is earned of nothing done, all of it when all is done, and the order of the rows
// does not matter.
func TestEarnedValueAddsUpAndStaysWithinBounds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list []schedule.Activity
		weighted := rapid.Bool().Draw(t, "weighted")
		for i := range rapid.IntRange(1, 12).Draw(t, "activities") {
			a := schedule.Activity{Code: string(rune('A' + i)), BaselineStart: on("2026-01-05") +
				calendar.Date(rapid.IntRange(0, 60).Draw(t, "start")),
				Percent: fact.Some(rapid.Int64Range(0, Full).Draw(t, "percent")),
				Method:  rapid.SampledFrom([]string{"", "0/100", "50/50", "25/75"}).Draw(t, "method")}
			a.BaselineFinish = a.BaselineStart + calendar.Date(rapid.IntRange(4, 90).Draw(t, "days"))
			if weighted {
				a.Weight = fact.Some(rapid.Int64Range(0, 1e6).Draw(t, "weight"))
			}
			list = append(list, a)
		}
		budget := money.Amount(rapid.Int64Range(0, 1e11).Draw(t, "budget"))
		value := func() Result {
			r, err := Value(Progress{Activities: list}, budget, asOf, calendar.Standard)
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
