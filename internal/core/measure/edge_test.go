package measure

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/backlog"
	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
)

// without is a project of the kind that project makes, which has earned a share of its budget in hundredths of a percent and sent no
// forecast.
func without(code string, budget, spent, percent int64) *Project {
	p := project(code, budget, spent, 0)
	p.Account.ForecastLines, p.Activities[0].Percent = 0, fact.Some(percent)
	Assess(p, env)
	return p
}

// Nothing is spent, half is earned: there is no index, no estimate by it, and nothing to assess the cost by.
func TestAnActualCostOfZero(t *testing.T) {
	p := without("P", 1000, 0, 5_000)
	for _, key := range []Key{CPI, EACByCPI, EACByCPIAndSPI} {
		assert.Equal(t, Value{Reason: "actual cost is zero"}, p.Value(key), key)
	}
	for _, key := range []Key{EAC, VAC, VACShare} {
		assert.Equal(t, Value{Reason: "no forecast, and actual cost is zero"}, p.Value(key), key)
	}
	assert.Equal(t, "500.00", p.Value(EACAtBudgetRate).Text(Money, "EUR"), "what is left costs what it was budgeted to")
	assert.Equal(t, health.NotAssessed, p.Health.By[health.Cost])
	p = project("P", 1000, 0, 900)
	assert.Equal(t, "900.00", p.Value(EAC).Text(Money, "EUR"), "a declared forecast needs no index")
	assert.Equal(t, health.OnTrack, p.Health.By[health.Cost])
}

// By the index 1,000 / (500 / 800) = 1,600: act, with the reason; the declared estimate is not known.
func TestAnEstimateByTheIndexSaysSo(t *testing.T) {
	p := without("P", 1000, 800, 5_000)
	assert.Equal(t, "1600.00", p.Value(EAC).Text(Money, "EUR"))
	assert.NotEmpty(t, p.Value(EAC).Note)
	assert.Equal(t, "no forecast", p.Value(EACDeclared).Reason)
	assert.True(t, p.Statistical())
	assert.Equal(t, health.Act, p.Health.By[health.Cost])
	assert.Equal(t, "no forecast", p.Value(EACCapital).Reason)
}

// A is half earned for 400 of 1,000 with 600 to go; B of 500 has spent nothing and earned a fifth, and declares 500 to go.
// tcpi_eac: (1,500 - 600) / (1,500 - 400) = 9/11; cpi 600 / 400 = 1.5; so the gap is 9/11 - 3/2, though B has no index of its own.
func TestAGapOfAGroupIsThatOfItsSums(t *testing.T) {
	a, b := project("A", 1000, 400, 600), project("B", 500, 0, 500)
	a.Activities[0].Percent, b.Activities[0].Percent = fact.Some(5_000), fact.Some(2_000)
	Assess(a, env)
	Assess(b, env)
	assert.Equal(t, "actual cost is zero", b.Value(TCPIGap).Reason)
	g := Roll([]*Project{a, b}, env)
	assert.Equal(t, fact.Of(9, 11).Minus(fact.Of(3, 2)), g.Value(TCPIGap).Exact)
	assert.Equal(t, 2, g.CountOf(TCPIGap))
	assert.Equal(t, "0.818182", g.Value(TCPIToEAC).Text(Index, ""))
	assert.Equal(t, "1.500000", g.Value(CPI).Text(Index, ""))
}

// A spent 300 and earned 400 in three periods, B spent 200 and earned nothing: together 400 for 500. Left are 1,500 - 500: 1,250 at that
// rate, and spent are 800: 2,050, against the 1,900 declared.
func TestTheGapToTheRecentIndexOfAGroup(t *testing.T) {
	keep := func(p *Project, ev, ac int64) {
		x := Past{Period: env.Period() - 3, Values: make([]Value, len(pastKeys))}
		for i, k := range pastKeys {
			switch k {
			case EV:
				x.Values[i] = known(ev)
			case AC:
				x.Values[i] = known(ac)
			}
		}
		p.Past = []Past{x}
		Assess(p, env)
	}
	a, b := project("A", 1000, 500, 500), project("B", 500, 300, 600)
	a.Activities[0].Percent, b.Activities[0].Percent = fact.Some(5_000), fact.Some(0)
	keep(a, 100_00, 200_00)
	keep(b, 0, 100_00)
	assert.Equal(t, "nothing was earned in the last three periods", b.Value(ETCGap).Reason)
	g := Roll([]*Project{a, b}, env)
	assert.Equal(t, "2050.00", g.Value(EACByRecent).Text(Money, "EUR"))
	assert.Equal(t, "-150.00", g.Value(ETCGap).Text(Money, "EUR"))
	keep(b, 0, 300_00)
	assert.Equal(t, "cost of the last three periods is zero", b.Value(EACByRecent).Reason)

	c := without("C", 1000, 500, 5_000)
	keep(c, 100_00, 200_00)
	assert.True(t, c.Value(EACByRecent).Known)
	assert.Equal(t, "no forecast", c.Value(ETCGap).Reason, "nothing is declared")
}

