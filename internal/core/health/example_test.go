package health_test

import (
	"fmt"

	"turret/internal/core/fact"
	"turret/internal/core/health"
)

// A hundred working days planned, twelve late: beyond the tenth at which one acts.
func ExampleAssess() {
	r := health.Assess(health.Input{Deviation: fact.Some(12), PlannedDays: 100}, health.Defaults())
	fmt.Println(r.Computed[health.Schedule], r.Computed[health.Cost])
	// Output: act not assessed
}

func ExampleParseStatus() {
	s, ok := health.ParseStatus("watch")
	fmt.Println(s, ok)
	_, ok = health.ParseStatus("fine")
	fmt.Println(ok)
	// Output:
	// watch true
	// false
}
