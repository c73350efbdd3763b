package priority_test

import (
	"fmt"

	"turret/internal/core/fact"
	"turret/internal/core/priority"
)

// Value weighs three times as much as effort, both from 1 to 5; of effort less is better. The quay: 3/4 of (5-1)/4 and 1/4 of (5-5)/4;
// the shed: 3/4 of (3-1)/4 and 1/4 of (5-1)/4; of a hundred.
func ExampleRank() {
	criteria := []priority.Criterion{{Code: "value", Weight: 3, Low: 1_0000, High: 5_0000},
		{Code: "effort", Weight: 1, Effort: true, Low: 1_0000, High: 5_0000}}
	ranked, _ := priority.Rank(criteria, []priority.Candidate{
		{Code: "shed", Ratings: []fact.Ratio{fact.Of(3, 1), fact.Of(1, 1)}},
		{Code: "quay", Ratings: []fact.Ratio{fact.Of(5, 1), fact.Of(5, 1)}},
		{Code: "road", Ratings: make([]fact.Ratio, 2)},
	})
	for _, r := range ranked {
		fmt.Println(r.Code, r.Scored, r.Rank, float64(r.Score)/priority.Micro)
	}
	// Output:
	// quay true 1 75
	// shed true 2 62.5
	// road false 0 0
}
