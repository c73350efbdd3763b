package setting

import (
	"math"

	"turret/internal/core/capacity"
	"turret/internal/core/cost"
)

// DayHours are the hours of a working day of the organisation, in ten-thousandths.
func (s *Settings) DayHours() int64 {
	if s.StandardHours > 0 {
		return int64(math.Round(s.StandardHours * cost.HourUnits))
	}
	return 8 * cost.HourUnits
}

// LoadLimits say from when on somebody is full, and from when on over.
func (s *Settings) LoadLimits() capacity.Limits {
	l := capacity.StandardLimits
	if s.LoadFull > 0 {
		l.Full = int64(math.Round(s.LoadFull * 10_000))
	}
	if s.LoadOver > 0 {
		l.Over = int64(math.Round(s.LoadOver * 10_000))
	}
	return l
}
