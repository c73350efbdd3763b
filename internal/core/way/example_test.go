package way_test

import (
	"fmt"

	"turret/internal/core/way"
)

// A budget of 1,000 and an estimate of 1,120: 12 % over, where 5 % is watch and 10 % act. 20 less is watch, 70 less is on track.
func ExampleOf() {
	for _, w := range way.Of(project(560, 560, "2026-10-09", false), env) {
		if w.Trigger.Key == "vac_share" {
			fmt.Println(w.To, w.Need.Amount().Text("EUR"))
		}
	}
	// Output:
	// watch 20.00
	// on track 70.00
}
