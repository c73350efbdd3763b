package schedule

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
)

func days(n int64) fact.Int { return fact.Some(n) }

// codesOf are the codes of activities by their index.
func codesOf(list []Activity, at []int) []string {
	codes := []string{}
	for _, i := range at {
		codes = append(codes, list[i].Code)
	}
	return codes
}

// As of 31 October 2026, all days worked: A is done, B follows it; C hangs on nothing; D is very long; E must end by a day; F ends the
// project. G is a summary, which has no place in the network.
func quality() (*Plan, []Activity) {
	list := []Activity{
		{Code: "A", ActualStart: on("2026-10-01"), ActualFinish: on("2026-10-10"), Duration: days(10)},
		{Code: "B", Duration: days(5)}, {Code: "C", Duration: days(3)}, {Code: "D", Duration: days(60)},
		{Code: "E", Duration: days(5), NotAfter: on("2026-11-08")}, {Code: "F", Kind: Milestone}, {Code: "G", Kind: Summary},
	}
	links := []Dependency{{From: "A", To: "B"}, {From: "B", To: "E", Lag: -2}, {From: "D", To: "F", Lag: 11}, {From: "E", To: "F", Lag: 10},
		{From: "X", To: "F"}, {From: "G", To: "F"}, {From: "A", To: "A2"}}
	return NewPlan([]Sheet{{Activities: list}}, links, everyDay, on("2026-10-31"), Computed), list
}

func TestScheduleQualityByHand(t *testing.T) {
	p, list := quality()
	l := p.Logic(p.Run(), func(Place) string { return "" })[0]
	assert.Equal(t, []string{"B", "C", "D", "E", "F"}, codesOf(list, l.Open), "all that is not finished, summaries aside")
	assert.Equal(t, []string{"C", "D"}, codesOf(list, l.Loose), "C at both ends, D without a predecessor; F is the end, and what "+
		"comes first has begun")
	assert.Equal(t, []string{"E"}, codesOf(list, l.Hard))
	assert.Equal(t, []string{"D"}, codesOf(list, l.Long), "sixty days; 44 are the limit")
	require.Len(t, l.Leads, 1)
	assert.Equal(t, "E", l.Leads[0].To)
	require.Len(t, l.Lags, 1, "eleven days are long, ten are not")
	assert.Equal(t, "D", l.Lags[0].From)
	// D takes 1 November to 30 December, eleven days on is 10 January at its end.
	assert.Equal(t, "2027-01-10", l.Finish.String())
	assert.Equal(t, []string{"D", "F"}, codesOf(list, l.Critical))
	// B: 1 to 5 November; E may start two days before B ends: 4 to 8 November, which is its latest finish too. C has from the 3rd to 10
	// January.
	assert.Equal(t, int32(0), l.Times[4].TotalFloat)
	assert.Equal(t, int32(68), l.Times[2].TotalFloat)
	assert.Equal(t, []string{"C"}, codesOf(list, l.Slack))
	assert.Len(t, p.Missing, 3, "an end that is not there twice, and a summary")
	assert.Equal(t, int32(-1), p.Task(0, 6))
}

func TestFaultsNameTheCycleToThoseBehindIt(t *testing.T) {
	sheets := []Sheet{{Activities: []Activity{{Code: "A", Duration: days(1)}, {Code: "B", Duration: days(1)}}},
		{Activities: []Activity{{Code: "C", Duration: days(1)}}}, {Activities: []Activity{{Code: "D", Duration: days(1)}}}}
	links := []Dependency{{From: "A", To: "B"}, {From: "B", To: "A"}, {FromProject: 0, From: "B", ToProject: 1, To: "C"}}
	p := NewPlan(sheets, links, everyDay, 0, Computed)
	logic := p.Logic(p.Run(), func(at Place) string { return p.sheets[at.Project].Activities[at.Activity].Code })
	assert.EqualError(t, logic[0].Fault, "links go round: A → B → A")
	assert.EqualError(t, logic[1].Fault, "links go round: A → B → A", "what waits for it cannot be dated either")
	require.NoError(t, logic[2].Fault)
	assert.Equal(t, -1, logic[1].Last)
	assert.Zero(t, logic[1].Finish)
}

