package compare

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

var env = measure.Env{AsOf: calendar.On(2026, 10, 31), Currency: "EUR", Calendar: calendar.Standard, Tolerances: health.Defaults()}

// project is one with a budget, a cost and a forecast in major units, whose work is all earned, so that the indices stay quiet.
func project(code string, budget, spent, toGo int64) *measure.Project {
	b := cost.NewBuilder(cost.NewRates("EUR", nil), calendar.Standard, env.AsOf)
	b.Budget(cost.Line{Amount: money.Amount(budget * 100), Currency: "EUR", Month: calendar.On(2026, 10, 1).Month()})
	b.Post(cost.Posting{Date: calendar.On(2026, 5, 5), Amount: money.Amount(spent * 100), Currency: "EUR"})
	b.Forecast(cost.Line{Amount: money.Amount(toGo * 100), Currency: "EUR", Month: calendar.On(2026, 11, 1).Month()})
	finish := calendar.On(2026, 10, 9)
	p := &measure.Project{Info: measure.Info{Code: code, Name: code, Status: measure.Open, EarnedValue: true}, Account: b.Account(),
		Activities: []schedule.Activity{{Code: "A", BaselineStart: calendar.On(2026, 1, 5), BaselineFinish: finish, Finish: finish,
			Percent: fact.Some(10_000)}}}
	measure.Assess(p, env)
	return p
}

// estimate is the place of the estimate at completion in the catalogue.
func estimate() int {
	return slices.IndexFunc(measure.All(), func(d measure.Definition) bool { return d.Key == measure.EAC })
}

// By hand: A rose from an estimate of €1,000 to €1,300, 30 % over budget: from on track to act. B went out with €500, C came in with €700.
func TestComparingByHand(t *testing.T) {
	was := []*measure.Project{project("A", 1000, 400, 600), project("B", 500, 100, 400)}
	now := []*measure.Project{project("A", 1000, 700, 600), project("C", 700, 0, 700)}
	c := Projects(was, now, env)
	assert.Equal(t, []money.Amount{1500_00, 2000_00}, []money.Amount{c.Was, c.Now})
	assert.Equal(t, []int{1, 0, 1, 1}, []int{c.Worse, c.Better, c.In, c.Out})
	require.Len(t, c.Rows, 3)
	a := c.Rows[0]
	assert.Equal(t, "A", a.Project().Code)
	assert.Equal(t, 2, a.Steps)
	assert.Equal(t, money.Amount(300_00), a.Cost)
	assert.True(t, a.HasDays)
	assert.Zero(t, a.Days)
	assert.Empty(t, a.Reasons[0])
	assert.Contains(t, a.Reasons[1], "30.0 % over budget")
	require.Len(t, c.Bridge, 3)
	assert.Equal(t, []money.Amount{700_00, -500_00, 300_00}, []money.Amount{c.Bridge[0].Amount, c.Bridge[1].Amount, c.Bridge[2].Amount})
}

// Whatever comes, goes, rises, falls, gains or loses its estimate: the steps lead from the one total to the other, at most nine and the
// rest together, and forwards and backwards are mirrored.
func TestTheBridgeBetweenAnyTwoDaysAddsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		draw := func(name string) (list []*measure.Project) {
			for _, code := range []string{"A", "B", "C", "D", "E", "F", "G", "H", "I", "J"} {
				if rapid.Bool().Draw(t, name+code) {
					p := project(code, rapid.Int64Range(0, 5000).Draw(t, "budget"), rapid.Int64Range(0, 5000).Draw(t, "spent"),
						rapid.Int64Range(0, 5000).Draw(t, "to go"))
					if rapid.IntRange(0, 4).Draw(t, "unknown") == 0 {
						p.Values[estimate()] = measure.Value{Reason: "not sent"}
					}
					list = append(list, p)
				}
			}
			return list
		}
		was, now := draw("was"), draw("now")
		c, back := Projects(was, now, env), Projects(now, was, env)
		sum := c.Was
		for _, s := range c.Bridge {
			sum += s.Amount
			assert.NotZero(t, s.Amount)
		}
		assert.Equal(t, c.Now, sum)
		assert.LessOrEqual(t, len(c.Bridge), bridged+4)
		assert.Equal(t, []int{c.Worse, c.Better, c.Later, c.Sooner, c.In, c.Out}, []int{back.Better, back.Worse, back.Sooner, back.Later,
			back.Out, back.In})
		assert.Equal(t, []money.Amount{c.Was, c.Now}, []money.Amount{back.Now, back.Was})
	})
}
