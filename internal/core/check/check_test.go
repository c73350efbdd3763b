package check_test

import (
	"errors"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/figure"
	"turret/internal/core/health"
	mon "turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
)

var (
	day   = calendar.On
	asOf  = day(2026, 6, 30) // a Tuesday
	money = func(euros int64) figure.Value { return figure.Value{N: euros * 100, Known: true} }
	ratio = func(x float64) figure.Value { return figure.Value{Exact: fact.Decimal(x), Known: true} }
	date  = func(d calendar.Date) figure.Value { return figure.Value{N: int64(d), Known: true} }
)

// sound is a project of three activities in a chain with nothing wrong: a survey that is finished, works that go on, and a gate.
func sound() *check.In {
	month := func(m int, percent float64) check.Moment {
		return check.Moment{Period: calendar.Months.Of(day(2026, m, 1)), BAC: money(1000), EV: money(int64(1000 * percent)),
			Work: money(int64(1000 * percent)), AC: money(int64(990 * percent)),
			CPI: ratio(1.01), Percent: ratio(percent), BaselineFinish: date(day(2026, 9, 30)), ExpectedFinish: date(day(2026, 9, 30))}
	}
	return &check.In{
		AsOf: asOf, Days: calendar.Standard, Currency: "EUR", EarnedValue: true,
		Activities: []schedule.Activity{
			{Code: "A1", Name: "Survey", BaselineStart: day(2026, 4, 1), BaselineFinish: day(2026, 4, 30), ActualStart: day(2026, 4, 1),
				ActualFinish: day(2026, 4, 30), Percent: fact.Some(10_000)},
			{Code: "A2", Name: "Works", BaselineStart: day(2026, 6, 1), BaselineFinish: day(2026, 7, 24), Start: day(2026, 6, 1),
				Finish: day(2026, 7, 24), ActualStart: day(2026, 6, 1),
				Duration: fact.Some(40), Remaining: fact.Some(18), Percent: fact.Some(5_000)},
			{Code: "M1", Name: "Gate", Kind: schedule.Milestone, Owner: "I. Berg", BaselineStart: day(2026, 7, 24),
				BaselineFinish: day(2026, 7, 24), Start: day(2026, 7, 24), Finish: day(2026, 7, 24)},
		},
		Lines: 3, ForecastLines: 2, Postings: 4,
		Codes:   []check.Code{{Name: "1 Works", Amount: 30_000}},
		Changes: []check.Budgeted{{Change: "C-1", Approved: 5_000, Lines: 5_000, Currency: "EUR"}},
		Rates:   []error{nil, nil},
		Ledger:  check.Ledger{Documents: 4, Hours: 6},
		BAC:     money(1000), EAC: money(990), EV: money(500), Work: money(500), AC: money(495), ToDate: money(500), Open: money(50),
		CPI: ratio(1.01), TCPI: ratio(1.01),
		Percent: ratio(0.5), Threat: money(10), Contingency: money(40),
		BaselineFinish: date(day(2026, 9, 30)), ExpectedFinish: date(day(2026, 9, 30)),
		Past: []check.Moment{month(3, 0.2), month(4, 0.3), month(5, 0.4)},
		Risks: []risk.Risk{{Code: "R-1", Title: "Flood", Owner: "I. Berg", Review: day(2026, 7, 15), State: "open",
			Rating: risk.Rating{Likelihood: fact.Some(2), Consequence: fact.Some(3)}}},
		Declared: health.OnTrack, Computed: health.OnTrack, Tested: 4,
		Staffing: check.Staffing{Assigned: []check.Assigned{{Who: "A", From: day(2026, 6, 1), To: day(2026, 7, 24)}},
			Named: []check.Loaded{{Who: "A", Weeks: 2}}},
	}
}

// asleep gives a sound project a forecast that has stood for three periods, before which the cost index was another.
func asleep(in *check.In, cpi float64) {
	for i := range in.Past {
		in.Past[i].SameForecast = true
	}
	in.Past[0].EV, in.Past[0].AC = figure.Value{N: int64(math.Round(cpi * 1e4)), Known: true}, figure.Value{N: 1e4, Known: true}
	in.CPI = ratio(1.01)
}

// fell has the work of the period before be worth so many cents, for the same cost as now.
func fell(in *check.In, cents int64) {
	in.Past[2].Work.N, in.Past[2].AC = cents, in.AC
}

type links []schedule.Dependency