func TestDrivenPlansTakeTheDatesOfTheNetwork(t *testing.T) {
	list := []Activity{{Code: "S", Kind: Summary, Start: on("2026-01-01"), Finish: on("2026-01-31")},
		{Code: "T", Kind: Summary, Parent: "S"},
		{Code: "A", Parent: "T", Duration: days(3), Start: on("2026-02-01"), Finish: on("2026-02-09")},
		{Code: "M", Kind: Milestone, Parent: "S", Finish: on("2026-02-09")}}
	p := NewPlan([]Sheet{{Activities: list, PlannedStart: on("2026-03-02"), Driven: true}}, []Dependency{{From: "A", To: "M", Lag: 2}},
		everyDay, 0, Computed)
	l := p.Logic(p.Run(), func(Place) string { return "" })[0]
	Drive(list, l.Times)
	assert.Equal(t, []string{"2026-03-02", "2026-03-04"}, []string{list[2].Start.String(), list[2].Finish.String()})
	assert.Equal(t, "2026-03-06", list[3].Finish.String(), "two days after the 4th, at the end of the day")
	assert.Equal(t, []string{"2026-03-02", "2026-03-06"}, []string{list[0].Start.String(), list[0].Finish.String()},
		"a summary spans what is below it, at any depth")
	assert.Equal(t, "2026-03-04", list[1].Finish.String())
	assert.Equal(t, Span{on("2026-02-01"), on("2026-02-09")}, list[2].Sent, "what was sent is kept")
}

func TestFollowMovesOnlyWhatHasNewDates(t *testing.T) {
	list := []Activity{{Code: "A", Start: on("2026-11-02"), Finish: on("2026-11-03"), ActualStart: on("2026-11-02"),
		ActualFinish: on("2026-11-03")},
		{Code: "B", Start: on("2026-11-04"), Finish: on("2026-11-06")}, {Code: "C", Start: on("2026-11-09"), Finish: on("2026-11-10"),
			ActualStart: on("2026-11-05")},
		{Code: "D", Start: on("2026-11-11"), Finish: on("2026-11-12")}}
	times := make([]Times, len(list))
	for _, i := range []int{0, 2, 3} {
		times[i] = Times{EarlyStart: on("2026-12-01"), EarlyFinish: on("2026-12-04")}
	}
	Follow(list, times, on("2026-11-05"))
	assert.Equal(t, "2026-11-03", list[0].Finish.String(), "finished")
	assert.Equal(t, []string{"2026-11-04", "2026-11-06"}, []string{list[1].Start.String(), list[1].Finish.String()}, "without new dates")
	assert.Equal(t, []string{"2026-11-09", "2026-12-04"}, []string{list[2].Start.String(), list[2].Finish.String()}, "begun when it began")
	assert.Equal(t, []string{"2026-12-01", "2026-12-04"}, []string{list[3].Start.String(), list[3].Finish.String()})
}

