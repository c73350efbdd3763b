package earned_test

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/fact"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

// Two walls of 600.00 and 400.00 by their weights: the first is done, of the second a quarter.
func ExampleValue() {
	asOf := calendar.On(2026, 10, 30)
	walls := []schedule.Activity{
		{Code: "1", Weight: fact.Some(60_0000), ActualStart: asOf - 9, ActualFinish: asOf - 2},
		{Code: "2", Weight: fact.Some(40_0000), ActualStart: asOf - 2, Percent: fact.Some(25_00)},
	}
	r, err := earned.Value(earned.Progress{Activities: walls}, 1_000_00, asOf, calendar.Standard)
	fmt.Println(r.Value.Text("EUR"), err)
	for _, p := range r.Parts {
		fmt.Println(walls[p.Activity].Code, p.Budget.Text("EUR"), p.Earned.Text("EUR"))
	}
	// Output:
	// 700.00 <nil>
	// 1 600.00 600.00
	// 2 400.00 100.00
}

// Of ten working days from Monday 2 November five are over on Friday the 6th.
func ExamplePlanned() {
	c, known := earned.Planned(&schedule.Activity{BaselineStart: calendar.On(2026, 11, 2), BaselineFinish: calendar.On(2026, 11, 13)},
		calendar.On(2026, 11, 6), calendar.Standard)
	fmt.Println(c.Share(), c.Of(300_00).Text("EUR"), known)
	// Output: 0.5 150.00 true
}

// 400 earned for 500 is an index of 0.8; a budget of 1,000 comes to 1,250. Without anything earned there is none.
func ExampleAtIndex() {
	eac, known := earned.AtIndex(1_000_00, 500_00, 400_00)
	fmt.Println(eac.Text("EUR"), known)
	_, known = earned.AtIndex(1_000_00, 500_00, 0)
	fmt.Println(known)
	// Output:
	// 1250.00 true
	// false
}

// Planned 100 a month from August on; 150 are earned by the end of October: one month and a half of the three that have passed.
func ExampleSchedule() {
	t, known := earned.Schedule(calendar.On(2026, 8, 1).Month(), []money.Amount{100_00, 100_00, 100_00, 100_00}, 150_00,
		calendar.On(2026, 10, 31), calendar.Standard)
	fmt.Println(t.Earned.FloatString(1), t.Passed.FloatString(1), t.Index().FloatString(1), known)
	// Output: 1.5 3.0 0.5 true
}