func chain() links {
	return links{{From: "A1", To: "A2"}, {From: "A2", To: "M1"}}
}

// run puts the network of a project together and runs the checks over it.
func run(in *check.In, l links, opt check.Options, accepted ...check.Acceptance) check.Result {
	plan := schedule.NewPlan([]schedule.Sheet{{Activities: in.Activities}}, l, in.Days, in.AsOf, schedule.Computed)
	logic := plan.Logic(plan.Run(), func(at schedule.Place) string { return in.Activities[at.Activity].Code })[0]
	in.Logic = &logic
	return check.Run(in, opt, accepted)
}

func found(r check.Result) (list []string) {
	for _, f := range r.Findings {
		if f.Accepted == nil {
			list = append(list, f.Rule.ID+" "+f.Record)
		}
	}
	return list
}

func TestASoundProjectFailsNothing(t *testing.T) {
	r := run(sound(), chain(), check.Options{})
	assert.Empty(t, found(r))
	failed, tested := r.Weights()
	assert.Zero(t, failed)
	// 12 errors at weight 5 test 2+3+3+3+1+1+1+1+3+2+4+1 = 25 records. 20 warnings at 2: the ten of a project one each; open activities
	// twice for loose ends, hard dates, float and duration; two links into open ones twice, six rows in others. 5 of information at 1.
	assert.EqualValues(t, 25, countOf(r, check.Error))
	assert.EqualValues(t, 5, countOf(r, check.Information))
	assert.EqualValues(t, 5*25+2*countOf(r, check.Warning)+5, tested)
	assert.Len(t, check.Rules(), 46)
}

func countOf(r check.Result, s check.Severity) (n int64) {
	for _, c := range r.Tested {
		if c.Rule.Severity == s {
			n += int64(c.Tested)
		}
	}
	return n
}