// A has earned nothing, so no finish follows from it; together with B a half of 2,000 over the one budgeted month is earned.
func TestFinishByEarnedScheduleOfAGroup(t *testing.T) {
	a, b := project("A", 1000, 100, 900), project("B", 1000, 100, 900)
	a.Activities[0].Percent = fact.Some(0)
	Assess(a, env)
	assert.Equal(t, "nothing is earned yet", a.Value(FinishByES).Reason)
	g := Roll([]*Project{a, b}, env)
	assert.Equal(t, fact.Of(1, 2), g.Value(EarnedSchedule).Exact)
	assert.Equal(t, "2026-11-30", g.Value(FinishByES).Text(Day, ""), "one month planned, at half the pace two")
	assert.Equal(t, 2, g.CountOf(FinishByES))
}

// Both ended: A on 9 October, the 7th of 22 working days, B on the 16th, the 12th.
func TestTimeStopsWhereAllOfAGroupIsFinished(t *testing.T) {
	a, b := project("A", 1000, 100, 0), project("B", 1000, 100, 0)
	a.Activities[0].ActualFinish, b.Activities[0].ActualFinish = on("2026-10-09"), on("2026-10-16")
	Assess(a, env)
	Assess(b, env)
	assert.Equal(t, fact.Of(7, 22), a.Value(ActualTime).Exact)
	assert.Equal(t, fact.Of(12, 22), Roll([]*Project{a, b}, env).Value(ActualTime).Exact)
	open := project("C", 1000, 100, 0)
	assert.Equal(t, fact.Of(1, 1), Roll([]*Project{a, open}, env).Value(ActualTime).Exact, "one goes on")
}

// Before the budget begins no time has passed, and nothing can be divided by it.
func TestBeforeTheFirstBudgetedMonth(t *testing.T) {
	early := env
	early.AsOf = on("2026-09-30")
	p := project("P", 1000, 100, 900)
	Assess(p, early)
	assert.Equal(t, "0.000000", p.Value(ActualTime).Text(Index, ""))
	assert.Equal(t, "1.000000", p.Value(SVInTime).Text(Index, ""))
	for _, key := range []Key{SPIInTime, FinishByES} {
		assert.Equal(t, "the first budgeted month has not begun", p.Value(key).Reason, key)
	}
}

// Points: A 30 of 100 added, B 10 of 20: together 40 of 120, not a mean of 30 and 50 %. C is told by days and stands aside.
func TestWorkAddedOfAGroupIsThatOfItsPoints(t *testing.T) {
	items := func(p *Project, all, added int64) *Project {
		p.Items = []backlog.Item{{Code: "1", Points: fact.Some((all - added) * 10_000)}, {Code: "2", Points: fact.Some(added * 10_000),
			Added: on("2026-03-02")}}
		Assess(p, env)
		return p
	}
	a, b, c := items(project("A", 9000, 0, 0), 100, 30), items(project("B", 1, 0, 0), 20, 10), project("C", 1000, 0, 0)
	g := Roll([]*Project{a, b, c}, env)
	assert.Equal(t, 0, g.Value(ScopeAddedShare).Exact.Cmp(fact.Of(40, 120)))
	assert.Equal(t, 2, g.CountOf(ScopeAddedShare))
	assert.Equal(t, "C", g.Left[places[ScopeAddedShare]][0].Project.Code)
	c.Activities = append(c.Activities, schedule.Activity{Code: "B", Start: on("2026-11-02"), Finish: on("2026-11-13")})
	Assess(c, env)
	assert.Equal(t, 0, Roll([]*Project{c}, env).Value(ScopeAddedShare).Exact.Cmp(fact.Of(10, 210)), "days where nobody has a backlog")
}

// A project with a backlog and no weighted activity earns by the points accepted, also where a percent is reported, and where earned
// value is off.
func TestABacklogGoesBeforeTheReportedPercent(t *testing.T) {
	p := project("P", 1000, 0, 0)
	p.Activities, p.Declared = nil, &Declared{Percent: fact.Some(9_000)}
	p.Items = []backlog.Item{{Code: "1", Points: fact.Some(10_000), State: "accepted"}, {Code: "2", Points: fact.Some(20_000)}}
	for _, on := range []bool{true, false} {
		p.EarnedValue = on
		Assess(p, env)
		assert.Equal(t, "333.33", p.Value(WorkDone).Text(Money, "EUR"))
		n, _ := Explain(p, &Evidence{Env: env}, WorkDone)
		assert.Contains(t, n.Children[0].Label, "1 of 3 points")
	}
	p.Items = []backlog.Item{{Code: "1"}}
	Assess(p, env)
	assert.Equal(t, "nothing to count: no item of the backlog has points", p.Value(PercentComplete).Reason)
	p.Items = nil
	Assess(p, env)
	assert.Equal(t, "900.00", p.Value(WorkDone).Text(Money, "EUR"))
}

