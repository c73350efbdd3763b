package app

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
)

// At each bound of a condition's work it is computed, and one step beyond it is not.
func TestStepsAtTheirLimits(t *testing.T) {
	assert.NoError(t, (&work{most: maxRunSteps}).take(maxSteps))
	assert.ErrorIs(t, (&work{most: maxRunSteps}).take(maxSteps+1), errLong, "of one record")
	w := &work{most: 10}
	require.NoError(t, w.take(4))
	require.NoError(t, w.take(6))
	assert.ErrorIs(t, w.take(1), errLong, "of all records")
}

// A text of a thousand letters is a pattern of a thousand steps; a?, [a-c] and a{3,} are 2, 1 and 8 of them, counted by hand.
func TestSizeOfPatterns(t *testing.T) {
	for pattern, want := range map[string]int{strings.Repeat("a", maxPattern): maxPattern, "": 1, "a": 1, "a?": 2, "[a-c]": 1, "a{3,}": 8,
		"(ab){2,5}": 20, "(": 0} {
		assert.Equal(t, want, patternSize(pattern), pattern)
	}
	for n, ok := range map[int]bool{maxPattern: true, maxPattern + 1: false} {
		_, err := Compile(`name matches "`+strings.Repeat("a", n)+`"`, "project")
		assert.Equal(t, ok, err == nil, n)
	}
}

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

// About a month, a quarter, half a year and a year, in periods of each kind.
func TestHowFarBackForecastsAreLookedAt(t *testing.T) {
	for cycle, days := range map[calendar.Cycle]float64{calendar.Months: 30.44, calendar.Weeks: 7, calendar.FourWeeksFrom(1): 28} {
		for i, n := range before(cycle) {
			assert.InDelta(t, []float64{30, 91, 182, 365}[i], float64(n)*days, 16, "%v", n)
		}
	}
}
