package selection_test

import (
	"context"
	"fmt"

	"turret/internal/core/selection"
)

// Of three proposals that cost 8, 5 and 4 with 10 to spend, the last two are worth more than the first alone: 7 + 6 against 12.
func ExampleSolve() {
	p := &selection.Problem{
		Candidates: []selection.Candidate{
			{Code: "quay", Valued: true, Value: 12, Use: []int64{8}},
			{Code: "shed", Valued: true, Value: 7, Use: []int64{5}},
			{Code: "road", Valued: true, Value: 6, Use: []int64{4}},
		},
		Limits: []selection.Limit{{Name: "money", Most: 10}},
	}
	r, unmet := selection.Solve(context.Background(), p, selection.Usual(3))
	fmt.Println(r.Chosen, r.Value, r.Proven, unmet == nil)
	p.Must = []int{0}
	r, _ = selection.Solve(context.Background(), p, selection.Usual(3))
	fmt.Println(r.Chosen, r.Value)
	// Output:
	// [false true true] 13 true true
	// [true false false] 12
}