// A rate of last year is missing: what was spent in all is not known, what was spent this year is.
func TestAMissingRateLeavesOtherFiguresAlone(t *testing.T) {
	b := cost.NewBuilder(cost.NewRates("EUR", nil), env.Calendar, env.AsOf)
	b.Classify(cost.Classes{Of: []cost.Class{cost.Capital, cost.Operating}})
	b.Post(cost.Posting{Code: 0, Date: on("2025-11-03"), Amount: 100, Currency: "SEK"})
	b.Post(cost.Posting{Code: 1, Date: on("2026-09-03"), Amount: 300_00, Currency: "EUR"})
	b.Forecast(cost.Line{Code: 0, Amount: 100, Currency: "SEK", Month: on("2025-12-01").Month()})
	b.Forecast(cost.Line{Code: 0, Amount: 200_00, Currency: "EUR", Month: on("2026-11-01").Month()})
	b.Budget(cost.Line{Amount: 900_00, Currency: "EUR", Month: on("2026-09-01").Month()})
	p := &Project{Info: Info{Code: "P", Status: Open}, Account: b.Account()}
	Assess(p, env)
	for key, want := range map[Key]string{AC: "", ACCapital: "", EAC: "", ACAtPlan: "", ForecastTotal: "",
		YearActual: "300.00", RunRate: "100.00",
		ACOperating: "300.00", ForecastToGo: "200.00", YearToGo: "200.00", EACOperating: "300.00", BAC: "900.00",
		BudgetToDate: "900.00"} {
		assert.Equal(t, want, p.Value(key).Text(Money, "EUR"), key)
	}
	assert.Equal(t, "no month rate for SEK in 2025-11", p.Value(AC).Reason)
	assert.Equal(t, "no plan rate for SEK in 2025-11", p.Value(ACAtPlan).Reason)
}

// Of two that finish together the one that must has the least float. The milestone that nobody waits for is missed, and nobody says for
// when it is expected: it slips to the as-of date, a Saturday: 20 working days after the second of October.
func TestFloatOfTheFinishAndTheLongestSlip(t *testing.T) {
	list := []schedule.Activity{
		{Code: "A", BaselineFinish: on("2026-11-06"), Duration: fact.Some(5)},
		{Code: "B", BaselineFinish: on("2026-11-06"), Duration: fact.Some(5), NotAfter: on("2026-11-04")},
		{Code: "M", Kind: schedule.Milestone, BaselineFinish: on("2026-10-02")},
		{Code: "N", Kind: schedule.Milestone, BaselineFinish: on("2026-11-02"), Finish: on("2026-11-10")},
	}
	p, _ := scheduled(list, nil, 0)
	assert.Equal(t, "-2", text(p, FinishFloat))
	assert.Equal(t, "20", text(p, LongestSlip))
	list[2].Finish = on("2026-10-16") // a day that has passed is no better
	p, _ = scheduled(list, nil, 0)
	assert.Equal(t, "20", text(p, LongestSlip))
	list[2].ActualFinish = on("2026-10-16")
	p, _ = scheduled(list, nil, 0)
	assert.Equal(t, "6", text(p, LongestSlip))
}

// A leads the project off and B ends it; C has neither before nor after. D starts first but hangs on another, so that nothing excuses A.
func TestLooseEndsSpareTheTrueFirstAndLast(t *testing.T) {
	work := func(code string, days int64, from string) schedule.Activity {
		return schedule.Activity{Code: code, Duration: fact.Some(days), NotBefore: on(from)}
	}
	list := []schedule.Activity{work("A", 5, "2026-11-02"), work("B", 5, "2026-01-01"), work("C", 1, "2026-11-03")}
	links := []schedule.Dependency{{From: "A", To: "B"}}
	p, _ := scheduled(list, links, 0)
	assert.Equal(t, "1", text(p, LooseEnds), "C alone")
	// A begins a day after C: C leads off, though nothing waits for it.
	list[0].NotBefore, list[2].NotBefore = on("2026-11-04"), on("2026-11-02")
	p, _ = scheduled(list, links, 0)
	assert.Equal(t, "2", text(p, LooseEnds), "A without a predecessor, C without a successor")
	// D waits for the end of nothing but a lead before A, and starts first.
	list = append(list[:2:2], work("D", 1, "2026-11-02"))
	links = append(links, schedule.Dependency{From: "A", To: "D", Type: schedule.FinishStart, Lag: -20},
		schedule.Dependency{From: "D", To: "B"})
	p, _ = scheduled(list, links, 0)
	assert.Equal(t, "1", text(p, LooseEnds), "A is not first")
}

