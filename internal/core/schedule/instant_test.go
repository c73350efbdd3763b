package schedule

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
)

// dates are early start and finish, late start and finish of a task, in short.
func dates(n *Network, i int) []string {
	x := n.Times[i]
	return []string{x.EarlyStart.String()[5:], x.EarlyFinish.String()[5:], x.LateStart.String()[5:], x.LateFinish.String()[5:]}
}

// November 2026: Monday the 2nd, Friday the 6th, Monday the 9th. Monday to Friday is worked.
func TestFridaysEndIsMondaysStart(t *testing.T) {
	week := calendar.Standard
	// P takes six days to Monday the 9th; S takes two and may finish one working day earlier: on Friday.
	n := NewGraph(2, []Link{{0, 1, FinishFinish, -1}}).Run([]Task{task(6, week), task(2, week)}, []Frame{{Start: on("2026-11-02")}}, 0)
	assert.Equal(t, []string{"11-05", "11-06"}, dates(n, 1)[:2])
	assert.True(t, n.Drives(0))
	assert.Equal(t, int32(1), n.Times[1].TotalFloat, "the project ends on Monday")
	assert.Equal(t, int32(0), n.Times[0].TotalFloat)

	// The other way: S must end on Friday; P, of a project with time to spare, may end on Monday. Its four days are then the 4th to the
	// 9th.
	must := Frame{Start: on("2026-11-02"), Required: on("2026-11-06")}
	n = NewGraph(2, []Link{{0, 1, FinishFinish, -1}}).Run([]Task{{Project: 1, Duration: 4, Calendar: week}, task(5, week)},
		[]Frame{must, {Start: on("2026-11-02"), Required: on("2026-11-30")}}, 0)
	assert.Equal(t, []string{"11-02", "11-05", "11-04", "11-09"}, dates(n, 0))
	assert.Equal(t, []int32{2, 2}, []int32{n.Times[0].TotalFloat, n.Times[0].FreeFloat}, "Friday and Monday")

	// A SF 0 -> B, B FS -> D: B may finish on the Friday before A starts on Monday. A 3, B 2, D 2 from Monday the 9th on.
	links := []Link{{0, 1, StartFinish, 0}, {1, 2, FinishStart, 0}}
	tasks := []Task{{Duration: 2, Calendar: week, NotBefore: on("2026-11-09")}, task(2, week), task(2, week)}
	n = NewGraph(3, links).Run(tasks, []Frame{{Start: on("2026-11-02")}}, 0)
	assert.Equal(t, []string{"11-05", "11-06", "11-05", "11-06"}, dates(n, 1))
	assert.Equal(t, []string{"11-09", "11-10", "11-09", "11-10"}, dates(n, 2), "D starts on Monday, as A does")
	assert.Equal(t, []string{"11-09", "11-10", "11-09", "11-10"}, dates(n, 0), "A may start on Monday still")
	assert.Equal(t, []int32{0, 0, 0}, []int32{n.Times[0].TotalFloat, n.Times[1].TotalFloat, n.Times[2].TotalFloat})
	assert.Equal(t, []bool{true, true, true}, []bool{n.Times[0].Critical, n.Times[1].Critical, n.Times[2].Critical})
	assert.Equal(t, int32(0), n.Times[0].FreeFloat)
}

// Two ways to one milestone: A ends on Friday; B ends on Monday and holds it with a lead of a day, to Friday's end as well.
func TestBothPathsToTheSameInstantAreCritical(t *testing.T) {
	tasks := []Task{task(5, calendar.Standard), task(6, calendar.Standard), task(0, calendar.Standard), task(1, calendar.Standard)}
	links := []Link{{0, 2, FinishStart, 0}, {1, 2, FinishStart, -1}, {2, 3, FinishStart, 0}}
	n := NewGraph(4, links).Run(tasks, []Frame{{Start: on("2026-11-02")}}, 0)
	assert.Equal(t, "11-06", dates(n, 2)[1])
	assert.Equal(t, "11-09", dates(n, 3)[0])
	assert.True(t, n.Drives(0))
	assert.True(t, n.Drives(1))
	for i := range tasks {
		assert.Equal(t, int32(0), n.Times[i].TotalFloat, "task %d", i)
		assert.True(t, n.Times[i].Critical, "task %d", i)
	}
}

// A predecessor that works every day and finishes on Saturday: work of Monday to Friday that must finish no earlier finishes on Monday,
// since the other works between Friday's end and Saturday's.
func TestAnInstantIsTheSameOnlyWhereNeitherWorks(t *testing.T) {
	tasks := []Task{{Duration: 6, Calendar: everyDay}, task(2, calendar.Standard)}
	run := func(kind LinkType, lag int32) *Network {
		return NewGraph(2, []Link{{0, 1, kind, lag}}).Run(tasks, []Frame{{Start: on("2026-11-02")}}, 0)
	}
	assert.Equal(t, []string{"11-06", "11-09"}, dates(run(FinishFinish, 0), 1)[:2])
	assert.Equal(t, []string{"11-09", "11-10"}, dates(run(FinishStart, 0), 1)[:2])
	assert.Equal(t, []string{"11-04", "11-05"}, dates(run(FinishFinish, -1), 1)[:2],
		"a working day of the successor back from the weekend is Friday's start")
	assert.Equal(t, int32(1), run(FinishStart, 0).Times[0].FreeFloat, "Sunday")

	tasks[0].Duration = 5 // to Friday
	assert.Equal(t, []string{"11-05", "11-06"}, dates(run(FinishFinish, 0), 1)[:2])
	tasks[0].Duration = 8 // to Monday the 9th
	assert.Equal(t, []string{"11-06", "11-09"}, dates(run(FinishFinish, -1), 1)[:2],
		"Monday's start, and the other works on the weekend before it")
}

