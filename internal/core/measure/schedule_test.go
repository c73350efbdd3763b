package measure

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/schedule"
)

// scheduled makes a project of activities and links within it, with everything that the network says.
func scheduled(list []schedule.Activity, links []schedule.Dependency, required calendar.Date) (*Project, *Evidence) {
	p := &Project{Info: Info{Code: "P", Name: "P", Status: Open}, Activities: list}
	plan := schedule.NewPlan([]schedule.Sheet{{Activities: list, Required: required}}, links, env.Calendar, env.AsOf, schedule.Computed)
	run := plan.Run()
	p.Logic = plan.Logic(run, func(at schedule.Place) string { return list[at.Activity].Code })[0]
	Assess(p, env)
	ev := &Evidence{Env: env, Chain: func(activity int) []Step {
		var steps []Step
		tasks := run.Chain(plan.Task(0, activity))
		for i, t := range tasks {
			s := Step{Project: "P", Activity: plan.Activity(t), Times: run.Times[t]}
			if i+1 < len(tasks) {
				s.Link = &plan.Dependencies[run.Times[tasks[i+1]].Driver]
			}
			steps = append(steps, s)
		}
		return steps
	}}
	return p, ev
}

func text(p *Project, key Key) string {
	d := Of(key)
	return p.Value(key).Text(d.Unit, "EUR")
}

// As of Saturday 31 October 2026. Two of the three activities promised by then are finished, one of them late; one began late, one that
// was to begin has not. Two milestones are open: one of portfolio level missed, one of project level 5 working days late.
func TestScheduleFiguresByHand(t *testing.T) {
	list := []schedule.Activity{
		{Code: "A", BaselineStart: on("2026-10-01"), BaselineFinish: on("2026-10-09"), ActualStart: on("2026-10-01"),
			ActualFinish: on("2026-10-09")},
		{Code: "B", BaselineStart: on("2026-10-05"), BaselineFinish: on("2026-10-16"), ActualStart: on("2026-10-06"),
			ActualFinish: on("2026-10-20")},
		{Code: "C", BaselineStart: on("2026-10-19"), BaselineFinish: on("2026-10-30"), Duration: fact.Some(10)},
		{Code: "D", BaselineStart: on("2026-11-02"), BaselineFinish: on("2026-11-06"), Finish: on("2026-11-20"), Duration: fact.Some(5)},
		{Code: "M1", Kind: schedule.Milestone, Level: schedule.PortfolioLevel, BaselineFinish: on("2026-10-30"), Finish: on("2026-11-13")},
		{Code: "M2", Kind: schedule.Milestone, BaselineFinish: on("2026-11-13"), Finish: on("2026-11-20")},
	}
	links := []schedule.Dependency{{From: "C", To: "M1"}, {From: "C", To: "D"}, {From: "D", To: "M2"}, {From: "B", To: "C"}}
	p, ev := scheduled(list, links, on("2026-11-18"))
	for key, want := range map[Key]string{
		ActivitiesFinished: "2", ActivitiesPromised: "4", WorkFinished: "2", WorkPromised: "3", BEI: "0.666667",
		LateStarts: "2", LateFinishes: "2",
		MissedPortfolio: "1", MissedProgramme: "0", MissedProject: "0", SlippingProject: "1", SlippingPortfolio: "0",
		LongestSlip: "10",
		// C takes the ten days from Monday 2 to Friday 13 November, D the week after; its end, and M2's, is Friday the 20th: two past the
		// 18th.
		ComputedFinish: "2026-11-20", FinishFloat: "-2", ActivitiesOpen: "4", ActivitiesCritical: "3",
		CriticalShare: "0.750000",
		LooseEnds:     "1", Leads: "0", LongLags: "0", HardConstraints: "0", HighFloat: "0", LongDurations: "0",
	} {
		assert.Equal(t, want, text(p, key), key)
	}
	n, ok := Explain(p, ev, ComputedFinish)
	require.True(t, ok)
	require.Len(t, n.Children, 3, "from the end back; what holds C is the as-of date")
	assert.Equal(t, []string{"M2 ", "D ", "C "}, []string{n.Children[0].Label, n.Children[1].Label, n.Children[2].Label})
	assert.Equal(t, "Drives the one above: FS", n.Children[1].Children[0].Label)

	a, ok := ExplainActivity(p, ev, "D")
	require.True(t, ok)
	assert.Equal(t, int64(10), a.Value.N, "from Friday 6 to Friday 20 November")
	last := a.Children[len(a.Children)-1]
	assert.Contains(t, last.Detail, "total float -2")
	assert.Contains(t, last.Detail, "critical")
	assert.Equal(t, "C ", last.Children[0].Label)
	_, ok = ExplainActivity(p, ev, "NONE")
	assert.False(t, ok)
}

