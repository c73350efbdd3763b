package capacity_test

import (
	"fmt"

	"turret/internal/core/capacity"
)

// 180 hours wanted of 160 that are there are nine eighths; of the 80 that have passed 60 were booked, 40 of them to be billed.
func ExampleCell() {
	hours := func(n int64) int64 { return n * capacity.Unit }
	c := capacity.Cell{Available: hours(160), Demand: hours(180), AvailablePast: hours(80), Booked: hours(60), Billable: hours(40)}
	fmt.Println(c.Load(), c.Utilisation(), c.BillableUtilisation())
	c.Add(&capacity.Cell{Available: hours(20)})
	fmt.Println(c.Load())
	// Output:
	// {9 8} {3 4} {1 2}
	// {1 1}
}
