package forecast_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/forecast"
	"turret/internal/core/calendar"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// By hand: the risk strikes in every run, so that M is done on 10 November at any odds. With one that strikes in six of ten runs the later
// days are those with it; in four of ten only four in five are.
func TestOddsOfMilestones(t *testing.T) {
	early, late := calendar.On(2026, 11, 6), calendar.On(2026, 11, 10)
	for probability, want := range map[string]forecast.Odds{"100": {Middle: late, Late: late}, "60": {Middle: late, Late: late},
		"40": {Middle: early, Late: late}, "10": {Middle: early, Late: early}} {
		o, _, _ := office(t)
		apptest.Send(t, o, apptest.Sent{Kind: record.Risks, Period: apptest.October,
			Text: "project,code,title,activity,probability,days_impact,state\nA,R1,Clay,1," + probability + ",2,open\n"})
		a := apptest.Assessed(t, o, calendar.On(2026, 10, 31))
		sc, err := a.Scope("")
		require.NoError(t, err)
		odds, err := o.Forecast.Odds(ctx, a, sc, forecast.Ask{Runs: 2_000, Seed: 1, Milestones: true}, time.Minute)
		require.NoError(t, err)
		assert.Equal(t, map[[2]string]forecast.Odds{{"A", "M"}: want}, odds, probability)
		odds, err = o.Forecast.Odds(ctx, a, sc, forecast.AskedOfAll(a), time.Minute)
		require.NoError(t, err)
		assert.Len(t, odds, 1)
	}
}

// What is reached has no odds, and whoever cannot wait gets none.
func TestMilestonesWithoutOdds(t *testing.T) {
	o, a, sc := office(t)
	odds, err := o.Forecast.Odds(ctx, a, sc, forecast.Ask{Runs: 900_000, Milestones: true}, time.Nanosecond)
	require.NoError(t, err)
	assert.Nil(t, odds)
	apptest.Send(t, o, apptest.Sent{Kind: record.Activities, Period: apptest.October,
		Text: "project,code,name,kind,baseline_start,baseline_finish," +
			"duration,actual_start,actual_finish\nA,1,Dig,,2026-10-05,2026-10-09,5,2026-10-05,2026-10-09\nA,M,Done,milestone,,2026-10-09,,,2026-10-09\n"})
	a = apptest.Assessed(t, o, calendar.On(2026, 10, 31))
	odds, err = o.Forecast.Odds(ctx, a, sc, forecast.Ask{Runs: 30, Milestones: true}, time.Minute)
	require.NoError(t, err)
	assert.Empty(t, odds)
}

// A milestone that waits for nothing could be done at once, which tells nothing; one that may not come before a day is told.
func TestALooseMilestoneHasNoOdds(t *testing.T) {
	o, _, _ := office(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Activities, Period: apptest.October,
		Text: "project,code,name,kind,baseline_finish,not_before\nA,N,Loose,milestone,2026-12-01,\nA,P,Not before,milestone,2026-12-01,2026-12-02\n"})
	a := apptest.Assessed(t, o, calendar.On(2026, 10, 31))
	odds, err := o.Forecast.Odds(ctx, a, apptest.Open(t, a), forecast.AskedOfAll(a), time.Minute)
	require.NoError(t, err)
	day := calendar.On(2026, 12, 2)
	assert.Equal(t, map[[2]string]forecast.Odds{{"A", "P"}: {Middle: day, Late: day}}, odds)
}

// A takes five days and, in every run, two for its risk, to 10 November; one day longer it is the 11th. What is asked for again is the
// same.
func TestWhatIsSupposedIsSimulatedBesideWhatIs(t *testing.T) {
	o, a, sc := office(t)
	dig := a.Plan().Task(a.Index("A"), 0)
	for range 2 {
		now, then, err := o.Forecast.Supposed(ctx, a, sc, forecast.Ask{Runs: 50, Seed: 1}, []schedule.Move{{Task: dig, Stretch: 1}})
		require.NoError(t, err)
		assert.Equal(t, calendar.On(2026, 11, 10), now.Rows[0].Day(50))
		assert.Equal(t, calendar.On(2026, 11, 11), then.Rows[0].Day(50))
	}
	_, then, err := o.Forecast.Supposed(ctx, a, sc, forecast.Ask{Runs: 50, Seed: 1}, []schedule.Move{{Task: dig, Stretch: 2}})
	require.NoError(t, err)
	assert.Equal(t, calendar.On(2026, 11, 12), then.Rows[0].Day(50), "another move is another simulation")
}