// Each fault, planted alone in the sound project, is found by its check, names its record, and by no other check. What lies at the
// limit is no fault.
func TestEachFaultIsFoundAndNothingElse(t *testing.T) {
	type plant struct {
		id, record string
		do         func(in *check.In, l *links)
	}
	for _, x := range []plant{
		{"nothing_remaining", "A2", func(in *check.In, _ *links) { in.Activities[1].Remaining = fact.Some(0) }},
		{"finish_missing", "A2", func(in *check.In, _ *links) { in.Activities[1].Percent = fact.Some(10_000) }},
		{"finish_missing", "M1", func(in *check.In, _ *links) { in.Activities[2].Percent = fact.Some(10_000) }},
		{"actual_ahead", "A1", func(in *check.In, _ *links) { in.Activities[0].ActualFinish = asOf + 1 }},
		{"", "", func(in *check.In, _ *links) { in.Activities[0].ActualFinish = asOf }},
		{"", "", func(in *check.In, _ *links) { // of what is cancelled nothing is asked
			for i := range in.Activities[1:] {
				a := &in.Activities[i+1]
				a.State, a.Start, a.Finish, a.Owner, a.Remaining = schedule.Cancelled, 0, asOf, "", fact.Some(0)
			}
		}},
		{"finish_before_start", "A1", func(in *check.In, _ *links) { in.Activities[0].ActualFinish = day(2026, 3, 31) }},
		{"finish_before_start", "A2", func(in *check.In, _ *links) { in.Activities[1].BaselineStart = day(2026, 7, 27) }},
		{"closed_code", "1 Works", func(in *check.In, _ *links) { in.Codes[0].Closed = true }},
		{"budget_sum", "C-1", func(in *check.In, _ *links) { in.Changes[0].Lines-- }},
		{"no_baseline", "", func(in *check.In, _ *links) {
			for i := range in.Activities {
				in.Activities[i].BaselineStart, in.Activities[i].BaselineFinish = 0, 0
			}
		}},
		{"date_passed", "A2", func(in *check.In, _ *links) { in.Activities[1].Finish = asOf }},
		{"date_passed", "M1", func(in *check.In, _ *links) {
			in.Activities[2].Start, in.Activities[2].Finish = day(2026, 6, 29), day(2026, 6, 29)
		}},
		{"date_passed", "A2", func(in *check.In, _ *links) {
			a := &in.Activities[1]
			a.ActualStart, a.Percent, a.Remaining = 0, fact.Some(0), fact.Some(40)
		}},
		{"missing_rate", "no rate of SEK", func(in *check.In, _ *links) { in.Rates[1] = errors.New("no rate of SEK") }},
		{"posted_twice", "D-7", func(in *check.In, _ *links) { in.Ledger.Twice = []check.Twice{{Document: "D-7", Rows: 2}} }},
		{"negative_actual", "", func(in *check.In, _ *links) { in.AC = money(-1); in.Past = nil; in.Work = money(0) }},
		{"budget_sum", "C-1 SEK", func(in *check.In, _ *links) {
			in.Changes = append(in.Changes, check.Budgeted{Change: "C-1", Other: true, Lines: 1, Currency: "SEK"})
		}},
		{"budget_raised", "", func(in *check.In, _ *links) { in.BAC = money(1010); in.BAC.N++; in.Past[0].SameForecast = true }},
		{"", "", func(in *check.In, _ *links) { in.BAC = money(1010); in.Past[0].SameForecast = true }}, // one percent is the limit
		{"", "", func(in *check.In, _ *links) { in.BAC = money(1100) }},                                 // the forecast is another
		{"budget_raised", "", func(in *check.In, _ *links) { // what was spent meanwhile hides nothing
			in.BAC, in.EAC, in.Past[2].SameForecast = money(1100), money(1090), true
		}},
		{"", "", func(in *check.In, _ *links) { // four periods before is too long ago
			in.Past = append(in.Past, in.Past[2], in.Past[2])
			in.Past[0].BAC, in.Past[0].SameForecast = money(900), true
		}},
		{"estimate_low", "", func(in *check.In, _ *links) { in.EAC = money(544); in.EAC.N += 99; in.BAC = money(600) }},
		{"", "", func(in *check.In, _ *links) { in.EAC, in.BAC = money(545), money(600) }},
		{"forecast_asleep", "", func(in *check.In, _ *links) { asleep(in, 1.0601) }},
		{"", "", func(in *check.In, _ *links) { asleep(in, 1.06) }}, // from 1.06 to 1.01 is 0.05, the limit
		{"", "", func(in *check.In, _ *links) { asleep(in, 0.96) }},
		{"forecast_asleep", "", func(in *check.In, _ *links) { asleep(in, 0.9599) }},
		{"", "", func(in *check.In, _ *links) { asleep(in, 1.2); in.Past[1].SameForecast = false }},
		{"", "", func(in *check.In, _ *links) { asleep(in, 1.2); in.Past = in.Past[1:] }},                  // two periods
		{"percent_fell", "", func(in *check.In, _ *links) { fell(in, 501_00) }},                            // from 50.1 to 50.0 %
		{"", "", func(in *check.In, _ *links) { fell(in, 501_00-1) }},                                      // a hair less
		{"", "", func(in *check.In, _ *links) { fell(in, 501_00); in.Past[2].Percent.Known = false }},      // nobody knows
		{"finish_silent", "", func(in *check.In, _ *links) { in.ExpectedFinish = date(day(2026, 10, 7)) }}, // five working days
		{"", "", func(in *check.In, _ *links) { in.ExpectedFinish = date(day(2026, 10, 6)) }},
		{"finish_silent", "", func(in *check.In, _ *links) { in.ExpectedFinish = date(day(2026, 9, 23)) }},
		{"", "", func(in *check.In, _ *links) { in.ExpectedFinish = date(day(2026, 9, 24)) }},
		{"", "", func(in *check.In, _ *links) {
			in.ExpectedFinish = date(day(2026, 11, 2))
			in.Commentary = "The pump is late."
		}},
		{"loose_end", "M1", func(_ *check.In, l *links) { *l = (*l)[:1] }},
		{"lead", "A1 → A2", func(_ *check.In, l *links) { (*l)[0].Lag = -1 }},
		{"long_lag", "A2 → M1", func(_ *check.In, l *links) { (*l)[1].Lag = 11 }},
		{"", "", func(_ *check.In, l *links) { (*l)[1].Lag = 10 }},
		{"hard_date", "A2", func(in *check.In, _ *links) { in.Activities[1].NotAfter = day(2026, 12, 31) }},
		{"long_duration", "A2", func(in *check.In, _ *links) { in.Activities[1].Duration = fact.Some(45) }},
		{"", "", func(in *check.In, _ *links) { in.Activities[1].Duration = fact.Some(44) }},
		{"estimate_hopeful", "", func(in *check.In, _ *links) { in.TCPI = ratio(1.1101) }},
		{"", "", func(in *check.In, _ *links) { in.TCPI = ratio(1.11) }}, // 0.10 above 1.01 is the limit
		{"cost_idle", "", func(in *check.In, _ *links) { in.Past[2].Work = in.Work }},
		{"cost_idle", "", func(in *check.In, _ *links) { // by the percent reported where earned value is off
			in.EarnedValue, in.EV, in.CPI, in.TCPI, in.Past[2].Work = false, figure.Value{}, figure.Value{}, figure.Value{}, in.Work
		}},
		{"", "", func(in *check.In, _ *links) { in.Past[2].Work, in.Past[2].AC = in.Work, money(485) }}, // ten of a thousand is the limit
		{"progress_free", "", func(in *check.In, _ *links) { in.Past[2].AC = in.AC }},
		{"", "", func(in *check.In, _ *links) { in.Past[2].AC, in.Past[2].Work = in.AC, money(490) }},
		{"input_late", "actuals", func(in *check.In, _ *links) { in.Late = []check.Late{{Kind: "actuals", Last: "May 2026"}} }},
		{"cost_after_finish", "", func(in *check.In, _ *links) { in.Finished, in.Ledger.AfterFinish = day(2026, 6, 1), 1 }},
		{"no_owner", "M1", func(in *check.In, _ *links) { in.Activities[2].Owner = "" }},
		{"no_owner", "risk R-1", func(in *check.In, _ *links) { in.Risks[0].Owner = "" }},
		{"", "", func(in *check.In, _ *links) { in.Risks[0].Owner, in.Risks[0].State = "", "Closed" }},
		{"risk_unrated", "R-1", func(in *check.In, _ *links) { in.Risks[0].Consequence = fact.Int{} }},
		{"", "", func(in *check.In, _ *links) { in.Risks[0].Likelihood, in.Risks[0].State = fact.Int{}, "closed" }},
		{"risk_review", "R-1", func(in *check.In, _ *links) { in.Risks[0].Review = asOf }},
		{"", "", func(in *check.In, _ *links) { in.Risks[0].Review = asOf + 1 }},
		{"hours_idle", "A1", func(in *check.In, _ *links) { in.Ledger.Idle = []check.Idle{{Activity: "A1", Rows: 1}} }},
		{"over_to_date", "", func(in *check.In, _ *links) { in.ToDate = money(494) }},
		{"estimate_far_below", "", func(in *check.In, _ *links) { in.EAC = money(799) }},
		{"", "", func(in *check.In, _ *links) { in.EAC = money(800) }},
		{"declared_better", "", func(in *check.In, _ *links) { in.Computed = health.Watch }},
		{"", "", func(in *check.In, _ *links) { in.Declared = health.Act }},
		{"declared_better", "cost", func(in *check.In, _ *links) {
			in.DeclaredOn[health.Cost], in.ComputedOn[health.Cost] = health.Watch, health.Act
		}},
		{"", "", func(in *check.In, _ *links) { in.DeclaredOn[health.Cost] = health.OnTrack }}, // not assessed
		{"", "", func(in *check.In, _ *links) {
			in.DeclaredOn[health.Risk], in.ComputedOn[health.Risk] = health.Act, health.Watch
		}},
		{"baseline_moved", "", func(in *check.In, _ *links) { in.BaselineFinish = date(day(2026, 10, 1)) }},
		{"no_contingency", "", func(in *check.In, _ *links) { in.Contingency = figure.Value{} }},
	} {
		t.Run(x.id+x.record, func(t *testing.T) {
			in, l := sound(), chain()
			x.do(in, &l)
			r := run(in, l, check.Options{})
			if x.id == "" {
				assert.Empty(t, found(r))
				return
			}
			require.Equal(t, []string{x.id + " " + x.record}, found(r))
			f := r.Findings[0]
			assert.NotEmpty(t, f.Says)
			if x.id != "input_late" {
				assert.NotEmpty(t, f.Field, "the field to mend")
			}

			off := run(in, l, check.Options{Off: map[string]bool{x.id: true}})
			assert.Empty(t, found(off), "a check that is off finds nothing")
			ok := run(in, l, check.Options{}, check.Acceptance{Rule: x.id, Record: x.record, Reason: "known"})
			assert.Empty(t, found(ok))
			assert.Len(t, ok.Findings, 1, "an accepted finding is kept")
			failed, _ := ok.Weights()
			assert.Zero(t, failed)
		})
	}
}

