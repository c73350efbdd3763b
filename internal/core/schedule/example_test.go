package schedule_test

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/schedule"
)

// Digging takes five working days from Monday 2 November, and the base three once it is dug: it is there on Wednesday 11 November. The
// fence, a day's work that nothing waits for, may slip seven.
func ExampleNewPlan() {
	asOf := calendar.On(2026, 10, 30)
	start := calendar.On(2026, 11, 2)
	p := schedule.NewPlan([]schedule.Sheet{{Activities: []schedule.Activity{
		{Code: "dig", Start: start, Duration: fact.Some(5)},
		{Code: "base", Duration: fact.Some(3)},
		{Code: "fence", Start: start, Duration: fact.Some(1)},
	}}}, []schedule.Dependency{{From: "dig", To: "base"}}, calendar.Standard, asOf,
		schedule.Computed)
	n := p.Run()
	for i := range p.Tasks {
		t := n.Times[i]
		fmt.Println(p.Activity(int32(i)).Code, t.EarlyStart, t.EarlyFinish, t.TotalFloat)
	}
	// Output:
	// dig 2026-11-02 2026-11-06 0
	// base 2026-11-09 2026-11-11 0
	// fence 2026-11-02 2026-11-02 7
}

func ExampleParseLinkType() {
	t, ok := schedule.ParseLinkType("SS")
	fmt.Println(t, ok)
	_, ok = schedule.ParseLinkType("XX")
	fmt.Println(ok)
	// Output:
	// SS true
	// false
}
