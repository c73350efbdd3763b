package backlog_test

import (
	"fmt"

	"turret/internal/core/backlog"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/write"
)

// Two iterations of two weeks accepted three and five points, four at the mean; eight are left.
func ExampleBacklog_On() {
	first := calendar.On(2026, 9, 7)
	points := func(n int64) fact.Int { return fact.Some(n * 10_000) }
	b := backlog.Backlog{
		Items: []backlog.Item{
			{Code: "1", Points: points(3), State: "accepted", Iteration: "I1", Accepted: first + 10},
			{Code: "2", Points: points(5), State: "accepted", Iteration: "I2", Accepted: first + 20},
			{Code: "3", Points: points(8)},
		},
		Iterations: []backlog.Iteration{{Code: "I1", From: first, To: first + 13}, {Code: "I2", From: first + 14, To: first + 27}},
	}
	s := b.On(calendar.On(2026, 10, 31))
	for _, n := range []int64{s.Total, s.Accepted, s.Remaining, s.Velocity.Low, s.Velocity.Mean(), s.Velocity.High} {
		fmt.Print(write.Trimmed(n, 4), " ")
	}
	// Output: 16 8 8 3 4 5
}
