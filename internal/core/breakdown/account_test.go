package breakdown_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/breakdown"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

// costed makes a project of amounts that name activities, and the evidence of it.
func costed(activities []schedule.Activity, ev measure.Evidence) (*measure.Project, *measure.Evidence) {
	ev.Rates, ev.Env, ev.CodeNames = someRates, env, func(int32) string { return "" }
	b := cost.NewBuilder(ev.Rates, env.Calendar, env.AsOf)
	for i := range ev.Budget {
		b.Budget(ev.Budget[i])
	}
	for i := range ev.Forecast {
		b.Forecast(ev.Forecast[i])
	}
	for i := range ev.Postings {
		b.Post(ev.Postings[i])
	}
	for i := range ev.Commitments {
		b.Commit(ev.Commitments[i])
	}
	p := &measure.Project{Info: measure.Info{Code: "P", Name: "P", Status: measure.Open, EarnedValue: true}, Account: b.Account(),
		Activities: activities, Logic: schedule.Logic{Last: -1}}
	measure.Assess(p, env)
	return p, &ev
}

func planned(activity, month string, major int64) cost.Line {
	return cost.Line{Activity: activity, Amount: money.Amount(major * 100), Currency: "EUR", Month: on(month + "-01").Month()}
}

func posted(activity string, major int64) cost.Posting {
	return cost.Posting{Activity: activity, Date: on("2026-10-05"), Amount: money.Amount(major * 100), Currency: "EUR"}
}

// works are a phase S of an activity of 10 days that is half done and one of 5 that is, and a deliverable beside it.
var works = []schedule.Activity{
	{Code: "S", Name: "Walls", Kind: schedule.Summary},
	{Code: "A", Name: "Dig", Parent: "S", BaselineStart: on("2026-10-05"), BaselineFinish: on("2026-10-16"), Percent: fact.Some(5_000),
		ActualStart: on("2026-10-05")},
	{Code: "B", Name: "Pile", Parent: "S", BaselineStart: on("2026-10-05"), BaselineFinish: on("2026-10-09"),
		ActualStart: on("2026-10-05"), ActualFinish: on("2026-10-09")},
	{Code: "D", Name: "Report", Kind: schedule.Deliverable, BaselineFinish: on("2026-12-11"), Percent: fact.Some(2_500)},
	{Code: "N", Name: "Named by nothing", BaselineStart: on("2026-10-05"), BaselineFinish: on("2026-10-09")},
}

func TestMoneyOfActivitiesAndPhasesByHand(t *testing.T) {
	p, ev := costed(works, measure.Evidence{
		Budget: []cost.Line{planned("A", "2026-10", 1000), planned("B", "2026-09", 200), planned("B", "2026-12", 100),
			planned("S", "2026-10", 100), planned("D", "2026-12", 400), planned("", "2026-10", 50)},
		Forecast:    []cost.Line{planned("A", "2026-11", 600), planned("", "2026-11", 30)},
		Postings:    []cost.Posting{posted("A", 700), posted("B", 250), posted("", 20), posted("X", 5)},
		Commitments: []cost.Commitment{{Activity: "A", Amount: 9900, Currency: "EUR"}},
	})
	type row struct{ code, bac, pv, ev, ac, toGo, eac, cpi string }
	var got []row
	for _, a := range breakdown.Accounts(p, ev) {
		v := func(key measure.Key) string {
			d := measure.Of(key)
			return a.All.Value(key).Text(d.Unit, "EUR")
		}
		got = append(got, row{a.Code, v(measure.BAC), v(measure.PV), v(measure.EV), v(measure.AC), v(measure.ForecastToGo),
			v(measure.EAC), v(measure.CPI)})
	}
	// S's own 100.00 is shared 66.67 and 33.33 by 10 and 5 days: half of the first is 33.335, to the even cent 33.34, and all of the
	// second. 500 + 300 + 66.67 earned of the phase, 950 spent. What names no activity, or one that is gone, earns by none.
	assert.Equal(t, []row{
		{"S", "1400.00", "1300.00", "866.67", "950.00", "600.00", "1550.00", "0.912284"},
		{"A", "1000.00", "1000.00", "500.00", "700.00", "600.00", "1300.00", "0.714286"},
		{"B", "300.00", "200.00", "300.00", "250.00", "0.00", "250.00", "1.200000"},
		{"D", "400.00", "0.00", "100.00", "0.00", "0.00", "0.00", ""},
		{"X", "0.00", "0.00", "", "5.00", "0.00", "5.00", ""},
		{"", "50.00", "50.00", "", "20.00", "30.00", "50.00", ""},
	}, got)
	n, ok := breakdown.ExplainAccount(p, ev, "S", measure.Commitments)
	require.True(t, ok)
	assert.Equal(t, "99.00", n.Value.Text(measure.Money, "EUR"))
	n, ok = breakdown.ExplainAccount(p, ev, "S", measure.CPI)
	require.True(t, ok)
	assert.Equal(t, "Cost performance index, S Walls", n.Label)
	require.Len(t, n.Children, 2)
	var parts []string
	for _, c := range n.Children[0].Children {
		parts = append(parts, c.Label+" "+c.Value.Text(measure.Money, "EUR"))
	}
	assert.Equal(t, []string{"S Walls 66.67", "A Dig 500.00", "B Pile 300.00"}, parts)
	n, ok = breakdown.ExplainAccount(p, ev, "A", measure.AC)
	require.True(t, ok)
	assert.Equal(t, "Actual cost, A Dig", n.Label)
	_, ok = breakdown.ExplainAccount(p, ev, "N", measure.AC)
	assert.False(t, ok, "an activity that no amount names has no account")
	_, ok = breakdown.ExplainAccount(p, ev, "A", measure.RiskExposure)
	assert.False(t, ok)
}

