package measure

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

func on(s string) calendar.Date {
	d, err := calendar.ParseDate(s)
	if err != nil {
		panic(err)
	}
	return d
}

var env = Env{AsOf: on("2026-10-31"), Currency: "EUR", Calendar: calendar.Standard, Tolerances: health.Defaults(),
	Milestones: schedule.Options{LookAhead: 20}}

// project makes a project of one budget line, one posting and one forecast line (major units) and a schedule of 200 days.
func project(code string, budget, spent, toGo int64) *Project {
	b := cost.NewBuilder(cost.NewRates("EUR", nil), calendar.Standard, env.AsOf)
	b.Budget(cost.Line{Amount: money.Amount(budget * 100), Currency: "EUR", Month: on("2026-10-01").Month()})
	b.Post(cost.Posting{Code: 0, Date: on("2026-05-05"), Amount: money.Amount(spent * 100), Currency: "EUR"})
	b.Forecast(cost.Line{Amount: money.Amount(toGo * 100), Currency: "EUR", Month: on("2026-11-01").Month()})
	p := &Project{Info: Info{Code: code, Name: code, Status: Open, EarnedValue: true}, Account: b.Account(),
		Activities: []schedule.Activity{{Code: "A", BaselineStart: on("2026-01-05"), BaselineFinish: on("2026-10-09"),
			Finish: on("2026-10-09"), Percent: fact.Some(10_000)}}} // all earned, so that the indices stay quiet
	Assess(p, env)
	return p
}

// 1,000 budget; 700 spent; 400 to go: estimate 1,100, variance -100, that is -10 % (watch, as 10 % is not above 10 %).
func TestFiguresByHand(t *testing.T) {
	p := project("P", 1000, 700, 400)
	want := map[Key]string{
		BAC: "1000.00", AC: "700.00", ForecastToGo: "400.00", EAC: "1100.00", VAC: "-100.00",
		VACShare: "-0.100000", SpentShare: "0.700000", RemainingBudget: "300.00", BudgetToDate: "1000.00",
		SpentToDateShare: "-0.300000", BaselineFinish: "2026-10-09", ExpectedFinish: "2026-10-09",
		FinishDeviation: "0", PlannedDuration: "200", FinishShare: "0.000000", MilestonesDone: "0",
		ScheduleHealth: "on track", CostHealth: "watch", OverallHealth: "watch", DeclaredHealth: "",
	}
	for key, text := range want {
		assert.Equal(t, text, p.Value(key).Text(Of(key).Unit, "EUR"), key)
	}
	assert.Equal(t, "nothing declared", p.Value(DeclaredHealth).Reason)
}

func TestUndefinedHasAReasonAndSpreads(t *testing.T) {
	p := &Project{Info: Info{Code: "P", Status: Open, PlannedFinish: on("2026-12-31")}}
	Assess(p, env)
	for key, reason := range map[Key]string{BAC: "no budget", ForecastToGo: "no forecast", EAC: "no forecast",
		VAC: "no budget", VACShare: "no budget", SpentShare: "no budget", ExpectedFinish: "no expected finish",
		FinishDeviation: "no expected finish", PlannedDuration: "no baseline start", MilestonesMissed: "no schedule"} {
		assert.Equal(t, Value{Reason: reason}, p.Value(key), key)
	}
	assert.Equal(t, "0.00", p.Value(AC).Text(Money, "EUR"), "nothing posted is nothing spent")
	assert.Equal(t, "2026-12-31", p.Value(BaselineFinish).Text(Day, "EUR"), "the planned finish serves")
	assert.Equal(t, health.NotAssessed, p.Health.Overall)

	p.Status = Closed
	p.Account.Gaps = []cost.Gap{{Input: cost.InActual, Err: cost.MissingRate{Currency: "SEK", Month: on("2026-05-01").Month()}}}
	Assess(p, env)
	assert.Equal(t, "0.00", p.Value(ForecastToGo).Text(Money, "EUR"))
	assert.Equal(t, "no month rate for SEK in 2026-05", p.Value(EAC).Reason)
}

func TestEveryUndefinedFigureSaysWhy(t *testing.T) {
	p := &Project{}
	Assess(p, env)
	g := Roll([]*Project{p}, env)
	for i, d := range All() {
		assert.True(t, p.Values[i].Known != (p.Values[i].Reason != ""), d.Key)
		assert.True(t, g.Values[i].Known != (g.Values[i].Reason != ""), d.Key)
	}
}

// Shares 50 % and 10 % of budgets 100 and 900: the group's is (50+90)/1000 = 14 %, not the mean of 30 %.
func TestRatiosComeFromSums(t *testing.T) {
	g := Roll([]*Project{project("A", 100, 50, 50), project("B", 900, 90, 810)}, env)
	assert.Equal(t, "0.140000", g.Value(SpentShare).Text(Share, "EUR"))
}