func TestANetworkThatGoesRoundLeavesItsFiguresUndefined(t *testing.T) {
	list := []schedule.Activity{{Code: "A", Duration: fact.Some(2)}, {Code: "B", Duration: fact.Some(2)}}
	p, ev := scheduled(list, []schedule.Dependency{{From: "A", To: "B"}, {From: "B", To: "A"}}, 0)
	for _, key := range []Key{ComputedFinish, FinishFloat, ActivitiesCritical, CriticalShare, LooseEnds} {
		assert.Equal(t, "links go round: A → B → A", p.Value(key).Reason, key)
	}
	assert.Equal(t, "0", text(p, ActivitiesFinished), "what needs no network is known")
	n, ok := Explain(p, ev, ComputedFinish)
	require.True(t, ok)
	assert.Empty(t, n.Children)
	a, ok := ExplainActivity(p, ev, "A")
	require.True(t, ok)
	assert.Contains(t, a.Children[len(a.Children)-1].Value.Reason, "go round")
}

// Every count of activities or links names as many as it counts, whatever the schedule.
func TestCountsNameWhatTheyCount(t *testing.T) {
	counts := []Key{ActivitiesOpen, ActivitiesCritical, ActivitiesFinished, ActivitiesPromised, LateStarts,
		LateFinishes, LooseEnds, Leads,
		LongLags, HardConstraints, HighFloat, LongDurations, MissedPortfolio, MissedProgramme, MissedProject,
		SlippingPortfolio,
		SlippingProgramme, SlippingProject, MilestonesDone, MilestonesMissed, MilestonesSlipping}
	rapid.Check(t, func(t *rapid.T) {
		day := func(name string) calendar.Date {
			if rapid.IntRange(0, 3).Draw(t, name+" given") == 0 {
				return 0
			}
			return env.AsOf + calendar.Date(rapid.IntRange(-60, 90).Draw(t, name))
		}
		var list []schedule.Activity
		var links []schedule.Dependency
		for i := range rapid.IntRange(1, 8).Draw(t, "activities") {
			a := schedule.Activity{Code: fmt.Sprint("A", i), Kind: schedule.Kind(rapid.IntRange(0, 3).Draw(t, "kind")),
				Level:         schedule.Level(rapid.IntRange(0, 2).Draw(t, "level")),
				BaselineStart: day("baseline start"), BaselineFinish: day("baseline finish"), Finish: day("finish"),
				NotAfter: day("not after"),
				Duration: fact.Some(int64(rapid.IntRange(0, 80).Draw(t, "duration")))}
			if rapid.Bool().Draw(t, "done") {
				a.ActualStart, a.ActualFinish = env.AsOf-9, env.AsOf-calendar.Date(rapid.IntRange(-3, 8).Draw(t, "ago"))
			}
			list = append(list, a)
			if i > 0 && rapid.Bool().Draw(t, "linked") {
				links = append(links, schedule.Dependency{From: fmt.Sprint("A", rapid.IntRange(0, i-1).Draw(t, "from")), To: a.Code,
					Lag: int32(rapid.IntRange(-5, 20).Draw(t, "lag"))})
			}
		}
		p, ev := scheduled(list, links, 0)
		sum := int64(0)
		for _, key := range counts {
			v := p.Value(key)
			n, _ := Explain(p, ev, key)
			if v.Known && int64(len(n.Children)) != v.N {
				t.Fatalf("%s is %d and names %d", key, v.N, len(n.Children))
			}
		}
		for _, key := range []Key{MissedPortfolio, MissedProgramme, MissedProject} {
			sum += p.Value(key).N
		}
		if sum != p.Value(MilestonesMissed).N {
			t.Fatalf("missed by level %d, in all %d", sum, p.Value(MilestonesMissed).N)
		}
	})
}