// A circle and a float beyond the limit come with loose ends of their own kind; they are looked for by name.
func TestFaultsOfTheNetwork(t *testing.T) {
	in, l := sound(), append(chain(), schedule.Dependency{From: "M1", To: "A2"})
	assert.Contains(t, found(run(in, l, check.Options{})), "link_cycle ")

	far := func(days int32) []string {
		in := sound()
		in.Activities = append(in.Activities, schedule.Activity{Code: "A3", Name: "Signs", BaselineStart: day(2026, 7, 1),
			BaselineFinish: day(2026, 7, 1),
			Start:          day(2026, 7, 1), Finish: day(2026, 7, 1), Duration: fact.Some(1)})
		in.Activities[1].Remaining = fact.Some(int64(days))
		return found(run(in, append(chain(), schedule.Dependency{From: "A1", To: "A3"}, schedule.Dependency{From: "A3", To: "M1"}),
			check.Options{}))
	}
	// The works take as many days from 1 July on as are left; the signs take one of them and float for the others.
	assert.Contains(t, far(46), "high_float A3")
	assert.NotContains(t, far(45), "high_float A3", "44 days are the limit")
}

// A limit that an installation sets stands in the place of the default.
func TestLimitsAreSettings(t *testing.T) {
	in := sound()
	in.TCPI = ratio(1.21)
	assert.Empty(t, found(run(in, chain(), check.Options{Limits: map[string]float64{"estimate_hopeful": 0.2}})))
	assert.Equal(t, []string{"long_duration A2"},
		found(run(sound(), chain(), check.Options{Limits: map[string]float64{"long_duration": 39}})))
	for _, r := range check.Rules() {
		if r.Limit != nil {
			assert.NotEmpty(t, r.Limit.LimitSays(r.Limit.Default), r.ID)
		}
	}
}

