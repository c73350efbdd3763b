package curve

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// A curve keeps within twelve years of the day; what lies beyond stands at its ends, so that the totals stay.
func TestCurveKeepsItsTotals(t *testing.T) {
	env := measure.Env{AsOf: calendar.On(2026, 10, 31), Currency: "EUR", Calendar: calendar.Standard, Tolerances: health.Defaults()}
	b := cost.NewBuilder(cost.NewRates("EUR", nil), calendar.Standard, env.AsOf)
	for _, m := range []calendar.Month{calendar.On(1981, 3, 1).Month(), calendar.On(2026, 10, 1).Month(), calendar.On(2118, 1, 1).Month()} {
		b.Budget(cost.Line{Amount: 100, Currency: "EUR", Month: m})
		b.Forecast(cost.Line{Amount: 70, Currency: "EUR", Month: m + 1})
	}
	p := &measure.Project{Account: b.Account()}
	measure.Assess(p, env)
	c := New([]*measure.Project{p}, env)
	require.Len(t, c.Budget, 2*curveMonths+1)
	var budget, togo money.Amount
	for i := range c.Budget {
		budget += c.Budget[i]
		togo += c.ToGo[i]
	}
	assert.Equal(t, []money.Amount{300, 140}, []money.Amount{budget, togo}, "the forecast of 1981 is past")
	assert.Equal(t, money.Amount(100), c.Budget[0])
	assert.Equal(t, money.Amount(100), c.Budget[len(c.Budget)-1])
	last := c.Sums[len(c.Sums)-1]
	assert.Equal(t, Sum{Budget: 300, Actual: 0, Estimate: 140}, last)
	assert.Empty(t, New(nil, env).Budget, "nothing adds up to nothing")
}

// A curve of October to December holds the first and the last day of these and none beside them; one of nothing holds none.
func TestDaysThatACurveHolds(t *testing.T) {
	c := &Curve{First: calendar.On(2026, 10, 1).Month(), Budget: make([]money.Amount, 3)}
	for day, want := range map[calendar.Date]bool{calendar.On(2026, 9, 30): false, calendar.On(2026, 10, 1): true,
		calendar.On(2026, 12, 31): true, calendar.On(2027, 1, 1): false} {
		assert.Equal(t, want, c.Holds(day), day.String())
	}
	assert.False(t, (&Curve{}).Holds(calendar.On(2026, 10, 1)))
}
