package schedule

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
)

// barge is a giver with two takers in projects of their own, as of Saturday 31 October 2026. The trial is promised for Friday 20
// November; site 1 lifts on Monday 30 November (5 working days of room), site 2 on Monday 23 November (none).
func barge() *Plan {
	work := func(code, start, finish string) Activity {
		return Activity{Code: code, Name: code, Start: on(start), Finish: on(finish)}
	}
	sheets := []Sheet{
		{Activities: []Activity{work("REFIT", "2026-11-02", "2026-11-18"), {Code: "TRIAL", Kind: Milestone, Finish: on("2026-11-20")}}},
		{Activities: []Activity{work("LIFT", "2026-11-30", "2026-12-04"), {Code: "OPEN", Kind: Milestone, Finish: on("2026-12-04")}}},
		{Activities: []Activity{work("LIFT", "2026-11-23", "2026-11-24"), {Code: "SWIM", Kind: Milestone, Finish: on("2026-11-24")},
			{Code: "DONE", Kind: Milestone, Finish: on("2026-10-01"), ActualFinish: on("2026-10-01")}}},
	}
	in := func(project int32, from, to string) Dependency {
		return Dependency{FromProject: project, ToProject: project, From: from, To: to}
	}
	links := []Dependency{in(0, "REFIT", "TRIAL"), in(1, "LIFT", "OPEN"), in(2, "LIFT", "SWIM"),
		{FromProject: 0, From: "TRIAL", ToProject: 1, To: "LIFT"}, {FromProject: 0, From: "TRIAL", ToProject: 2, To: "LIFT"}}
	return NewPlan(sheets, links, calendar.Standard, on("2026-10-31"), Dated)
}

func moved(p *Plan, before, after *Network) map[string]int {
	got := map[string]int{}
	for _, s := range Shifts(p, before, p, after) {
		at := p.Place(s.Task)
		got[string(rune('A'+at.Project))+" "+p.Activity(s.Task).Code] = s.Days
	}
	return got
}

func TestRehearsalOfASlipNamesItsVictims(t *testing.T) {
	p := barge()
	base := p.Run()
	assert.Equal(t, "2026-11-20", base.Times[p.Task(0, 1)].EarlyFinish.String(), "a reported milestone stands where its team put it")
	after, err := p.Rehearse(base, []Move{{Task: p.Task(0, 1), Shift: 8}})
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"A TRIAL": 8, "B LIFT": 3, "B OPEN": 3, "C LIFT": 8, "C SWIM": 8}, moved(p, base, after))
	chain := after.Chain(p.Task(2, 1))
	assert.Equal(t, []int32{p.Task(0, 1), p.Task(2, 0), p.Task(2, 1)}, chain, "through which it came")
	again, err := p.Rehearse(base, []Move{{Task: p.Task(0, 1), By: on("2026-12-02")}})
	require.NoError(t, err)
	assert.Equal(t, moved(p, base, after), moved(p, base, again), "eight working days later is Wednesday 2 December")
	assert.Empty(t, moved(p, base, p.Run()), "the plan itself was not touched")
}

func TestRehearsalStretchesAndHastens(t *testing.T) {
	p := barge()
	base := p.Run()
	after, err := p.Rehearse(base, []Move{{Task: p.Task(0, 0), Stretch: 3}})
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"A REFIT": 3, "A TRIAL": 1, "C LIFT": 1, "C SWIM": 1}, moved(p, base, after),
		"until Monday 23: one day past the trial's own date")
	after, err = p.Rehearse(base, []Move{{Task: p.Task(1, 0), Shift: -3}})
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"B LIFT": -3}, moved(p, base, after), "the milestone's own date holds it")
	_, err = p.Rehearse(base, []Move{{Task: p.Task(2, 2), Shift: 1}})
	assert.ErrorIs(t, err, ErrFinished)
}

func TestRehearsalOfWorkUnderWayLengthensIt(t *testing.T) {
	sheet := Sheet{Activities: []Activity{{Code: "W", ActualStart: on("2026-10-26"), Start: on("2026-10-26"), Finish: on("2026-11-06")}}}
	p := NewPlan([]Sheet{sheet}, nil, calendar.Standard, on("2026-10-31"), Dated)
	base := p.Run()
	require.Equal(t, "2026-11-06", base.Times[0].EarlyFinish.String())
	for _, m := range []Move{{Shift: 2}, {Stretch: 2}, {By: on("2026-11-10")}} {
		after, err := p.Rehearse(base, []Move{m})
		require.NoError(t, err)
		assert.Equal(t, "2026-11-10", after.Times[0].EarlyFinish.String())
		assert.Equal(t, "2026-10-26", after.Times[0].EarlyStart.String(), "it began when it began")
	}
}

// Putting anything off moves nothing earlier, whatever the links.
func TestALaterStartHastensNothing(t *testing.T) {
	base := on("2026-10-31")
	rapid.Check(t, func(t *rapid.T) {
		s := someNetwork(t, base)
		sheets := make([]Sheet, len(s.frames))
		place := make([]int, len(s.tasks))
		for i, k := range s.tasks {
			place[i] = len(sheets[k.Project].Activities)
			a := Activity{Code: string(rune('a' + i)), Calendar: k.Calendar, ActualStart: k.ActualStart, ActualFinish: k.ActualFinish,
				NotBefore: k.NotBefore, NotAfter: k.NotAfter}
			a.Duration.N, a.Duration.Given = int64(k.Duration), true
			sheets[k.Project].Activities = append(sheets[k.Project].Activities, a)
		}
		var links []Dependency
		for _, l := range s.links {
			links = append(links, Dependency{FromProject: s.tasks[l.From].Project, ToProject: s.tasks[l.To].Project,
				From: string(rune('a' + l.From)), To: string(rune('a' + l.To)), Type: l.Type, Lag: l.Lag})
		}
		p := NewPlan(sheets, links, calendar.Standard, base, Computed)
		before := p.Run()
		i := rapid.IntRange(0, len(s.tasks)-1).Draw(t, "moved")
		task := p.Task(int(s.tasks[i].Project), place[i])
		after, err := p.Rehearse(before, []Move{{Task: task, Shift: rapid.IntRange(0, 20).Draw(t, "by")}})
		if err != nil {
			return // finished
		}
		for _, x := range Shifts(p, before, p, after) {
			if x.To < x.From {
				t.Fatalf("%s went from %s to %s", p.Activity(x.Task).Code, x.From, x.To)
			}
		}
	})
}

func TestPlansAreComparedByCode(t *testing.T) {
	p := barge()
	before := p.Run()
	sheet := Sheet{Activities: []Activity{{Code: "NEW", Start: on("2026-11-02"), Finish: on("2026-11-03")},
		{Code: "TRIAL", Kind: Milestone, Finish: on("2026-11-27")}}}
	q := p.With(map[int32]Sheet{0: sheet}, p.Dependencies[1:], calendar.Standard, Dated)
	after := q.Run()
	got := map[string]int{}
	for _, s := range Shifts(p, before, q, after) {
		got[string(rune('A'+q.Place(s.Task).Project))+" "+q.Activity(s.Task).Code] = s.Days
	}
	assert.Equal(t, map[string]int{"A TRIAL": 5, "C LIFT": 5, "C SWIM": 5}, got)
}
