package curve_test

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/curve"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// As of the end of October: 300.00 of the budget were due and 270.00 are spent, and with 310.00 forecast for November it comes to 580.00.
func ExampleNew() {
	asOf := calendar.On(2026, 10, 31)
	month := asOf.Month()
	b := cost.NewBuilder(cost.NewRates("EUR", nil), calendar.Standard, asOf)
	for i, amount := range []money.Amount{100_00, 200_00, 300_00} {
		b.Budget(cost.Line{Amount: amount, Currency: "EUR", Month: month - 1 + calendar.Month(i)})
	}
	b.Post(cost.Posting{Date: calendar.On(2026, 9, 7), Amount: 120_00, Currency: "EUR"})
	b.Post(cost.Posting{Date: calendar.On(2026, 10, 7), Amount: 150_00, Currency: "EUR"})
	b.Forecast(cost.Line{Amount: 310_00, Currency: "EUR", Month: month + 1})
	env := measure.Env{AsOf: asOf, Currency: "EUR", Calendar: calendar.Standard, Tolerances: health.Defaults()}
	p := &measure.Project{Account: b.Account()}
	measure.Assess(p, env)

	c := curve.New([]*measure.Project{p}, env)
	for i, s := range c.Sums {
		fmt.Println(c.First+calendar.Month(i), s.Budget.Text("EUR"), s.Actual.Text("EUR"), s.Estimate.Text("EUR"))
	}
	// Output:
	// 2026-09 100.00 120.00 120.00
	// 2026-10 300.00 270.00 270.00
	// 2026-11 600.00 270.00 580.00
}
