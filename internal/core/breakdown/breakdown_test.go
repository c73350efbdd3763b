package breakdown_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
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

func on(s string) calendar.Date {
	d, err := calendar.ParseDate(s)
	if err != nil {
		panic(err)
	}
	return d
}

var env = measure.Env{AsOf: on("2026-10-31"), Currency: "EUR", Calendar: calendar.Standard, Tolerances: health.Defaults(),
	Milestones: schedule.Options{LookAhead: 20}}

var someRates = cost.NewRates("EUR", []cost.RateRow{
	{Currency: "SEK", Month: on("2020-01-01").Month(), Plan: true, Rate: money.Rate{Digits: 871, Places: 4}},
	{Currency: "SEK", Month: on("2026-10-01").Month(), Rate: money.Rate{Digits: 911, Places: 4}},
})

// project makes a project of one budget line, one posting and one forecast line, in major units.
func project(budget, spent, toGo int64) *measure.Project {
	b := cost.NewBuilder(cost.NewRates("EUR", nil), calendar.Standard, env.AsOf)
	b.Budget(cost.Line{Amount: money.Amount(budget * 100), Currency: "EUR", Month: on("2026-10-01").Month()})
	b.Post(cost.Posting{Code: 0, Date: on("2026-05-05"), Amount: money.Amount(spent * 100), Currency: "EUR"})
	b.Forecast(cost.Line{Amount: money.Amount(toGo * 100), Currency: "EUR", Month: on("2026-11-01").Month()})
	p := &measure.Project{Info: measure.Info{Code: "P", Name: "P", Status: measure.Open, EarnedValue: true}, Account: b.Account()}
	measure.Assess(p, env)
	return p
}

// What an activity or a cost code has earned adds up to what the project has, to the cent, and none of it is negative.
func TestEarnedByWorkAndByCodeAddsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := project(rapid.Int64Range(1, 9_999_999).Draw(t, "budget"), rapid.Int64Range(0, 9_999_999).Draw(t, "spent"), 0)
		p.Activities = nil
		for i := range rapid.IntRange(1, 7).Draw(t, "activities") {
			from := on("2026-01-05") + calendar.Date(rapid.IntRange(0, 300).Draw(t, "start"))
			p.Activities = append(p.Activities, schedule.Activity{Code: string(rune('A' + i)), BaselineStart: from,
				BaselineFinish: from + calendar.Date(rapid.IntRange(0, 200).Draw(t, "days")),
				Percent:        fact.Some(rapid.Int64Range(0, 10_000).Draw(t, "percent")),
				Weight:         fact.Some(rapid.Int64Range(0, 1_000_000).Draw(t, "weight"))})
		}
		measure.Assess(p, env)
		ev := p.Value(measure.EV)
		if !ev.Known {
			return
		}
		var byWork, byCode, budget money.Amount
		for _, w := range breakdown.Work(p) {
			byWork += w.Earned
			budget += w.Budget
			assert.GreaterOrEqual(t, w.Planned, money.Amount(0))
			assert.LessOrEqual(t, w.Planned, w.Budget)
		}
		for _, c := range breakdown.WorkByCode(p) {
			byCode += c.Earned
		}
		assert.Equal(t, ev.Amount(), byWork)
		assert.Equal(t, ev.Amount(), byCode)
		assert.Equal(t, p.Value(measure.BAC).Amount(), budget)
	})
}

// The reason of a deviation names the codes that make it and the exchange rate where that is a tenth of it.
func TestReasonOfADeviation(t *testing.T) {
	b := cost.NewBuilder(someRates, calendar.Standard, env.AsOf)
	names := func(c int32) string { return []string{"Staff", "Walls", "Motors"}[c] }
	for code, a := range []money.Amount{100_000_00, 200_000_00, 87_100_00} {
		b.Budget(cost.Line{Code: int32(code), Amount: a, Currency: "EUR", Month: on("2026-10-01").Month()})
	}
	b.Post(cost.Posting{Code: 0, Date: on("2026-10-05"), Amount: 90_000_00, Currency: "EUR"})
	b.Post(cost.Posting{Code: 1, Date: on("2026-10-05"), Amount: 230_000_00, Currency: "EUR"})
	b.Post(cost.Posting{Code: 2, Date: on("2026-10-05"), Amount: 1_000_000_00, Currency: "SEK"})
	b.Forecast(cost.Line{Code: 0, Amount: 100, Currency: "EUR", Month: on("2026-11-01").Month()})
	p := &measure.Project{Account: b.Account()}
	measure.Assess(p, env)
	// 1,000,000 SEK are 91,100.00 where the plan rate makes 87,100.00: 4,000 by the rate; walls 30,000 over, staff 9,999 under.
	assert.Equal(t, "Walls €30 k over; Motors €4,000 over; exchange rates cost €4,000", breakdown.Reason(p, env, names))
	assert.Equal(t, "-4000.00", p.Value(measure.RateVariance).Text(measure.Money, "EUR"))
	assert.Equal(t, "-20001.00", p.Value(measure.VolumeVariance).Text(measure.Money, "EUR"))
}

func TestCostCodesAddUpToTheProject(t *testing.T) {
	p := project(1000, 700, 400)
	var sum breakdown.CodeLine
	for _, c := range breakdown.ByCode(p) {
		sum.Budget += c.Budget
		sum.Estimate += c.Estimate
		sum.Variance += c.Variance
	}
	total := breakdown.CodeTotal(p)
	assert.Equal(t, []int64{p.Value(measure.BAC).N, p.Value(measure.EAC).N, p.Value(measure.VAC).N}, []int64{int64(total.Budget),
		int64(total.Estimate),
		int64(total.Variance)})
	assert.Equal(t, []any{total.Budget, total.Estimate, total.Variance}, []any{sum.Budget, sum.Estimate, sum.Variance})
}
