package measure_test

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

func ExampleKeyOf() {
	d := measure.Of(measure.KeyOf("vac"))
	fmt.Println(d.Name, d.Key == measure.VAC, measure.KeyOf("vacation") == measure.None)
	// Output: Variance at completion true true
}

// A budget of 1,000.00, of which 300.00 are posted and 800.00 more are forecast: the estimate is 1,100.00, and 100.00 are over.
func ExampleAssess() {
	asOf := calendar.On(2026, 10, 31)
	b := cost.NewBuilder(cost.NewRates("EUR", nil), calendar.Standard, asOf)
	b.Budget(cost.Line{Amount: 1_000_00, Currency: "EUR", Month: asOf.Month()})
	b.Post(cost.Posting{Date: asOf - 1, Amount: 300_00, Currency: "EUR"})
	b.Forecast(cost.Line{Amount: 800_00, Currency: "EUR", Month: asOf.Month() + 1})
	p := &measure.Project{Info: measure.Info{Code: "A", Status: measure.Open}, Account: b.Account()}
	measure.Assess(p, measure.Env{AsOf: asOf, Currency: "EUR", Calendar: calendar.Standard, Tolerances: health.Defaults()})
	for _, key := range []measure.Key{measure.BAC, measure.AC, measure.EAC, measure.VAC, measure.EV} {
		fmt.Println(key, p.Value(key).Text(measure.Money, "EUR"), p.Value(key).Known)
	}
	// Output:
	// bac 1000.00 true
	// ac 300.00 true
	// eac 1100.00 true
	// vac -100.00 true
	// ev  false
}
