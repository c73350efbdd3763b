package schedule

import (
	"cmp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
)

func on(s string) calendar.Date {
	d, err := calendar.ParseDate(s)
	if err != nil && s != "" {
		panic(err)
	}
	return d
}

func milestone(code, baseline, expected, actual string) Activity {
	return Activity{Code: code, Kind: Milestone, BaselineFinish: on(baseline), Finish: on(expected), ActualFinish: on(actual)}
}

// As of Saturday 31 October 2026; deviations counted on a wall calendar of Monday to Friday.
func TestMilestoneStates(t *testing.T) {
	opt := Options{AsOf: on("2026-10-31"), LookAhead: 20}
	cases := []struct {
		name                       string
		baseline, expected, actual string
		state                      State
		deviation                  fact.Int
		late                       int
	}{
		{"on its day", "2026-10-14", "", "2026-10-14", Done, fact.Some(0), 0},
		{"early", "2026-10-14", "", "2026-10-13", Done, fact.Some(-1), 0},
		{"a weekend later is not late", "2026-10-16", "", "2026-10-18", Done, fact.Some(0), 0},
		{"late", "2026-10-14", "2026-10-15", "2026-10-19", DoneLate, fact.Some(3), 0},
		{"without baseline", "", "", "2026-10-19", Done, fact.Int{}, 0},
		{"missed, expected later", "2026-10-14", "2026-11-04", "", Missed, fact.Some(15), 15},
		{"missed, expected before the as-of date", "2026-10-14", "2026-10-20", "", Missed, fact.Some(4), 12},
		{"missed, no word", "2026-10-14", "", "", Missed, fact.Int{}, 12},
		{"promised for the as-of date itself", "2026-10-31", "2026-11-02", "", Missed, fact.Some(1), 1},
		{"slipping", "2026-11-30", "2026-12-01", "", Slipping, fact.Some(1), 0},
		{"due", "2026-11-27", "2026-11-27", "", Due, fact.Some(0), 0},
		{"beyond the look-ahead", "2026-11-30", "2026-11-30", "", OnPlan, fact.Some(0), 0},
		{"an actual after the as-of date is not done yet", "2026-11-30", "", "2026-11-02", Due, fact.Some(-20), 0},
		{"nobody promised it", "", "2026-11-02", "", NoBaseline, fact.Int{}, 0},
	}
	for _, c := range cases {
		list := Events([]Activity{milestone("M", c.baseline, c.expected, c.actual)}, calendar.Standard, opt)
		require.Len(t, list, 1)
		got := list[0]
		assert.Equal(t, c.state.String(), got.State.String(), c.name)
		assert.Equal(t, c.deviation, got.Deviation, c.name)
		assert.Equal(t, c.late, got.Late, c.name)
		word := map[string]string{"missed, expected later": "late", "promised for the as-of date itself": "late"}[c.name]
		assert.Equal(t, cmp.Or(word, c.state.String()), got.Word(), "%s: what still has a date ahead is not called missed", c.name)
	}
	within := Options{AsOf: on("2026-10-31"), Tolerance: 5, LookAhead: 0}
	assert.Equal(t, OnPlan, Events([]Activity{milestone("M", "2026-11-30", "2026-12-07", "")}, calendar.Standard, within)[0].State)
}

func TestEventsStandInOrderOfDate(t *testing.T) {
	list := []Activity{milestone("C", "2026-12-01", "2026-12-09", ""), milestone("B", "2026-12-03", "", ""),
		milestone("A", "2026-12-01", "2026-12-09", ""), {Code: "W", Kind: Work}}
	var codes string
	for _, e := range Events(list, calendar.Standard, Options{AsOf: on("2026-10-31")}) {
		codes += list[e.Activity].Code
	}
	assert.Equal(t, "BAC", codes)
}

func TestOutlook(t *testing.T) {
	list := []Activity{
		{Kind: Summary, BaselineStart: on("2025-01-01"), BaselineFinish: on("2028-01-01"), Finish: on("2028-01-01")},
		{BaselineStart: on("2026-01-05"), BaselineFinish: on("2026-03-31"), ActualFinish: on("2026-04-10"), Finish: on("2026-03-31")},
		{BaselineStart: on("2026-04-01"), BaselineFinish: on("2026-06-30"), Start: on("2026-06-29"), Duration: fact.Some(10)},
		{BaselineFinish: on("2026-06-30")},
	}
	o := Look(list, on("2026-01-01"), on("2026-12-31"), on("2026-05-29"), calendar.Standard)
	assert.Equal(t, "2026-01-05", o.BaselineStart.String())
	assert.Equal(t, "2026-06-30", o.BaselineFinish.String())
	assert.Equal(t, "2026-07-10", o.ExpectedFinish.String(), "ten working days from Monday 29 June end on Friday 10 July")
	assert.Equal(t, []int{2, 2, 2, 3}, []int{o.BaselineBy, o.ExpectedBy, o.Dated, o.Counted})

	o = Look(list[:1], 0, 0, 0, calendar.Standard)
	assert.Equal(t, "2028-01-01", o.ExpectedFinish.String(), "summaries serve where there is nothing else")

	o = Look(nil, on("2026-01-01"), on("2026-12-31"), on("2026-05-29"), calendar.Standard)
	assert.Equal(t, "2026-12-31", o.BaselineFinish.String(), "the planned finish serves where nothing has a baseline")
	assert.Zero(t, o.ExpectedFinish)
}

