package forecast_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"turret/internal/core/forecast"
)

// By hand: 1.00, 0.99, 0.98, 0.97 falls by 0.01 a period; from 0.97 the limit of 0.95 is met after two and crossed in the third.
func TestACrossingByHand(t *testing.T) {
	c, ok := forecast.CreepTo([]float64{1.2, 1.00, 0.99, 0.98, 0.97}, 0.955, false)
	assert.True(t, ok)
	assert.InDelta(t, -0.01, c.Slope, 1e-12)
	assert.Equal(t, 2, c.Periods)
	// By least squares through 0, 1, 3, 4: the mean of x is 1.5 and of y 2, slope (−1.5·−2 + −0.5·−1 + 0.5·1 + 1.5·2) / 5 = 1.4; from 4
	// to 9 is 3.57 periods.
	c, ok = forecast.CreepTo([]float64{0, 1, 3, 4}, 9, true)
	assert.True(t, ok)
	assert.InDelta(t, 1.4, c.Slope, 1e-12)
	assert.Equal(t, 4, c.Periods)
}

func TestWhatIsNoCreep(t *testing.T) {
	for name, c := range map[string]struct {
		values []float64
		limit  float64
		up     bool
	}{
		"too few values":   {[]float64{0.99, 0.98, 0.97}, 0.95, false},
		"one step back":    {[]float64{1, 0.98, 0.99, 0.97}, 0.95, false},
		"standing still":   {[]float64{1, 1, 0.99, 0.98}, 0.95, false},
		"away from it":     {[]float64{0.96, 0.97, 0.98, 0.99}, 0.95, false},
		"crossed already":  {[]float64{0.97, 0.96, 0.95, 0.94}, 0.95, false},
		"far away":         {[]float64{1.003, 1.002, 1.001, 1.0}, 0.95, false},
		"a value missing":  {[]float64{1, 0.99, math.NaN(), 0.97}, 0.95, false},
		"the last missing": {[]float64{1, 0.99, 0.98, math.NaN()}, 0.95, false},
	} {
		_, ok := forecast.CreepTo(c.values, c.limit, c.up)
		assert.False(t, ok, name)
	}
}

// Whatever moves steadily up moves steadily down in the mirror, and crosses in the same period.
func TestUpAndDownAreMirrored(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		values := rapid.SliceOfN(rapid.Float64Range(-10, 10), 4, 8).Draw(t, "values")
		limit := rapid.Float64Range(-10, 10).Draw(t, "limit")
		mirror := make([]float64, len(values))
		for i, v := range values {
			mirror[i] = -v
		}
		up, okUp := forecast.CreepTo(values, limit, true)
		down, okDown := forecast.CreepTo(mirror, -limit, false)
		assert.Equal(t, okUp, okDown)
		assert.Equal(t, up.Periods, down.Periods)
		if okUp {
			assert.Positive(t, up.Slope)
			assert.LessOrEqual(t, values[len(values)-1]+float64(up.Periods-1)*up.Slope, limit+1e-9,
				"before the period of crossing it holds")
		}
	})
}
