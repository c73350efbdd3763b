package health

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/schedule"
)

func is(x float64) fact.Ratio { return fact.Decimal(x) }

// Every kind of trigger at its limits by default: the value that is still on track, the first at watch, the last at watch, the first at
// act.
func TestEveryKindAtItsLimits(t *testing.T) {
	for k, c := range map[Kind]struct {
		in     func(v float64) Input
		values [4]float64
	}{
		FinishShare: {func(v float64) Input { return Input{Deviation: fact.Some(int64(v)), PlannedDays: 1000} },
			[4]float64{50, 51, 100, 101}},
		MissedMilestoneDays: {func(v float64) Input {
			return Input{Milestones: 1, Missed: []MissedMilestone{{Name: "Gate", Level: schedule.ProgrammeLevel, Late: int(v)}}}
		}, [4]float64{0, 1, 20, 21}},
		TimeSPI:      {func(v float64) Input { return Input{TimeSPI: is(v)} }, [4]float64{0.95, 0.949, 0.85, 0.849}},
		CPI:          {func(v float64) Input { return Input{EarnedValue: true, CPI: is(v)} }, [4]float64{0.95, 0.949, 0.90, 0.899}},
		ScopeShare:   {func(v float64) Input { return Input{Scope: is(v)} }, [4]float64{0.10, 0.101, 0.20, 0.201}},
		Exposure:     {func(v float64) Input { return Input{Exposure: fact.Some(int64(v)), TopRisk: "Flood"} }, [4]float64{11, 12, 19, 20}},
		ThreatShare:  {func(v float64) Input { return Input{Threat: is(v)} }, [4]float64{0.75, 0.751, 1, 1.001}},
		IssuesLate:   {func(v float64) Input { return Input{IssuesLate: fact.Some(int64(v))} }, [4]float64{0, 1, 2, 3}},
		BenefitShare: {func(v float64) Input { return Input{Shortfall: is(v)} }, [4]float64{0.10, 0.101, 0.20, 0.201}},
	} {
		for i, want := range []Status{OnTrack, Watch, Watch, Act} {
			r := Assess(c.in(c.values[i]), Defaults())
			rule := k.Rule()
			assert.Equal(t, want, r.By[rule.Dimension], "%s of %g", rule.Key, c.values[i])
			for _, d := range Dimensions() {
				if d != rule.Dimension {
					assert.Equal(t, NotAssessed, r.By[d], "%s says nothing of %s", rule.Key, d)
				}
			}
		}
	}
}

// While a project is early its ratios are told and do not count, unlike dates, milestones and the estimate. The first day after, they do.
func TestRatiosAreMutedWhileItIsEarly(t *testing.T) {
	wakes := calendar.On(2026, 9, 1)
	in := Input{EarnedValue: true, CPI: is(0.5), TimeSPI: is(0.9), Scope: is(0.3), Elapsed: is(0.149), Wakes: wakes,
		Deviation: fact.Some(0), PlannedDays: 100, BAC: known(1000), VAC: known(0)}
	r := Assess(in, Defaults())
	assert.Equal(t, [dimensions]Status{OnTrack, OnTrack, OnTrack, NotAssessed, NotAssessed}, r.By)
	assert.Equal(t, [dimensions]Status{Watch, Act, Act, NotAssessed, NotAssessed}, r.Muted)
	assert.Equal(t, wakes, r.Wakes)
	assert.Empty(t, r.Reason())
	assert.Zero(t, r.Stake)

	in.Elapsed = is(0.15)
	r = Assess(in, Defaults())
	assert.Equal(t, [dimensions]Status{Watch, Act, Act, NotAssessed, NotAssessed}, r.By)
	assert.Zero(t, r.Wakes)

	in.Elapsed, in.Deviation = is(0.01), fact.Some(11)
	r = Assess(in, Defaults())
	assert.Equal(t, Act, r.By[Schedule], "a late finish counts from the first day")
}

// A status that a person set stands for its dimension and in the whole; what was computed stays beside it.
func TestOverridesStandBesideWhatIsComputed(t *testing.T) {
	in := Input{Deviation: fact.Some(30), PlannedDays: 100, BAC: known(1000), VAC: known(0),
		Overrides: []Override{{On: Schedule, Status: Watch, Reason: "agreed", Who: "A"}}}
	r := Assess(in, Defaults())
	assert.Equal(t, []Status{Watch, Watch}, []Status{r.By[Schedule], r.Overall})
	assert.Equal(t, []Status{Act, Act}, []Status{r.Computed[Schedule], r.Computed[Overall]})
	assert.Equal(t, "agreed", r.Set(Schedule).Reason)
	assert.Nil(t, r.Set(Cost))
	assert.Contains(t, r.Reason(), "30 working days late", "the reason is that of the figures")

	in.Overrides = append(in.Overrides, Override{On: Overall, Status: Act})
	r = Assess(in, Defaults())
	assert.Equal(t, []Status{Watch, Act}, []Status{r.InForce(Schedule), r.InForce(Overall)},
		"one for the whole stands over those of dimensions")
}

