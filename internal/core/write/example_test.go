package write_test

import (
	"fmt"

	"turret/internal/core/write"
)

// 12,345.60 owed is a true minus before the sign of its currency.
func ExampleMoney() {
	fmt.Println(write.Money("€", 1_234_560, 2), write.Money("€", -1_234_560, 2))
	// Output: €12,345.60 −€12,345.60
}

// An eighth is 12.5 %; with no decimals it is rounded half to even.
func ExamplePercent() {
	fmt.Println(write.Percent(0.125, 1), write.Percent(0.125, 0))
	// Output: 12.5 % 12 %
}

func ExampleCount() {
	fmt.Println(write.Count(1, "month", "months")+",", write.Count(1200, "month", "months"))
	// Output: 1 month, 1,200 months
}

// Ten-thousandths lose the zeros that say nothing.
func ExampleTrimmed() {
	fmt.Println(write.Trimmed(2_5000, 4), write.Trimmed(3_0000, 4))
	// Output: 2.5 3
}
