package setting

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/capacity"
)

// Eight hours, full from 90 % and over above 100 % where nothing else is set.
func TestHoursAndLoad(t *testing.T) {
	s := DefaultSettings()
	assert.EqualValues(t, 80_000, s.DayHours())
	assert.Equal(t, capacity.Limits{Full: 90_00, Over: 100_00}, s.LoadLimits())
	s.StandardHours, s.LoadFull, s.LoadOver = 7.6, 0.8, 1.1
	assert.EqualValues(t, 76_000, s.DayHours())
	assert.Equal(t, capacity.Limits{Full: 80_00, Over: 110_00}, s.LoadLimits())
	assert.NoError(t, s.checkPlain())
	for _, bad := range []Settings{{StandardHours: 25}, {StandardHours: -1}, {LoadFull: 1.2}, {LoadOver: 0.5}, {LoadOver: 11}} {
		x := DefaultSettings()
		x.StandardHours, x.LoadFull, x.LoadOver = bad.StandardHours, bad.LoadFull, bad.LoadOver
		assert.Error(t, x.checkPlain(), "%+v", bad)
	}
}