// C has no forecast: estimate and variance run over A and B alone, on both sides; budget and actual over all three.
func TestProjectsWithoutAnInputAreLeftOutAndNamed(t *testing.T) {
	c := project("C", 500, 100, 0)
	c.Account.ForecastLines, c.Activities[0].Percent = 0, fact.Int{} // and nothing earned that tells one
	Assess(c, env)
	g := Roll([]*Project{project("A", 100, 50, 60), project("B", 900, 90, 900), c}, env)
	for key, want := range map[Key]string{BAC: "1500.00", AC: "240.00", EAC: "1100.00", VAC: "-100.00"} {
		assert.Equal(t, want, g.Value(key).Text(Money, "EUR"), key)
	}
	assert.Equal(t, "-0.100000", g.Value(VACShare).Text(Share, "EUR"))
	i := places[EAC]
	assert.Equal(t, 2, g.With[i])
	require.Len(t, g.Left[i], 1)
	assert.Equal(t, "C", g.Left[i][0].Project.Code)
	assert.Equal(t, "no forecast, and nothing is earned yet", g.Left[i][0].Reason)

	n, ok := ExplainGroup(g, env, VAC)
	require.True(t, ok)
	assert.Contains(t, n.Rule, "Over 2 of 3 projects")
	assert.Equal(t, "left out: no forecast, and nothing is earned yet", n.Children[2].Detail)
	assert.Equal(t, "1000.00", n.Children[0].Value.Text(Money, "EUR"), "the budget that stands against the estimate")
}

func TestAProjectWithoutBudgetStillSpendsInTheGroup(t *testing.T) {
	g := Roll([]*Project{project("A", 100, 50, 50), project("B", 0, 25, 0)}, env)
	assert.Equal(t, "0.750000", g.Value(SpentShare).Text(Share, "EUR"))
}

// The leaves of a trace are the rows; whatever the lines, they add up to the figure at the top.
func TestLeavesAddUpToTheFigure(t *testing.T) {
	rates := cost.NewRates("EUR", []cost.RateRow{
		{Currency: "SEK", Month: on("2020-01-01").Month(), Plan: true, Rate: money.Rate{Digits: 871, Places: 4},
			Ref: fact.Ref{Load: 9, Row: 2}},
		{Currency: "SEK", Month: on("2026-10-01").Month(), Rate: money.Rate{Digits: 903, Places: 4}, Ref: fact.Ref{Load: 9, Row: 3}},
	})
	rapid.Check(t, func(t *rapid.T) {
		env := env
		env.AsOf = on("2026-10-01") + calendar.Date(rapid.IntRange(0, 30).Draw(t, "as of"))
		ev := &Evidence{Rates: rates, Env: env, CodeNames: func(int32) string { return "code" }}
		b := cost.NewBuilder(rates, env.Calendar, env.AsOf)
		for i := range rapid.IntRange(1, 30).Draw(t, "rows") {
			currency := rapid.SampledFrom([]money.Currency{"EUR", "SEK"}).Draw(t, "currency")
			l := cost.Line{Code: int32(i % 3), Amount: money.Amount(rapid.Int64Range(-1e9, 1e9).Draw(t, "amount")), Currency: currency,
				Month: on("2026-08-01").Month() + calendar.Month(i%5), Ref: fact.Ref{Load: 1, Row: int32(i + 2)}}
			b.Budget(l)
			ev.Budget = append(ev.Budget, l)
			b.Forecast(l)
			ev.Forecast = append(ev.Forecast, l)
			x := cost.Posting{Code: l.Code, Date: on("2026-10-01") + calendar.Date(i), Amount: l.Amount, Currency: currency, Ref: l.Ref}
			b.Post(x)
			ev.Postings = append(ev.Postings, x)
		}
		p := &Project{Account: b.Account()}
		Assess(p, env)
		for _, key := range []Key{BAC, BudgetToDate, AC, ForecastToGo} {
			n, _ := Explain(p, ev, key)
			if sum, rows := leaves(n); sum != n.Value.N || rows > 0 && !n.Value.Known {
				t.Fatalf("%s is %d, its rows add up to %d", key, n.Value.N, sum)
			}
		}
	})
}

// leaves sums the nodes that are rows of a file with an amount.
func leaves(n Node) (sum int64, rows int) {
	if n.Ref != (fact.Ref{}) && n.Unit == Money {
		return n.Value.N, 1
	}
	for _, c := range n.Children {
		s, r := leaves(c)
		sum, rows = sum+s, rows+r
	}
	return sum, rows
}

func TestCatalogueIsWhole(t *testing.T) {
	for i, d := range All() {
		assert.NotEmpty(t, d.Name, d.Key)
		assert.NotEmpty(t, d.Formula, d.Key)
		assert.NotEmpty(t, d.Source, d.Key)
		assert.True(t, (d.base != nil) != (d.derive != nil), d.Key)
		for _, k := range d.inputs {
			assert.Less(t, k, i, "%s must stand after what it is computed from", d.Key)
		}
	}
}
