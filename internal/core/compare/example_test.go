package compare_test

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/compare"
	"turret/internal/core/cost"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// One project rose from 500.00 to 540.00 and another one of 100.00 came in: from 500.00 to 640.00.
func ExampleProjects() {
	env := measure.Env{AsOf: calendar.On(2026, 10, 31), Currency: "EUR", Calendar: calendar.Standard, Tolerances: health.Defaults()}
	project := func(code string, forecast money.Amount) *measure.Project {
		b := cost.NewBuilder(cost.NewRates("EUR", nil), calendar.Standard, env.AsOf)
		b.Budget(cost.Line{Amount: forecast, Currency: "EUR", Month: env.AsOf.Month()})
		b.Forecast(cost.Line{Amount: forecast, Currency: "EUR", Month: env.AsOf.Month() + 1})
		p := &measure.Project{Info: measure.Info{Code: code, Status: measure.Open}, Account: b.Account()}
		measure.Assess(p, env)
		return p
	}
	c := compare.Projects([]*measure.Project{project("A", 500_00)}, []*measure.Project{project("A", 540_00), project("B", 100_00)}, env)
	fmt.Println(c.Was.Text("EUR"))
	for _, s := range c.Bridge {
		fmt.Println(s.Name, s.Amount.Text("EUR"))
	}
	fmt.Println(c.Now.Text("EUR"))
	// Output:
	// 500.00
	// Came in 100.00
	// A 40.00
	// 640.00
}