// A project of which nothing but the name is known fails for its missing baseline and for nothing else, and no check stumbles.
func TestAProjectWithNothingButAName(t *testing.T) {
	in := &check.In{AsOf: asOf, Days: calendar.Standard, Currency: "EUR"}
	assert.Equal(t, []string{"no_baseline "}, found(run(in, nil, check.Options{})))
}

// Where costs are hidden, no finding that tells of them is left, and what is left is whole.
func TestFindingsWithoutCosts(t *testing.T) {
	in := sound()
	in.AC, in.Past, in.Work = money(-1), nil, money(0)
	in.Activities[2].Owner = ""
	r := run(in, chain(), check.Options{})
	hidden := r.WithoutCosts()
	assert.Equal(t, []string{"no_owner M1"}, found(hidden))
	assert.Len(t, found(r), 2, "the result itself is left as it was")
	for _, c := range hidden.Tested {
		assert.False(t, c.Rule.Costs)
	}
}

// Monthly files: that of May lists June to August, that of June July and August.
func TestForecastsAreComparedInTheMonthsThatBothHold(t *testing.T) {
	file := func(lines ...cost.Line) (f check.Forecast) {
		for i := range lines {
			f.Add(&lines[i], calendar.Standard)
		}
		return f
	}
	line := func(month int, amount int64) cost.Line {
		return cost.Line{Month: day(2026, month, 1).Month(), Amount: mon.Amount(amount), Currency: "EUR"}
	}
	may := file(line(6, 100), line(7, 200), line(8, 300))
	for _, c := range []struct {
		name string
		june check.Forecast
		same bool
	}{
		{"the months left", file(line(7, 200), line(8, 300)), true},
		{"a month more at the end", file(line(7, 200), line(8, 300), line(9, 1)), true},
		{"another amount", file(line(7, 200), line(8, 301)), false},
		{"in two lines", file(line(7, 200), line(8, 100), line(8, 200)), true},
		{"on another code", file(line(7, 200), cost.Line{Code: 1, Month: day(2026, 8, 1).Month(), Amount: 300, Currency: "EUR"}), false},
		{"in another currency", file(line(7, 200), cost.Line{Month: day(2026, 8, 1).Month(), Amount: 300, Currency: "SEK"}), false},
		{"a nought is an amount", file(line(7, 200), line(8, 0)), false},
		{"no month in common", file(line(9, 100)), false},
		{"nothing sent", nil, false},
	} {
		assert.Equal(t, c.same, c.june.Same(may), c.name)
	}
	// 0.44 over July and August: 23 and 21 of 44 working days.
	span := cost.Line{From: day(2026, 7, 1), To: day(2026, 8, 31), Amount: 44, Currency: "EUR"}
	assert.True(t, file(span).Same(file(line(7, 23), line(8, 21))))
}
