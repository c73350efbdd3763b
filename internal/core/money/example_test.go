package money_test

import (
	"fmt"

	"turret/internal/core/money"
)

// What lies half way between two is rounded to the even one.
func ExampleMulDiv() {
	fmt.Println(money.MulDiv(5, 1, 2), money.MulDiv(7, 1, 2), money.MulDiv(-5, 1, 2))
	// Output: 2 4 -2
}

// An amount has no more decimals than its currency.
func ExampleParse() {
	a, err := money.Parse("-1234.5", "EUR")
	fmt.Println(a, a.Text("EUR"), a.Human("EUR"), err)
	_, err = money.Parse("1.5", "JPY")
	fmt.Println(err != nil)
	// Output:
	// -123450 -1234.50 −€1,234.50 <nil>
	// true
}
