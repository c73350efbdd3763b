package fact_test

import (
	"fmt"

	"turret/internal/core/fact"
)

// Nothing given is not the same as nought.
func ExampleSome() {
	var none fact.Int
	fmt.Println(none.Given, fact.Some(0).Given, fact.Some(7).N)
	// Output: false true 7
}

// A third is kept as a third.
func ExampleOf() {
	third := fact.Of(1, 3)
	fmt.Println(third.Rat(), third.Given())
	// Output: 1/3 true
}
