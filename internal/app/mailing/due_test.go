package mailing

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
)

// On Tuesday 3 November 2026 a list of the third of each month sends what the last period that ended came to: October, week 44, or weeks
// 41 to 44.
func TestAListOfADaySendsTheLastPeriod(t *testing.T) {
	third := calendar.On(2026, 11, 3)
	m := &Mailing{Day: 3}
	for cycle, want := range map[calendar.Cycle]string{calendar.Months: "2026-10-31", calendar.Weeks: "2026-11-01",
		calendar.FourWeeksFrom(calendar.On(2026, 10, 5)):  "2026-11-01",
		calendar.FourWeeksFrom(calendar.On(2026, 10, 12)): "2026-10-11"} {
		due := m.due(nil, third, cycle)
		require.Len(t, due, 1)
		assert.Equal(t, want, due[0].asOf.String())
		assert.Empty(t, m.due(nil, third-1, cycle), "the day before")
	}
}
