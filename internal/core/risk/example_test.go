package risk_test

import (
	"fmt"

	"turret/internal/core/fact"
	"turret/internal/core/risk"
)

// 30 % of 40,000.00 are 12,000.00; likelihood 3 times consequence 4 is an exposure of 12.
func ExampleRating() {
	x := risk.Rating{Likelihood: fact.Some(3), Consequence: fact.Some(4), Probability: fact.Some(30_00), Impact: 40_000_00, Costs: true}
	worth, _ := x.Expected()
	exposure, _ := x.Exposure()
	_, days := x.ExpectedDays()
	fmt.Println(worth.Text("EUR"), exposure, days)
	// Output: 12000.00 12 false
}
