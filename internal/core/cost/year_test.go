package cost_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
)

func TestNamesOfBudgetYears(t *testing.T) {
	for _, x := range []struct {
		first calendar.Date
		want  string
	}{{calendar.On(2026, 1, 1), "2026"}, {calendar.On(2026, 4, 1), "2026/27"}, {calendar.On(1999, 7, 1), "1999/00"},
		{calendar.On(2026, 12, 1), "2026/27"}} {
		assert.Equal(t, x.want, cost.YearName(x.first.Month()))
	}
}