// As of Friday 6 November: A is finished on that day and M waits for it.
func TestAnUndoneMilestoneIsStillToCome(t *testing.T) {
	week, asOf := calendar.Standard, on("2026-11-06")
	done := Task{Duration: 3, Calendar: week, ActualStart: on("2026-11-02"), ActualFinish: asOf}
	run := func(m Task) *Network {
		return NewGraph(3, []Link{{0, 1, FinishStart, 0}, {1, 2, FinishStart, 0}}).Run([]Task{done, m, task(1, week)}, []Frame{{}}, asOf)
	}
	n := run(task(0, week))
	assert.Equal(t, "11-09", dates(n, 1)[1], "not on the as-of date, so on Monday")
	assert.Equal(t, "11-10", dates(n, 2)[0], "what waits for it starts after it")
	n = run(Task{Calendar: week, NotBefore: on("2026-11-11")})
	assert.Equal(t, "11-11", dates(n, 1)[1], "its earliest day bounds its date")
	n = run(Task{Calendar: week, NotBefore: on("2026-11-14")})
	assert.Equal(t, "11-16", dates(n, 1)[1], "a Saturday waits for Monday")
	n = run(Task{Calendar: week, NotBefore: on("2026-11-02")})
	assert.Equal(t, "11-09", dates(n, 1)[1])

	// Without predecessors: the first working day after the as-of date, here also a Sunday.
	alone := NewGraph(1, nil).Run([]Task{task(0, week)}, []Frame{{}}, on("2026-11-08"))
	assert.Equal(t, []string{"11-09", "11-09", "11-09", "11-09"}, dates(alone, 0))
	assert.Equal(t, int32(0), alone.Times[0].TotalFloat)
	assert.True(t, alone.Times[0].Critical)
}

// W is worked from Monday 9 to Friday 13; M has no links and may come as late as the project's end, on that Friday.
func TestAMilestoneWithoutLinksKeepsWithinItsLatePoint(t *testing.T) {
	week, asOf := calendar.Standard, on("2026-11-06")
	n := NewGraph(2, nil).Run([]Task{task(5, week), task(0, week)}, []Frame{{}}, asOf)
	assert.Equal(t, []string{"11-09", "11-09", "11-13", "11-13"}, dates(n, 1))
	assert.Equal(t, int32(5), n.Times[1].TotalFloat)
	n = NewGraph(2, nil).Run([]Task{task(6, week), task(0, week)}, []Frame{{}}, asOf)
	assert.Equal(t, "11-16", dates(n, 1)[3], "Monday, with the project")
	n = NewGraph(2, nil).Run([]Task{task(6, week), {Calendar: week, NotAfter: on("2026-11-11")}}, []Frame{{}}, asOf)
	assert.Equal(t, "11-11", dates(n, 1)[3])
	n = NewGraph(1, nil).Run([]Task{{Calendar: week, NotAfter: on("2026-11-04")}}, []Frame{{}}, asOf)
	assert.Equal(t, "11-04", dates(n, 0)[3])
	assert.Equal(t, int32(-2), n.Times[0].TotalFloat, "Thursday and Friday")
	// One that others wait for stands at the start of its day, early and late.
	n = NewGraph(3, []Link{{0, 1, FinishStart, 0}}).Run([]Task{task(0, week), task(2, week), task(5, week)}, []Frame{{}}, asOf)
	assert.Equal(t, []string{"11-09", "11-09", "11-12", "11-12"}, dates(n, 0))
}

// Two end on the same day; the one that must end before has the less float, and the one that is finished none at all.
func TestTheLastOfSeveralHasTheLeastFloat(t *testing.T) {
	asOf := on("2026-11-06")
	list := []Activity{{Code: "A", Duration: fact.Some(5)}, {Code: "B", Duration: fact.Some(5), NotAfter: on("2026-11-11")},
		{Code: "C", Duration: fact.Some(5)}, {Code: "D", Duration: fact.Some(2)}}
	for range list {
		list = append(list[1:], list[0]) // whatever their order
		plan := NewPlan([]Sheet{{Activities: list}}, nil, calendar.Standard, asOf, Computed)
		l := plan.Logic(plan.Run(), func(Place) string { return "" })[0]
		assert.Equal(t, "B", list[l.Last].Code)
		assert.Equal(t, int32(-2), l.Times[l.Last].TotalFloat)
	}
}

// Saturday's start and Monday's are one instant where neither works on the weekend; where the predecessor does, it must be done by
// Saturday.
func TestARetreatStopsWhereTheOtherWorksInBetween(t *testing.T) {
	always, err := calendar.New([7]bool{true, true, true, true, true, true, true}, nil)
	require.NoError(t, err)
	saturday, monday := calendar.On(2026, 10, 10), calendar.On(2026, 10, 12)
	assert.Equal(t, monday, retreat(calendar.Standard, calendar.Standard, saturday, 0))
	assert.Equal(t, saturday, retreat(calendar.Standard, always, saturday, 0))
}
