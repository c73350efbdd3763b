package schedule

import (
	"fmt"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
)

// everyDay is worked without a break, so that days can be counted on fingers.
var everyDay = mustCalendar([7]bool{true, true, true, true, true, true, true}, nil)

func mustCalendar(week [7]bool, off map[calendar.Date]bool) *calendar.Calendar {
	c, err := calendar.New(week, off)
	if err != nil {
		panic(err)
	}
	return c
}

func task(days int32, c *calendar.Calendar) Task { return Task{Duration: days, Calendar: c} }

// The paper-works example that textbooks of operations management teach the method with: eight activities in weeks, here days.
// Its published solution is 15 long over A, C, E, G, H, with slack of 1 for B, 1 for D and 6 for F.
func TestTextbookNetwork(t *testing.T) {
	day0 := on("2026-11-02")
	durations := []int32{2, 3, 2, 4, 4, 3, 5, 2} // A to H
	after := [][2]int32{{0, 2}, {0, 3}, {1, 3}, {2, 4}, {2, 5}, {3, 6}, {4, 6}, {5, 7}, {6, 7}}
	var tasks []Task
	for _, d := range durations {
		tasks = append(tasks, task(d, everyDay))
	}
	var links []Link
	for _, l := range after {
		links = append(links, Link{From: l[0], To: l[1]})
	}
	n := NewGraph(len(tasks), links).Run(tasks, []Frame{{Start: day0}}, 0)
	want := []struct {
		es, ef, ls, lf calendar.Date // elapsed days, as the books write them
		slack, free    int32
		critical       bool
	}{
		{0, 2, 0, 2, 0, 0, true}, {0, 3, 1, 4, 1, 0, false}, {2, 4, 2, 4, 0, 0, true}, {3, 7, 4, 8, 1, 1, false},
		{4, 8, 4, 8, 0, 0, true}, {4, 7, 10, 13, 6, 6, false}, {8, 13, 8, 13, 0, 0, true}, {13, 15, 13, 15, 0, 0, true},
	}
	for i, w := range want {
		name := string(rune('A' + i))
		x := n.Times[i]
		assert.Equal(t, [4]calendar.Date{w.es, w.ef, w.ls, w.lf},
			[4]calendar.Date{x.EarlyStart - day0, x.EarlyFinish + 1 - day0, x.LateStart - day0, x.LateFinish + 1 - day0}, name)
		assert.Equal(t, []any{w.slack, w.free, w.critical}, []any{x.TotalFloat, x.FreeFloat, x.Critical}, name)
	}
	assert.Equal(t, []int32{0, 2, 4, 6, 7}, n.Chain(7))
	assert.Equal(t, day0+14, n.Finish[0])
}

// Each link type with a lag, by hand on a wall calendar: P is worked from Monday 2 to Friday 6 November 2026 (5 days), S for 3.
func TestLinkTypesByHand(t *testing.T) {
	cases := []struct {
		kind          LinkType
		lag           int32
		start, finish string
	}{
		{FinishStart, 0, "2026-11-09", "2026-11-11"},
		{FinishStart, 2, "2026-11-11", "2026-11-13"},
		{FinishStart, -2, "2026-11-05", "2026-11-09"},
		{StartStart, 0, "2026-11-02", "2026-11-04"},
		{StartStart, 4, "2026-11-06", "2026-11-10"},
		{FinishFinish, 0, "2026-11-04", "2026-11-06"},
		{FinishFinish, 1, "2026-11-05", "2026-11-09"},
		{FinishFinish, -1, "2026-11-03", "2026-11-05"},
		{StartFinish, 0, "2026-11-02", "2026-11-04"}, // before the start of everything: held by the project's start
		{StartFinish, 5, "2026-11-04", "2026-11-06"},
	}
	for _, c := range cases {
		tasks := []Task{task(5, calendar.Standard), task(3, calendar.Standard)}
		n := NewGraph(2, []Link{{0, 1, c.kind, c.lag}}).Run(tasks, []Frame{{Start: on("2026-11-02")}}, 0)
		name := fmt.Sprintf("%s%+d", c.kind, c.lag)
		assert.Equal(t, c.start, n.Times[1].EarlyStart.String(), name)
		assert.Equal(t, c.finish, n.Times[1].EarlyFinish.String(), name)
	}
}

// As of Wednesday 4 November 2026: one task done, one under way with 4 days left, one waiting for it, one nothing holds.
func TestAsOfLogicByHand(t *testing.T) {
	tasks := []Task{
		{Duration: 3, Calendar: calendar.Standard, ActualStart: on("2026-10-26"), ActualFinish: on("2026-10-29")},
		{Duration: 5, Remaining: 4, Calendar: calendar.Standard, ActualStart: on("2026-11-02")},
		{Duration: 2, Calendar: calendar.Standard},
		{Duration: 1, Calendar: calendar.Standard},
		{Calendar: calendar.Standard}, // a milestone behind the third
		{Duration: 1, Calendar: calendar.Standard, NotBefore: on("2026-11-21"), NotAfter: on("2026-11-20")},
	}
	links := []Link{{0, 1, FinishStart, 20}, {1, 2, FinishStart, 0}, {2, 4, FinishStart, 0}, {0, 3, FinishStart, 0}}
	n := NewGraph(len(tasks), links).Run(tasks, []Frame{{Start: on("2026-01-01")}}, on("2026-11-04"))
	got := func(i int) []string {
		x := n.Times[i]
		return []string{x.EarlyStart.String(), x.EarlyFinish.String(), x.LateStart.String(), x.LateFinish.String()}
	}
	assert.Equal(t, []string{"2026-10-26", "2026-10-29", "2026-10-26", "2026-10-29"}, got(0), "finished work keeps its dates")
	assert.Equal(t, []string{"2026-11-02", "2026-11-10"}, got(1)[:2], "four days from Thursday; the lag of finished work asks nothing")
	assert.Equal(t, "2026-11-16", n.Times[1].LateStart.String(), "of the remaining part: the project ends on Monday 23 November")
	assert.Equal(t, []string{"2026-11-11", "2026-11-12"}, got(2)[:2])
	assert.Equal(t, []string{"2026-11-05", "2026-11-05"}, got(3)[:2], "nothing starts on or before the as-of date")
	assert.Equal(t, "2026-11-12", n.Times[4].EarlyStart.String(), "a milestone stands at the end of its day")
	assert.Equal(t, "2026-11-23", n.Times[5].EarlyStart.String(), "a Saturday constraint waits for Monday")
	assert.Equal(t, int32(-1), n.Times[5].TotalFloat, "its latest finish is one working day earlier")
	assert.True(t, n.Times[5].Critical)
	assert.False(t, n.Times[2].Critical)
}

