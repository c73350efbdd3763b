package forecast_test

import (
	"fmt"

	"turret/internal/core/forecast"
	"turret/internal/core/money"
)

// Half of four runs came out at 20.00 or less, four of five at 40.00; three of four at 30.00 or less.
func ExamplePercentile() {
	runs := []money.Amount{40_00, 10_00, 30_00, 20_00}
	half, _ := forecast.Percentile(runs, 50)
	most, _ := forecast.Percentile(runs, 80)
	fmt.Println(half.Text("EUR"), most.Text("EUR"), forecast.Chance(runs, 30_00))
	// Output: 20.00 40.00 {3 4}
}

// An index that fell by 0.03 in each of three periods to 0.91 has 0.05 left to 0.86: it is below that in the second period from now. One
// that rose once does not creep.
func ExampleCreepTo() {
	c, is := forecast.CreepTo([]float64{1.00, 0.97, 0.94, 0.91}, 0.86, false)
	fmt.Printf("%.2f %d %v\n", c.Slope, c.Periods, is)
	_, is = forecast.CreepTo([]float64{1.00, 0.97, 0.98, 0.91}, 0.86, false)
	fmt.Println(is)
	// Output:
	// -0.03 2 true
	// false
}
