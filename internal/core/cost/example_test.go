package cost_test

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
)

// As of Friday 16 October 2026 twelve of the 22 working days of the month have passed: of 2,200.00 budgeted for it 1,200.00 were to be
// spent by then.
func ExampleBuilder() {
	asOf := calendar.On(2026, 10, 16)
	b := cost.NewBuilder(cost.NewRates("EUR", nil), calendar.Standard, asOf)
	b.Budget(cost.Line{Amount: 2_200_00, Currency: "EUR", Month: asOf.Month()})
	b.Post(cost.Posting{Date: asOf, Amount: 1_500_00, Currency: "EUR"})
	b.Post(cost.Posting{Date: asOf + 1, Amount: 999_00, Currency: "EUR"}) // a day later
	a := b.Account()
	fmt.Println(a.Budget().Human("EUR"), a.BudgetToDate.Human("EUR"), a.Actual.Human("EUR"))
	// Output: €2,200.00 €1,200.00 €1,500.00
}

// Ten thousand over Thursday 29 October to Tuesday 3 November: two working days of each month.
func ExampleSpread() {
	months, amounts := cost.Spread(cost.Line{Amount: 100_00, From: calendar.On(2026, 10, 29), To: calendar.On(2026, 11, 3)},
		calendar.Standard)
	for i, m := range months {
		fmt.Println(m, amounts[i].Text("EUR"))
	}
	// Output:
	// 2026-10 50.00
	// 2026-11 50.00
}

// What is missing is named: the currency and the month.
func ExampleRates_Actual() {
	rates := cost.NewRates("EUR", []cost.RateRow{{Currency: "SEK", Month: calendar.On(2026, 9, 1).Month(), Rate: money.Rate{Digits: 903,
		Places: 4}}})
	a, _, err := rates.Actual(1_000_00, "SEK", calendar.On(2026, 9, 1).Month())
	fmt.Println(a.Text("EUR"), err)
	_, _, err = rates.Actual(1_000_00, "SEK", calendar.On(2026, 8, 1).Month())
	fmt.Println(err)
	// Output:
	// 90.30 <nil>
	// no month rate for SEK in 2026-08
}

// A budget year that begins in July is named by both of its years.
func ExampleYearName() {
	fmt.Println(cost.YearName(cost.YearOf(calendar.On(2026, 10, 31), 7)), cost.YearName(cost.YearOf(calendar.On(2026, 10, 31), 1)))
	// Output: 2026/27 2026
}