// One closed project, without a forecast: nothing is to go, and the estimate is what was spent.
func TestAPortfolioOfClosedProjects(t *testing.T) {
	p := project("P", 1000, 800, 0)
	p.Status, p.Account.ForecastLines = Closed, 0
	p.Activities[0].ActualFinish = on("2026-10-09")
	Assess(p, env)
	g := Roll([]*Project{p}, env)
	for key, want := range map[Key]string{EAC: "800.00", VAC: "200.00", EACDeclared: "", ETCGap: "", EV: "1000.00",
		EACOperating: "0.00"} {
		assert.Equal(t, want, p.Value(key).Text(Money, "EUR"), key)
		assert.Equal(t, want, g.Value(key).Text(Money, "EUR"), key)
	}
	assert.Equal(t, "0", text(p, Errors), "what is closed nobody mends")
}

// All amounts below zero: the ratios are those of their magnitudes.
func TestAllAmountsNegative(t *testing.T) {
	p := project("P", -1000, -400, -700)
	p.Activities[0].Percent = fact.Some(5_000)
	Assess(p, env)
	for key, want := range map[Key]string{EV: "-500.00", EAC: "-1100.00", VAC: "100.00", EACByCPI: "-800.00", CV: "-100.00"} {
		assert.Equal(t, want, p.Value(key).Text(Money, "EUR"), key)
	}
	for key, want := range map[Key]string{CPI: "1.250000", VACShare: "-0.100000", PercentComplete: "0.500000",
		TCPIToEAC: "0.714286"} {
		assert.Equal(t, want, p.Value(key).Text(Index, ""), key)
	}
	assert.True(t, finds(p, "negative_actual"))
}

// An open risk that nobody rated has no exposure; a closed one, or one rated, leaves something to say.
func TestExposureOfUnratedRisks(t *testing.T) {
	p := project("P", 1000, 0, 1000)
	p.Risks = []risk.Risk{{Code: "R1", Title: "Flood", State: "open", Owner: "A", Review: env.AsOf + 1}}
	Assess(p, env)
	assert.Equal(t, "no open risk has a likelihood and a consequence", p.Value(RiskExposure).Reason)
	assert.Equal(t, health.NotAssessed, p.Health.By[health.Risk])
	assert.True(t, finds(p, "risk_unrated"))
	p.Risks[0].State = "closed"
	Assess(p, env)
	assert.Equal(t, known(0), p.Value(RiskExposure))
	p.Risks = append(p.Risks, risk.Risk{State: "open"}, risk.Risk{State: "open", Rating: risk.Rating{Likelihood: fact.Some(3),
		Consequence: fact.Some(4)}})
	Assess(p, env)
	assert.Equal(t, known(12), p.Value(RiskExposure))
}

// A pair of figures of this kind, early on: the estimate by the index is hatched with it.
func TestEarlyAnEstimateByTheIndexDoesNotCount(t *testing.T) {
	p := without("P", 1000, 800, 5_000)
	p.Activities[0].BaselineFinish = on("2031-12-31")
	Assess(p, env)
	assert.Equal(t, []health.Status{health.OnTrack, health.Act}, []health.Status{p.Health.By[health.Cost], p.Health.Muted[health.Cost]})
}

// What is spent is more than all there is: the money of a whole project is the money of its months.
func TestTheBudgetOfAGroupRunsOutWhereItsSumsSay(t *testing.T) {
	a, b := project("A", 1000, 900, 100), project("B", 100, 150, 0)
	assert.Equal(t, "2026-05-31", b.Value(BudgetOut).Text(Day, ""), "overspent in May, when it was posted")
	assert.Equal(t, "at this rate the budget does not run out", a.Value(BudgetOut).Reason)
	assert.Equal(t, "at this rate the budget does not run out", Roll([]*Project{a, b}, env).Value(BudgetOut).Reason,
		"together they have 50 left")
	c := project("C", 10, 100, 0)
	assert.Equal(t, "2026-05-31", Roll([]*Project{a, b, c}, env).Value(BudgetOut).Text(Day, ""))
	assert.Equal(t, money.Amount(0), a.Value(RunRate).Amount())
}

func finds(p *Project, rule string) bool {
	return slices.ContainsFunc(p.Checks.Findings, func(f check.Finding) bool { return f.Rule.ID == rule })
}