// By hand: schedule at act (2 points, weight 1), cost at watch (1, weight 2), risk on track (0, weight 1); benefit is not assessed and
// has no weight: 4 of 4 weights is 1.0, act. With cost at weight 1 it is 3 of 3: act; with risk at weight 5: 4 of 8, watch.
func TestWeightsOfDimensions(t *testing.T) {
	by := [dimensions]Status{Act, Watch, NotAssessed, OnTrack, NotAssessed}
	for _, c := range []struct {
		weights [dimensions]float64
		want    Status
	}{
		{[dimensions]float64{}, Act},
		{[dimensions]float64{1, 2, 0, 1, 9}, Act},
		{[dimensions]float64{1, 2, 0, 5, 0}, Watch},
		{[dimensions]float64{1, 2, 0, 6, 0}, OnTrack},
		{[dimensions]float64{0, 0, 0, 1, 0}, OnTrack},
		{[dimensions]float64{0, 0, 9, 0, 9}, Act}, // all weight on what is not assessed: the worst stands
	} {
		assert.Equal(t, c.want, overall(by, c.weights), "%v", c.weights)
	}
	assert.Equal(t, NotAssessed, overall([dimensions]Status{NotAssessed, NotAssessed, Act, Act, Act}, [dimensions]float64{}))
}

// Tolerances that make no sense are refused: watch stricter than act, and what is no number.
func TestTolerancesAreChecked(t *testing.T) {
	nan := 0.0
	nan /= nan
	for _, c := range []struct {
		k  Kind
		t  Tolerance
		ok bool
	}{
		{FinishShare, Tolerance{0.05, 0.05}, true}, {FinishShare, Tolerance{0.05, 0.04}, false}, {CPI, Tolerance{0.9, 0.95}, false},
		{CPI, Tolerance{0.95, 0.95}, true}, {IssuesLate, Tolerance{-1, 3}, false}, {CPI, Tolerance{nan, 0.9}, false},
		{Exposure, Tolerance{12, 1e9}, false},
	} {
		assert.Equal(t, c.ok, c.k.Rule().Check(c.t) == nil, "%s %v", c.k.Rule().Key, c.t)
	}
}

// How near a value is to its act limit: 1 on it, a half halfway, 0 at plan or better.
func TestRoom(t *testing.T) {
	cpi, finish := CPI.Rule(), FinishShare.Rule()
	assert.InDelta(t, 1, cpi.Room(0.9, Tolerance{0.95, 0.9}), 1e-12)
	assert.InDelta(t, 0.5, cpi.Room(0.95, Tolerance{0.95, 0.9}), 1e-12)
	assert.Zero(t, cpi.Room(1.2, Tolerance{0.95, 0.9}))
	assert.InDelta(t, 2, finish.Room(0.2, Tolerance{0.05, 0.1}), 1e-12)
}

// An estimate 4.9 % over budget is within its tolerance, though the cost index has made the dimension act; of several the worst counts, and
// a figure that is not there reaches nothing.
func TestAFigureReachesItsOwnStatus(t *testing.T) {
	in := Input{EarnedValue: true, BAC: fact.Some(1000), VAC: fact.Some(-49), CPI: fact.Of(80, 100),
		Missed: []MissedMilestone{{Name: "Gate", Level: schedule.ProgrammeLevel, Late: 3, Ahead: true},
			{Name: "Weir", Level: schedule.PortfolioLevel, Late: 21}}}
	r := Assess(in, Defaults())
	assert.Equal(t, Act, r.By[Cost])
	assert.Equal(t, OnTrack, r.Reached(CostShare))
	assert.Equal(t, Act, r.Reached(CPI))
	assert.Equal(t, Act, r.Reached(MissedMilestoneDays))
	assert.Equal(t, NotAssessed, r.Reached(FinishShare))
	said := map[string]bool{}
	for _, x := range r.Triggers {
		said[x.Sentence] = true
	}
	assert.True(t, said["Gate 3 working days late"], "still expected, so not called missed: %v", said)
	assert.True(t, said["Weir missed, 21 working days late"], "%v", said)
	in.VAC.N = -50
	r = Assess(in, Defaults())
	assert.Equal(t, OnTrack, r.Reached(CostShare), "the limit itself is not crossed")
	in.VAC.N = -51
	r = Assess(in, Defaults())
	assert.Equal(t, Watch, r.Reached(CostShare))
}

// While the actual costs of the period are awaited nothing is said of cost, earned value on or off; the other dimensions stand.
func TestCostWaitsForItsLedger(t *testing.T) {
	for _, earned := range []bool{true, false} {
		in := Input{EarnedValue: earned, BAC: fact.Some(1000), VAC: fact.Some(-500),
			CPI: fact.Of(1, 2), Actual: fact.Some(900), BudgetToDate: fact.Some(500),
			TimeSPI: fact.Of(9, 10)}
		r := Assess(in, Defaults())
		assert.Equal(t, Act, r.By[Cost], "earned value %v", earned)
		in.CostsAwaited = true
		r = Assess(in, Defaults())
		assert.Equal(t, NotAssessed, r.By[Cost], "earned value %v", earned)
		assert.Equal(t, []Status{Watch, Watch}, []Status{r.By[Schedule], r.Overall})
		assert.Equal(t, NotAssessed, r.Reached(CostShare))
	}
}
