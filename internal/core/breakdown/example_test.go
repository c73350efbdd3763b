package breakdown_test

import (
	"fmt"

	"turret/internal/core/breakdown"
)

// Of a budget of 500.00 on one code 200.00 are spent and 330.00 are to come.
func ExampleByCode() {
	for _, line := range breakdown.ByCode(project(500, 200, 330)) {
		fmt.Println(line.Code, line.Budget.Text("EUR"), line.Actual.Text("EUR"), line.Estimate.Text("EUR"))
	}
	// Output: 0 500.00 200.00 530.00
}