func TestLateness(t *testing.T) {
	assert.Equal(t, "1 working day late", Lateness(1))
	assert.Equal(t, "3 working days early", Lateness(-3))
	assert.Equal(t, "on its baseline", Lateness(0))
}

// As of Friday 6 November 2026: what no finish was sent for follows from the remaining duration, placed from Monday on or from a start
// still to come, else from the duration and the start.
func TestExpectedFinishFollowsFromWhatIsSent(t *testing.T) {
	asOf := on("2026-11-06")
	for _, c := range []struct {
		name string
		a    Activity
		want string
	}{
		{"sent", Activity{Finish: on("2026-11-30"), Remaining: fact.Some(2)}, "2026-11-30"},
		{"under way with three days left", Activity{ActualStart: on("2026-11-02"), Duration: fact.Some(10), Remaining: fact.Some(3)},
			"2026-11-11"},
		{"with none left it is still to come", Activity{ActualStart: on("2026-11-02"), Remaining: fact.Some(0)}, "2026-11-09"},
		{"not begun, to start later", Activity{Start: on("2026-11-17"), Remaining: fact.Some(3)}, "2026-11-19"},
		{"not begun, its start has passed", Activity{Start: on("2026-11-03"), Remaining: fact.Some(3)}, "2026-11-11"},
		{"no date at all", Activity{Remaining: fact.Some(1)}, "2026-11-09"},
		{"said to start after the day", Activity{ActualStart: on("2026-11-16"), Remaining: fact.Some(2)}, "2026-11-17"},
		{"no remaining days", Activity{ActualStart: on("2026-11-02"), Duration: fact.Some(10)}, "2026-11-13"},
		{"no remaining days, not begun", Activity{Start: on("2026-11-10"), Duration: fact.Some(1)}, "2026-11-10"},
		{"finished", Activity{ActualFinish: on("2026-11-05"), Remaining: fact.Some(9)}, "2026-11-05"},
		{"a milestone has nothing left to do", Activity{Kind: Milestone, Remaining: fact.Some(0)}, ""},
		{"nothing", Activity{}, ""},
	} {
		assert.Equal(t, on(c.want), c.a.Expected(calendar.Standard, asOf), c.name)
	}
}

// A cancelled activity and milestone, later than all others, move nothing: neither the baseline nor the expected finish, nor the events.
func TestWhatIsCancelledCountsNowhere(t *testing.T) {
	gone, missed := milestone("N", "2026-10-30", "2027-03-31", ""), Activity{Code: "C", BaselineFinish: on("2027-02-26"),
		Finish: on("2027-04-30")}
	gone.State, missed.State = Cancelled, Cancelled
	list := []Activity{milestone("M", "2026-12-01", "2026-12-04", ""), gone, missed, {Code: "H", State: "on hold",
		BaselineFinish: on("2026-12-15"), Finish: on("2026-12-18")}}
	o := Look(list, 0, 0, on("2026-10-31"), calendar.Standard)
	assert.Equal(t, []calendar.Date{on("2026-12-15"), on("2026-12-18")}, []calendar.Date{o.BaselineFinish, o.ExpectedFinish})
	assert.Equal(t, 2, o.Counted)
	events := Events(list, calendar.Standard, Options{AsOf: on("2026-10-31"), LookAhead: 20})
	require.Len(t, events, 1)
	assert.Zero(t, events[0].Activity)
}

// By hand, as of 31 October: what is dated later has not happened yet; a finish goes before a hold, a cancelled one before both.
func TestWhatWorkStandsAt(t *testing.T) {
	for want, list := range map[string][]Activity{
		NotStarted: {{}, {ActualStart: on("2026-11-01")}, {Start: on("2026-10-01")}},
		InWork:     {{ActualStart: on("2026-10-31")}, {ActualStart: on("2026-10-01"), ActualFinish: on("2026-11-01")}},
		OnHold:     {{State: OnHold}, {State: OnHold, ActualStart: on("2026-10-01")}},
		Finished:   {{ActualFinish: on("2026-10-31")}, {State: OnHold, ActualFinish: on("2026-10-30")}},
		Cancelled:  {{State: Cancelled}, {State: Cancelled, ActualFinish: on("2026-10-30")}},
	} {
		for i := range list {
			assert.Equal(t, want, list[i].Stands(on("2026-10-31")), "%s %d", want, i)
		}
	}
}
