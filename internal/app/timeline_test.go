package app

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// told is an office whose projects each have a milestone, some of them missed or slipping, with an empty network.
func told(t *testing.T) *Assessment {
	t.Helper()
	a := office(t)
	for i, p := range a.Projects {
		base := calendar.On(2026, 10, 26) + calendar.Date(7*i)
		p.Activities = append(p.Activities, schedule.Activity{Code: "M", Name: "Gate " + p.Code, Kind: schedule.Milestone,
			Level:          schedule.Level(i % 3),
			BaselineFinish: base, Finish: base + calendar.Date(7*(i%2)), Owner: p.Lead})
		measure.Assess(p, a.Env)
	}
	a.all = a.Projects
	a.net = &net{}
	for i, l := range a.Plan().Logic(a.Network(), a.placeName) {
		a.Projects[i].Logic = l
	}
	return a
}

// Seven milestones, a week apart from Monday 26 October on, every second one a week late; the first is before the as-of date.
func TestTheTimelineSaysWhatIsLateInASentence(t *testing.T) {
	a := told(t)
	tl, err := a.Timeline("", TimelineFilter{})
	require.NoError(t, err)
	assert.Equal(t, "1 milestone missed and 3 slipping in 7 projects, the longest by 5 working days.", tl.Sentence().String())
	n := CountStates(a.Milestones(tl))
	assert.Equal(t, []int{1, 3}, []int{n[schedule.Missed], n[schedule.Slipping]})
	total := 0
	for _, k := range n {
		total += k
	}
	assert.Equal(t, 7, total, "each counts once")

	tl, err = a.Timeline("Y", TimelineFilter{})
	require.NoError(t, err)
	assert.Equal(t, "0 milestones missed and 1 slipping in 2 projects, the longest by 5 working days.", tl.Sentence().String())
	tl, err = a.Timeline("", TimelineFilter{Lead: "nobody"})
	require.NoError(t, err)
	assert.Equal(t, "Nothing to show on the timeline here.", tl.Sentence().String())
}

// What a filter shows is what it counts: the states that one can ask for add up to all milestones, and delayed to two of them.
func TestStatesOfTheFilterAddUp(t *testing.T) {
	a := told(t)
	count := func(state string) int {
		tl, err := a.Timeline("", TimelineFilter{State: state})
		require.NoError(t, err)
		return len(a.Milestones(tl))
	}
	sum := 0
	for _, state := range MilestoneStates() {
		if state != Delayed {
			sum += count(state)
		}
	}
	assert.Equal(t, count(""), sum)
	assert.Equal(t, count("missed")+count("slipping"), count(Delayed))
	for level, want := range map[schedule.Level]int{schedule.ProjectLevel: 7, schedule.ProgrammeLevel: 4, schedule.PortfolioLevel: 2} {
		tl, err := a.Timeline("", TimelineFilter{Level: level})
		require.NoError(t, err)
		assert.Len(t, a.Milestones(tl), want, level.String())
	}
}

func TestEveryGroupingHoldsEveryProject(t *testing.T) {
	a := told(t)
	for _, by := range TimelineGroups() {
		tl, err := a.Timeline("", TimelineFilter{Group: by})
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
	a := told(t)
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
		h := a.handover(a.Projects[0], &c.x)
		assert.Equal(t, c.state, h.State, "%+v", c.x)
		assert.Equal(t, c.late, h.Late, "working days from due to accepted, else to Saturday 31 October: %+v", c.x)
	}
}

func TestTheDiaryCountsWhatStandsOnItsDays(t *testing.T) {
	a := told(t)
	tl, err := a.Timeline("", TimelineFilter{})
	require.NoError(t, err)
	first, last := calendar.On(2026, 11, 1), calendar.On(2026, 11, 30)
	list := a.Diary(tl, first, last)
	// Expected on 9, 9, 23, 23 November and 7, 7 December, and the first on 26 October: baselines a week apart, every second a week late.
	assert.Equal(t, DiaryCount{Milestones: 4, Late: 2}, CountDiary(list, first, last))
	assert.Equal(t, DiaryCount{Milestones: 2, Late: 1}, CountDiary(list, first, calendar.On(2026, 11, 15)))
	assert.Empty(t, a.Diary(tl, first, last, "holiday", "deliverable"))
	for i := 1; i < len(list); i++ {
		assert.LessOrEqual(t, list[i-1].First, list[i].First)
	}
}

func TestMovesInWords(t *testing.T) {
	for text, m := range map[string]RehearsedMove{"later by 1 working day": {Shift: 1},
		"earlier by 3 working days, longer by 2 working days": {Shift: -3, Stretch: 2},
		"shorter by 1 working day":                            {Stretch: -1}, "finishing on 5 Jan 2027": {By: calendar.On(2027, 1, 5)}} {
		assert.Equal(t, text, m.Text())
	}
}
