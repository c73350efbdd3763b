package benefit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// What was achieved stands once the month has begun, then the forecast, then the plan; an achieved or forecast nought is one.
func TestOutlook(t *testing.T) {
	day := calendar.On(2026, 10, 1)
	now := day.Month()
	for want, b := range map[money.Amount]benefit.Benefit{
		10: {Month: now, Planned: 10},
		20: {Month: now, Planned: 10, Forecast: 20, Expects: true},
		30: {Month: now, Planned: 10, Forecast: 20, Achieved: 30, Expects: true, Counted: true},
		21: {Month: now + 1, Planned: 10, Forecast: 21, Achieved: 30, Expects: true, Counted: true},
		0:  {Month: now - 1, Planned: 10, Counted: true},
	} {
		assert.Equal(t, want, b.Outlook(day))
	}
}