// An index on a limit has not crossed it, and the limits are those of the project.
func TestTheCostIndexOfAnAccountAgainstItsLimits(t *testing.T) {
	done := schedule.Activity{Code: "A", ActualStart: on("2026-10-05"), ActualFinish: on("2026-10-09")}
	for _, c := range []struct {
		budget, spent int64
		want          health.Status
	}{{950, 1000, health.OnTrack}, {949, 1000, health.Watch}, {900, 1000, health.Watch}, {899, 1000, health.Act}, {100, 0,
		health.NotAssessed}} {
		p, ev := costed([]schedule.Activity{done}, measure.Evidence{Budget: []cost.Line{planned("A", "2026-10", c.budget)},
			Postings: []cost.Posting{posted("A", c.spent)}})
		list := breakdown.Accounts(p, ev)
		assert.Equal(t, c.want, list[0].CostLevel(p), c.budget)
		p.Tolerances.Of[health.CPI] = health.Tolerance{Watch: 0.5, Act: 0.4}
		if c.spent != 0 {
			assert.Equal(t, health.OnTrack, list[0].CostLevel(p))
		}
	}
}

// Without a forecast by activity the estimate is the statistical one; a backlog or a reported percent earns nothing for what names no
// work.
func TestAccountsWithoutAForecastOfTheirOwn(t *testing.T) {
	p, ev := costed(works, measure.Evidence{Budget: []cost.Line{planned("A", "2026-10", 1000), planned("", "2026-10", 50)},
		Forecast: []cost.Line{planned("", "2026-11", 30)}, Postings: []cost.Posting{posted("A", 1000)}})
	p.Declared = &measure.Declared{Percent: fact.Some(9_000)}
	list := breakdown.Accounts(p, ev)
	require.Len(t, list, 3)
	assert.Equal(t, "2000.00", list[1].Own.Value(measure.EAC).Text(measure.Money, "EUR"), "1,000 at an index of 0.5")
	assert.True(t, list[1].Own.Statistical())
	assert.False(t, list[2].Own.Value(measure.EV).Known)
	assert.Equal(t, "30.00", list[2].Own.Value(measure.EAC).Text(measure.Money, "EUR"))
	p, ev = costed(works, measure.Evidence{Budget: []cost.Line{planned("", "2026-10", 50)}})
	assert.Empty(t, breakdown.Accounts(p, ev), "no amount names an activity")
}

// Milestones credit their activity here as in the project; parents that go round are listed once, and nothing is lost.
func TestAccountsOfMilestonesAndOfParentsThatGoRound(t *testing.T) {
	m := func(code string, weight int64, done calendar.Date) schedule.Activity {
		return schedule.Activity{Code: code, Kind: schedule.Milestone, Parent: "A", Weight: fact.Some(weight), ActualFinish: done}
	}
	list := []schedule.Activity{{Code: "A", Method: "milestones", Weight: fact.Some(0)}, m("M1", 10_000, on("2026-10-05")), m("M2", 30_000,
		0),
		{Code: "R", Kind: schedule.Summary, Parent: "T"}, {Code: "T", Kind: schedule.Summary, Parent: "R"}}
	p, ev := costed(list, measure.Evidence{Budget: []cost.Line{planned("A", "2026-10", 100), planned("T", "2026-10", 7)}})
	var got []string
	for _, a := range breakdown.Accounts(p, ev) {
		got = append(got, a.Code+" "+a.All.Value(measure.BAC).Text(measure.Money, "EUR")+" "+a.All.Value(measure.EV).Text(measure.Money,
			"EUR"))
	}
	assert.Equal(t, []string{"A 100.00 25.00", "R 7.00 ", "T 7.00 "}, got)
}

// Whatever amounts name, the accounts at the top add up to the project.
func TestAccountsAddUpToTheProject(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		name := rapid.SampledFrom([]string{"", "S", "A", "B", "D", "X"})
		units := rapid.Int64Range(-10_000, 100_000)
		currency := rapid.SampledFrom([]money.Currency{"EUR", "SEK"})
		var e measure.Evidence
		for range rapid.IntRange(1, 8).Draw(t, "lines") {
			l := cost.Line{Activity: name.Draw(t, "activity"), Amount: money.Amount(units.Draw(t, "amount")), Currency: currency.Draw(t,
				"currency"),
				Month: on("2026-10-01").Month()}
			e.Budget = append(e.Budget, l)
			l.Month++
			e.Forecast = append(e.Forecast, l)
			e.Postings = append(e.Postings, cost.Posting{Activity: name.Draw(t, "posted to"), Date: on("2026-10-05"),
				Amount: money.Amount(units.Draw(t, "posted")), Currency: l.Currency})
			e.Commitments = append(e.Commitments, cost.Commitment{Activity: name.Draw(t, "ordered for"), Currency: l.Currency,
				Amount: money.Amount(units.Draw(t, "ordered"))})
		}
		p, ev := costed(works, e)
		list := breakdown.Accounts(p, ev)
		if len(list) == 0 {
			t.Skip("nothing is named")
		}
		for _, key := range []measure.Key{measure.BAC, measure.AC, measure.ForecastToGo, measure.Commitments, measure.BudgetToDate} {
			var sum int64
			for _, a := range list {
				if a.Depth == 0 {
					sum += a.All.Value(key).N
				}
			}
			want := p.Value(key)
			if key == measure.ForecastToGo && !list[0].All.Value(key).Known {
				continue // no forecast names an activity
			}
			assert.Equal(t, want.N, sum, key)
		}
	})
}
