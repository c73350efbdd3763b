package way_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/core/way"
)

func on(s string) calendar.Date {
	d, err := calendar.ParseDate(s)
	if err != nil {
		panic(err)
	}
	return d
}

var env = measure.Env{AsOf: on("2026-06-30"), Currency: "EUR", Calendar: calendar.Standard, Tolerances: health.Defaults(),
	Milestones: schedule.Options{LookAhead: 20}}

// project has a budget of 100 a month from January to October, 200 working days to 9 October, and four tenths of its work done at the end
// of June. spent and toGo are in euro, finish is when it is expected to end.
func project(spent, toGo int64, finish string, earned bool) *measure.Project {
	b := cost.NewBuilder(cost.NewRates("EUR", nil), calendar.Standard, env.AsOf)
	for m := range 10 {
		b.Budget(cost.Line{Amount: 100_00, Currency: "EUR", Month: on("2026-01-01").Month() + calendar.Month(m)})
	}
	b.Post(cost.Posting{Date: on("2026-05-05"), Amount: money.Amount(spent * 100), Currency: "EUR"})
	b.Forecast(cost.Line{Amount: money.Amount(toGo * 100), Currency: "EUR", Month: on("2026-09-01").Month()})
	p := &measure.Project{Info: measure.Info{Code: "P", Name: "P", Status: measure.Open, EarnedValue: earned}, Account: b.Account(),
		Activities: []schedule.Activity{{Code: "A", BaselineStart: on("2026-01-05"), BaselineFinish: on("2026-10-09"), Finish: on(finish),
			ActualStart: on("2026-01-05"), Percent: fact.Some(4000)}}}
	measure.Assess(p, env)
	return p
}

// past is a closed period with a few figures; money in euro.
func past(month int, finish string, eac, ev, ac int64, es, at float64) measure.Past {
	x := measure.Past{Period: calendar.Months.Of(calendar.On(2026, month, 1)), Values: make([]measure.Value, len(measure.PastKeys()))}
	for i, key := range measure.PastKeys() {
		switch key {
		case measure.ExpectedFinish:
			x.Values[i] = measure.Value{Known: true, N: int64(on(finish))}
		case measure.EAC, measure.EV, measure.AC:
			x.Values[i] = measure.Value{Known: true, N: 100 * map[measure.Key]int64{measure.EAC: eac, measure.EV: ev, measure.AC: ac}[key]}
		case measure.EarnedSchedule, measure.ActualTime:
			x.Values[i] = measure.Value{Known: true, Ratio: map[measure.Key]float64{measure.EarnedSchedule: es,
				measure.ActualTime: at}[key]}
		}
	}
	return x
}

// said are the ways back as "kind to status: what by when, most so far".
func said(list []way.Way) []string {
	var s []string
	for i := range list {
		w := &list[i]
		text := fmt.Sprintf("%s to %s: %s", w.Trigger.Key, w.To, w.Says)
		if w.By != 0 {
			text += " by " + w.By.String()
		}
		done, known := w.Reached()
		s = append(s, fmt.Sprintf("%s %v %v", text, done, known))
	}
	return s
}

// Spent 500 with 400 earned, 650 to go, 25 working days late. By hand: 20 of 200 days are watch and 10 on track; 1,100 and 1,050 are the
// limits of the estimate of 1,150; (1000 - 400) / (1000 / 0.90 - 500) = 0.9818 and by 0.95 1.0857 are the cost indices of the rest;
// (10 - 4) / (10 / 0.85 - 6) = 1.0408 and by 0.95 1.3256 those of time. It gained six days at most, saved 30, and
// earned as much as it spent.
func TestTheWayBackByHand(t *testing.T) {
	p := project(500, 650, "2026-11-13", true)
	p.Past = []measure.Past{past(4, "2026-11-20", 1200, 300, 400, 3, 4), past(5, "2026-11-12", 1180, 340, 440, 3.4, 5)}
	assert.ElementsMatch(t, []string{
		"finish_share to watch: Finish 5 working days earlier by 2026-11-06 true true",
		"finish_share to on track: Finish 15 working days earlier by 2026-10-23 false true",
		"vac_share to watch: Complete for €50.00 less false true",
		"vac_share to on track: Complete for €100.00 less false true",
		"cpi to watch: Work off the rest at a cost index of 0.99 by 2026-11-13 true true",
		"cpi to on track: Work off the rest at a cost index of 1.09 by 2026-11-13 false true",
		"spi_t to watch: Work off the rest at an index of time of 1.05 by 2026-11-13 false true",
		"spi_t to on track: Work off the rest at an index of time of 1.33 by 2026-11-13 false true",
	}, said(way.Of(p, env)))
	best := map[string]string{}
	for _, w := range way.Of(p, env) {
		best[w.Trigger.Key] = w.Best.Text(w.Unit, "EUR")
	}
	assert.Equal(t, map[string]string{"finish_share": "6", "vac_share": "30.00", "cpi": "1.000000", "spi_t": "0.600000"}, best)
}