// Durations and what is left of them, by what is given.
func TestDurationsByWhatIsGiven(t *testing.T) {
	asOf := on("2026-11-04") // a Wednesday
	for _, c := range []struct {
		name       string
		a          Activity
		days, left int64
	}{
		{"a milestone", Activity{Kind: Milestone, Duration: days(5)}, 0, 0},
		{"given", Activity{Duration: days(7)}, 7, 7},
		{"by its dates", Activity{Start: on("2026-11-02"), Finish: on("2026-11-13")}, 10, 10},
		{"by its baseline", Activity{BaselineStart: on("2026-11-02"), BaselineFinish: on("2026-11-06")}, 5, 5},
		{"only what remains", Activity{Remaining: days(4)}, 4, 4},
		{"nothing", Activity{}, 0, 0},
		{"a percentage, rounded up", Activity{Duration: days(7), ActualStart: on("2026-11-02"), Percent: fact.Some(5000)}, 7, 4},
		{"what remains before a percentage", Activity{Duration: days(7), Remaining: days(1), Percent: fact.Some(5000)}, 7, 1},
		{"days since its start", Activity{Duration: days(7), ActualStart: on("2026-11-02")}, 7, 4},
		{"at least a day while it runs", Activity{Duration: days(2), ActualStart: on("2026-10-01")}, 2, 1},
		{"negative is none", Activity{Duration: days(-3), Remaining: days(-1)}, 0, 0},
		{"a percentage beyond all", Activity{Duration: days(7), ActualStart: on("2026-11-02"), Percent: fact.Some(13000)}, 7, 0},
	} {
		assert.Equal(t, c.days, c.a.Days(calendar.Standard), c.name)
		assert.Equal(t, c.left, c.a.left(calendar.Standard, asOf), c.name)
	}
}

// A second network with every kind of tie, worked by hand on a calendar of every day from day 0 on:
//
//	A 4, B 6 after A, C 5 starting 2 after A starts, D 3 after B and C, E 4 finishing 1 after D finishes, F after D and E.
//
//	A 0-4; B 4-10; C 2-7; D 10-13; E must finish at 14 or later: 10-14; F, a day, 14-15.
func TestNetworkOfAllTiesByHand(t *testing.T) {
	day0 := on("2026-06-01")
	tasks := []Task{task(4, everyDay), task(6, everyDay), task(5, everyDay), task(3, everyDay), task(4, everyDay), task(1, everyDay)}
	links := []Link{{0, 1, FinishStart, 0}, {0, 2, StartStart, 2}, {1, 3, FinishStart, 0}, {2, 3, FinishStart, 0},
		{3, 4, FinishFinish, 1}, {3, 5, FinishStart, 0}, {4, 5, FinishStart, 0}}
	n := NewGraph(6, links).Run(tasks, []Frame{{Start: day0}}, 0)
	want := [][4]calendar.Date{{0, 4, 0, 4}, {4, 10, 4, 10}, {2, 7, 5, 10}, {10, 13, 10, 13}, {10, 14, 10, 14}, {14, 15, 14, 15}}
	for i, w := range want {
		x := n.Times[i]
		assert.Equal(t, w, [4]calendar.Date{x.EarlyStart - day0, x.EarlyFinish + 1 - day0, x.LateStart - day0, x.LateFinish + 1 - day0},
			"task %c", 'A'+i)
	}
	assert.Equal(t, []int32{0, 1, 3, 4, 5}, n.Chain(5), "F waits for E, E for D's end, D for B, B for A")
	assert.Equal(t, int32(3), n.Times[2].TotalFloat)
	assert.False(t, n.Times[2].Critical)
	assert.True(t, n.Drives(4))
	assert.False(t, n.Drives(5), "D alone would let F begin a day earlier")
}

// Whatever the network: no link between unfinished tasks is broken, and nothing unfinished starts on or before the as-of date.
func TestEveryLinkIsKept(t *testing.T) {
	base := on("2026-10-31")
	rapid.Check(t, func(t *rapid.T) {
		s := someNetwork(t, base)
		n := NewGraph(len(s.tasks), s.links).Run(s.tasks, s.frames, s.asOf)
		for i := range s.tasks {
			if x := n.Times[i]; !x.Finished && !n.running(int32(i)) && s.tasks[i].Duration > 0 && x.EarlyStart <= base {
				t.Fatalf("task %d starts on %s", i, x.EarlyStart)
			}
		}
		for _, l := range s.links {
			to := int(l.To)
			if n.Times[to].Finished || n.running(l.To) && n.Times[l.From].Finished {
				continue
			}
			if !s.holds(l, n.start[l.From], n.finish[l.From], n.from[to], n.finish[to]) {
				t.Fatalf("%s from %d to %d with lag %d is broken", l.Type, l.From, l.To, l.Lag)
			}
		}
	})
}