// A group's smallest float and longest slip are those of one of its projects; its counts are sums.
func TestScheduleFiguresOfAGroup(t *testing.T) {
	one, _ := scheduled([]schedule.Activity{{Code: "M", Kind: schedule.Milestone, BaselineFinish: on("2026-11-06"),
		Finish: on("2026-11-13")}}, nil, on("2026-10-28"))
	two, _ := scheduled([]schedule.Activity{{Code: "A", Duration: fact.Some(3)},
		{Code: "M", Kind: schedule.Milestone, BaselineFinish: on("2026-11-06"), Finish: on("2026-11-10")}}, nil, 0)
	none := &Project{Info: Info{Code: "N", Status: Open}}
	Assess(none, env)
	g := Roll([]*Project{one, two, none}, env)
	assert.Equal(t, int64(-2), g.Value(FinishFloat).N, "the milestone could be on Monday the 2nd, its finish is required by "+
		"Wednesday 28 October: Thursday, Friday too late")
	assert.Equal(t, int64(5), g.Value(LongestSlip).N)
	assert.Equal(t, int64(3), g.Value(ActivitiesOpen).N)
	assert.Equal(t, 2, g.CountOf(ActivitiesOpen), "the one without a schedule is left out and named")
	assert.Equal(t, "2026-11-04", g.Value(ComputedFinish).Date().String())
	for key, first := range map[Key]int64{LongestSlip: 5, FinishFloat: -2, ComputedFinish: g.Value(ComputedFinish).N} {
		n, ok := ExplainGroup(g, env, key)
		require.True(t, ok)
		assert.Equal(t, first, n.Children[0].Value.N, "the project that makes the %s stands first in its trace", key)
	}
}

// By hand, as of 31 October: A was to end on the 9th and is done late, B was to end on the 16th and has not begun, M was missed on the
// 30th;
// C and N, to end and to happen by then too and later than all, are cancelled. Without these two nothing else is late.
func TestWhatIsCancelledIsNotLate(t *testing.T) {
	p := &Project{Info: Info{Code: "P", Status: Open}, Activities: []schedule.Activity{
		{Code: "A", BaselineStart: on("2026-10-01"), BaselineFinish: on("2026-10-09"), ActualStart: on("2026-10-01"),
			ActualFinish: on("2026-10-12")},
		{Code: "B", BaselineStart: on("2026-10-12"), BaselineFinish: on("2026-10-16"), Start: on("2026-11-02"), Finish: on("2026-11-06")},
		{Code: "M", Kind: schedule.Milestone, BaselineFinish: on("2026-10-30"), Finish: on("2026-11-09")},
		{Code: "C", State: schedule.Cancelled, BaselineStart: on("2026-10-01"), BaselineFinish: on("2026-10-30"),
			Finish: on("2027-03-31")},
		{Code: "N", Kind: schedule.Milestone, State: schedule.Cancelled, BaselineFinish: on("2026-10-30"), Finish: on("2027-03-31")},
		{Code: "H", State: "on hold", BaselineStart: on("2026-11-02"), BaselineFinish: on("2026-11-06"), Finish: on("2026-11-13")}}}
	Assess(p, env)
	for key, want := range map[Key]int64{LateStarts: 1, LateFinishes: 2, WorkPromised: 2, WorkFinished: 1,
		ActivitiesPromised: 3, MilestonesMissed: 1, MissedProject: 1, LongestSlip: 6, FinishDeviation: 5} {
		v := p.Value(key)
		assert.True(t, v.Known, "%s: %s", key, v.Reason)
		assert.Equal(t, want, v.N, key)
	}
	assert.Equal(t, "2026-11-06", p.Value(BaselineFinish).Date().String(), "that of H, not of what is cancelled")
	assert.Equal(t, "2026-11-13", p.Value(ExpectedFinish).Date().String())
	assert.InDelta(t, 0.5, p.Value(BEI).Ratio, 1e-12)
}

// Nothing is done any more on what is cancelled, so that a project ends with the last of the rest; where there is no rest it never does.
func TestAProjectEndsWithoutWhatIsCancelled(t *testing.T) {
	done := schedule.Activity{Code: "A", ActualFinish: on("2026-10-12")}
	dropped := schedule.Activity{Code: "C", State: schedule.Cancelled}
	for _, x := range []struct {
		activities []schedule.Activity
		asOf, want string
	}{
		{[]schedule.Activity{done, dropped}, "2026-10-31", "2026-10-12"},
		{[]schedule.Activity{done, dropped}, "2026-10-12", "2026-10-12"},
		{[]schedule.Activity{done, dropped}, "2026-10-11", ""},
		{[]schedule.Activity{done, {Code: "B"}, dropped}, "2026-10-31", ""},
		{[]schedule.Activity{dropped}, "2026-10-31", ""},
	} {
		assert.Equal(t, x.want, FinishedOn(x.activities, on(x.asOf)).String(), "%v", x)
	}
}
