package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/plan"
	"turret/internal/core/calendar"
	"turret/internal/core/schedule"
)

// Seven milestones, a week apart from Monday 26 October on, every second one a week late; the first is before the as-of date.
func TestTheTimelineSaysWhatIsLateInASentence(t *testing.T) {
	a := apptest.Told(t)
	tl, err := plan.TimelineOf(a, "", plan.TimelineFilter{})
	require.NoError(t, err)
	assert.Equal(t, "1 milestone missed and 3 slipping in 7 projects, the longest by 5 working days.", tl.Sentence().String())
	n := plan.CountStates(plan.Milestones(a, tl))
	assert.Equal(t, []int{1, 3}, []int{n[schedule.Missed], n[schedule.Slipping]})
	total := 0
	for _, k := range n {
		total += k
	}
	assert.Equal(t, 7, total, "each counts once")

	tl, err = plan.TimelineOf(a, "Y", plan.TimelineFilter{})
	require.NoError(t, err)
	assert.Equal(t, "0 milestones missed and 1 slipping in 2 projects, the longest by 5 working days.", tl.Sentence().String())
	tl, err = plan.TimelineOf(a, "", plan.TimelineFilter{Lead: "nobody"})
	require.NoError(t, err)
	assert.Equal(t, "Nothing to show on the timeline here.", tl.Sentence().String())
}

// What a filter shows is what it counts: the states that one can ask for add up to all milestones, and delayed to two of them.
func TestStatesOfTheFilterAddUp(t *testing.T) {
	a := apptest.Told(t)
	count := func(state string) int {
		tl, err := plan.TimelineOf(a, "", plan.TimelineFilter{State: state})
		require.NoError(t, err)
		return len(plan.Milestones(a, tl))
	}
	sum := 0
	for _, state := range plan.MilestoneStates() {
		if state != plan.Delayed {
			sum += count(state)
		}
	}
	assert.Equal(t, count(""), sum)
	assert.Equal(t, count("missed")+count("slipping"), count(plan.Delayed))
	for level, want := range map[schedule.Level]int{schedule.ProjectLevel: 7, schedule.ProgrammeLevel: 4, schedule.PortfolioLevel: 2} {
		tl, err := plan.TimelineOf(a, "", plan.TimelineFilter{Level: level})
		require.NoError(t, err)
		assert.Len(t, plan.Milestones(a, tl), want, level.String())
	}
}

func TestEveryGroupingHoldsEveryProject(t *testing.T) {
	a := apptest.Told(t)
	for _, by := range plan.TimelineGroups() {
		tl, err := plan.TimelineOf(a, "", plan.TimelineFilter{Group: by})
		require.NoError(t, err)
		seen := map[string]int{}
		for _, g := range tl.Groups {
			for _, p := range g.Projects {
				seen[p.Code]++
			}
		}
		if by == "party" {
			assert.Empty(t, seen, "no party does anything here")
			continue
		}
		assert.Len(t, seen, len(a.Projects), by)
		for code, n := range seen {
			assert.Equal(t, 1, n, "%s by %s", code, by)
		}
	}
}

func TestHandoversByHand(t *testing.T) {
	a := apptest.Told(t)
	day := func(m, d int) calendar.Date { return calendar.On(2026, m, d) }
	for _, c := range []struct {
		x     schedule.Activity
		state string
		late  int
	}{
		{schedule.Activity{BaselineFinish: day(10, 23), ActualStart: day(10, 20), ActualFinish: day(10, 22)}, "accepted", 0},
		{schedule.Activity{BaselineFinish: day(10, 23), ActualStart: day(10, 26), ActualFinish: day(10, 28)}, "accepted", 3},
		{schedule.Activity{BaselineFinish: day(10, 23), ActualStart: day(10, 26)}, "received", 5},
		{schedule.Activity{BaselineFinish: day(10, 23), Finish: day(11, 9)}, "overdue", 5},
		{schedule.Activity{Finish: day(11, 9)}, "to come", 0},
		{schedule.Activity{BaselineFinish: day(10, 30), ActualStart: day(11, 2)}, "overdue", 0},
		{schedule.Activity{}, "to come", 0},
	} {
		h := plan.HandoverOf(a, a.Projects[0], &c.x)
		assert.Equal(t, c.state, h.State, "%+v", c.x)
		assert.Equal(t, c.late, h.Late, "working days from due to accepted, else to Saturday 31 October: %+v", c.x)
	}
}