// A figure on its limit has not crossed it: the change that is asked for leads exactly there.
func TestTheLeastChangeIsEnoughAndLessIsNot(t *testing.T) {
	for days, finish := range map[int]string{20: "2026-11-06", 21: "2026-11-09"} {
		list := way.Of(project(400, 600, finish, false), env)
		require.NotEmpty(t, list)
		assert.Equal(t, days == 21, list[0].Trigger.Level == health.Act, finish)
	}
	after := project(500, 600, "2026-10-23", true) // five tenths of a hundred less, fifteen days earlier
	assert.NotContains(t, fmt.Sprint(said(way.Of(after, env))), "vac_share to watch", "at 10 % it is at watch")
	assert.NotContains(t, fmt.Sprint(said(way.Of(after, env))), "finish_share", "at 5 % it is on track")
}

// What cannot be brought back says why: more is spent than any index of the rest could make up for, and nothing is told without a past.
func TestAWayThatIsNone(t *testing.T) {
	p := project(1200, 650, "2026-10-09", true)
	for _, w := range way.Of(p, env) {
		if w.Trigger.Key == "cpi" {
			assert.Equal(t, "more is spent than the limit leaves for the whole", w.Need.Reason)
			assert.Equal(t, "No index of the rest brings it back: the money is spent", w.Says)
		}
		_, known := w.Reached()
		assert.False(t, known, w.Trigger.Key)
	}
	quiet := project(400, 600, "2026-10-09", false)
	assert.Empty(t, way.Of(quiet, env), "on plan there is nothing to bring back")
}

// Earned value off: 700 spent of 600 to date. By the end of July the budget is 700: 5 % over it leaves 35 to spend, 10 % leaves 70.
func TestSpendingIsHeldUntilTheNextPeriod(t *testing.T) {
	p := project(700, 250, "2026-10-09", false)
	assert.Equal(t, []string{"spent_to_date_share to watch: Spend no more than €70.00 by 2026-07-31 false false",
		"spent_to_date_share to on track: Spend no more than €35.00 by 2026-07-31 false false"}, said(way.Of(p, env)))
	p = project(800, 150, "2026-10-09", false)
	assert.Equal(t, []string{
		"spent_to_date_share to watch: Even without a cost in the next period it stays over: the budget to date is too small by €30.00" +
			" by 2026-07-31 false false",
		"spent_to_date_share to on track: Even without a cost in the next period it stays over: the budget to date is too small by €65.00" +
			" by 2026-07-31 false false"}, said(way.Of(p, env)))
}

// A milestone of a programme due on 1 May and expected on 8 July is 48 working days late; 20 of them were over on 29 May, so that only
// being done helps. One due on 15 June and expected on 5 August is 37 late: 17 days earlier, on 13 July, it is at watch.
func TestAMissedMilestone(t *testing.T) {
	for _, c := range []struct{ due, expected, watch string }{
		{"2026-05-01", "2026-07-08", "Gate is done: then it no longer counts"},
		{"2026-06-15", "2026-08-05", "Gate 17 working days earlier"},
	} {
		p := project(400, 600, "2026-10-09", false)
		p.Activities = append(p.Activities, schedule.Activity{Code: "G", Name: "Gate", Kind: schedule.Milestone,
			Level: schedule.ProgrammeLevel, BaselineFinish: on(c.due), Finish: on(c.expected)})
		measure.Assess(p, env)
		list := way.Of(p, env)
		require.Len(t, list, 2, c.due)
		assert.Equal(t, c.watch, list[0].Says)
		assert.Equal(t, "Gate is done: then it no longer counts", list[1].Says)
		if c.due == "2026-06-15" {
			assert.Equal(t, "2026-07-13", list[0].By.String())
		}
	}
}

// All is earned, late: neither index can be brought back by work that is not there. Of a project whose budget is below zero no share of
// cost is told.
func TestAWayWithNothingLeft(t *testing.T) {
	p := project(1200, 0, "2026-10-09", true)
	p.Activities[0].Percent, p.Activities[0].ActualFinish = fact.Some(10_000), on("2026-12-18")
	late := env
	late.AsOf = on("2026-12-31")
	measure.Assess(p, late)
	told := map[string]string{}
	for _, w := range way.Of(p, late) {
		told[w.Trigger.Key] = w.Says + "; " + w.Need.Reason
	}
	assert.Equal(t, "Nothing is left to earn: the index stays as it is; all is earned", told["cpi"])
	assert.Equal(t, "Nothing is left to earn: the index stays as it is; all is earned", told["spi_t"])

	b := cost.NewBuilder(cost.NewRates("EUR", nil), calendar.Standard, env.AsOf)
	b.Budget(cost.Line{Amount: -100_00, Currency: "EUR", Month: on("2026-01-01").Month()})
	b.Forecast(cost.Line{Amount: -50_00, Currency: "EUR", Month: on("2026-09-01").Month()})
	below := &measure.Project{Info: measure.Info{Code: "N", Status: measure.Open}, Account: b.Account()}
	measure.Assess(below, env)
	for _, w := range way.Of(below, env) {
		assert.NotEqual(t, health.Cost, w.Trigger.Dimension, w.Says)
	}
}
