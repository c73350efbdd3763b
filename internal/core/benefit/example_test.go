package benefit_test

import (
	"fmt"

	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
)

// As of Friday 16 October 2026 twelve of the 22 working days of the month have passed: of 2,200.00 planned for it 1,200.00 were due.
func ExampleBenefit_Due() {
	asOf := calendar.On(2026, 10, 16)
	b := benefit.Benefit{Month: asOf.Month(), Planned: 2_200_00}
	fmt.Println(b.Due(b.Planned, asOf, calendar.Standard).Text("EUR"))
	// Output: 1200.00
}

// Of August 100 were planned and 79 came, less than four fifths; of September nobody told.
func ExampleAwait() {
	august := calendar.On(2026, 8, 1).Month()
	a := benefit.Await([]*benefit.Benefit{{Month: august, Planned: 100_00, Achieved: 79_00, Counted: true},
		{Month: august + 1, Planned: 50_00}}, calendar.On(2026, 9, 30))
	fmt.Println(a.Untold, a.Short(), a.Wanted())
	// Output: [2026-09] true true
}
