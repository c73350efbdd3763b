package judge

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/calendar"
)

// About a month, a quarter, half a year and a year, in periods of each kind.
func TestHowFarBackForecastsAreLookedAt(t *testing.T) {
	for cycle, days := range map[calendar.Cycle]float64{calendar.Months: 30.44, calendar.Weeks: 7, calendar.FourWeeksFrom(1): 28} {
		for i, n := range before(cycle) {
			assert.InDelta(t, []float64{30, 91, 182, 365}[i], float64(n)*days, 16, "%v", n)
		}
	}
}
