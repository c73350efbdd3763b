package measure

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
)

// The forecast stands for what is to come; without one the budget after the as-of date does, not that before it. A missing plan rate
// leaves undefined only what needs it.
func TestWhatBenefitsAreSetAgainst(t *testing.T) {
	p := project("P", 1000, 200, 700)
	sums := func() []int64 {
		c, why := CaseOf(p)
		assert.Empty(t, why)
		var all []int64
		for _, a := range c.Costs.By {
			if a != 0 {
				all = append(all, int64(a)/100)
			}
		}
		return all
	}
	p.Benefits = []benefit.Benefit{{Code: "B", Month: on("2026-12-01").Month(), Planned: 900_00}}
	p.Gains = Gains{Counted: 1, Planned: 900_00, Outlook: 900_00}
	p.Gains.Flow.Add(on("2026-12-01").Month(), 900_00)
	assert.Equal(t, []int64{200, 700}, sums())
	Assess(p, env)
	assert.Equal(t, "2026-12", p.Value(Payback).Text(Month, ""), "900 for 900")

	b := cost.NewBuilder(someRates, calendar.Standard, env.AsOf)
	b.Post(cost.Posting{Date: on("2026-05-05"), Amount: 200_00, Currency: "EUR"})
	b.Budget(cost.Line{Amount: 500_00, Currency: "EUR", Month: on("2026-10-01").Month()})
	b.Budget(cost.Line{Amount: 300_00, Currency: "EUR", Month: on("2026-11-01").Month()})
	p.Account = b.Account()
	assert.Equal(t, []int64{200, 300}, sums())
	b.Budget(cost.Line{Amount: 1_00, Currency: "CHF", Month: on("2026-11-01").Month()})
	p.Account = b.Account()
	Assess(p, env)
	assert.Contains(t, p.Value(NPV).Reason, "CHF")
	assert.True(t, p.Value(BenefitPlanned).Known)
	p.Benefits[0].Unit, p.Gains.Counted = "boats", 0
	Assess(p, env)
	assert.Equal(t, "no benefits in money", p.Value(BenefitPlanned).Reason)
	assert.Equal(t, "no benefits in money", p.Value(Payback).Reason)
}
