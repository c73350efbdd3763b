package gather_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Actual costs are due four working days after the end of October, a Saturday: on Thursday 5 November. On that day they are not overdue.
func TestAnInputIsOverdueTheDayAfterItWasDue(t *testing.T) {
	o := apptest.House(t)
	overdue := func(today calendar.Date) (late bool, due calendar.Date, n int) {
		m, err := o.Gather.Matrix(apptest.Ctx, apptest.October, today)
		require.NoError(t, err)
		for _, s := range m.Rows[0].Slots {
			if s.Kind == record.Actuals {
				late, due = s.Overdue, s.Due
			}
		}
		return late, due, m.Overdue
	}
	late, due, n := overdue(calendar.On(2026, 11, 5))
	assert.Equal(t, "2026-11-05", due.String())
	assert.False(t, late, "on the day itself")
	assert.Equal(t, 2, n, "only the schedules of both, due on the 4th")
	late, _, n = overdue(calendar.On(2026, 11, 6))
	assert.True(t, late)
	assert.Equal(t, 4, n, "the rest is due today")
}