// One project's slip is another's: float ends at each project's own finish, and the chain crosses over.
func TestAcrossProjects(t *testing.T) {
	tasks := []Task{{Project: 0, Duration: 5, Calendar: everyDay}, {Project: 0, Duration: 8, Calendar: everyDay},
		{Project: 1, Duration: 4, Calendar: everyDay}}
	n := NewGraph(3, []Link{{From: 0, To: 2}}).Run(tasks, []Frame{{Start: 1000}, {Start: 1000, Required: 1006}}, 0)
	assert.Equal(t, []calendar.Date{1007, 1008}, n.Finish)
	assert.Equal(t, int32(-2), n.Times[2].TotalFloat, "two days past the required finish")
	assert.Equal(t, int32(-2), n.Times[0].TotalFloat, "and so is what it waits for, in the other project")
	assert.True(t, n.Times[0].Critical)
	last := n.Latest(func(int32) bool { return true })
	assert.Equal(t, []int32{0, 2}, n.Chain(last))
}

func TestCyclesAreNamedInOrder(t *testing.T) {
	// 4 → 2 → 5 → 4 goes round; 1 stands before it, 3 behind it; 0 is free; 6 waits for itself.
	links := []Link{{From: 4, To: 2}, {From: 2, To: 5}, {From: 5, To: 4}, {From: 1, To: 4}, {From: 5, To: 3}, {From: 6, To: 6}}
	g := NewGraph(7, links)
	assert.Equal(t, [][]int32{{2, 5, 4}, {6}}, g.Cycles)
	tasks := make([]Task, 7)
	for i := range tasks {
		tasks[i] = task(2, everyDay)
	}
	n := g.Run(tasks, []Frame{{Start: 500}}, 0)
	assert.Equal(t, calendar.Date(501), n.Times[0].EarlyFinish)
	assert.Equal(t, calendar.Date(501), n.Finish[0], "what goes round has no dates")
	assert.True(t, g.Stuck(3))
	assert.EqualError(t, CycleError{"A", "B"}, "links go round: A → B → A")
}

func TestRoomAndNeedBy(t *testing.T) {
	giver := SpanOf(on("2026-11-02"), on("2026-11-06"), false)
	taker := SpanOf(on("2026-11-11"), on("2026-11-13"), false)
	c := calendar.Standard
	fs := &Link{Type: FinishStart}
	assert.Equal(t, 2, Room(fs, giver, taker, c), "Monday and Tuesday")
	assert.Equal(t, "2026-11-10", NeedBy(fs, taker, c).String())
	late := SpanOf(on("2026-11-02"), on("2026-11-16"), false)
	assert.Equal(t, -4, Room(fs, late, taker, c), "Wed, Thu, Fri and Mon")
	lagged := &Link{Type: FinishStart, Lag: 3}
	assert.Equal(t, -1, Room(lagged, giver, taker, c))
	assert.Equal(t, "2026-11-05", NeedBy(lagged, taker, c).String())
	ff := &Link{Type: FinishFinish}
	assert.Equal(t, 5, Room(ff, giver, taker, c))
	event := SpanOf(0, on("2026-11-10"), true)
	assert.Equal(t, 0, Room(fs, event, taker, c), "an event at the end of Tuesday, work on Wednesday")
}

func bigNetwork(tasks int) ([]Task, []Link, []Frame) {
	r := rand.New(rand.NewSource(1)) // the same network every time
	const perProject = 200
	var frames []Frame
	list := make([]Task, tasks)
	var links []Link
	for i := range list {
		if i%perProject == 0 {
			frames = append(frames, Frame{Start: on("2026-01-05")})
		}
		list[i] = Task{Project: int32(i / perProject), Duration: int32(r.Intn(20)), Calendar: calendar.Standard}
		for range 1 + i%2 {
			if k := i % perProject; k > 0 {
				links = append(links, Link{From: int32(i - 1 - r.Intn(min(k, 12))), To: int32(i), Type: LinkType(r.Intn(4)),
					Lag: int32(r.Intn(5) - 1)})
			}
		}
	}
	return list, links, frames
}

func BenchmarkNetwork(b *testing.B) {
	for _, size := range []int{100_000, 200_000} {
		tasks, links, frames := bigNetwork(size)
		b.Run(fmt.Sprintf("%dk activities", size/1000), func(b *testing.B) {
			for b.Loop() {
				n := NewGraph(len(tasks), links).Run(tasks, frames, on("2026-03-31"))
				require.NotZero(b, n.Finish[0])
			}
			b.ReportMetric(float64(len(links)), "links")
		})
	}
}
