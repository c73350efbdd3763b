// Package chart draws Turret's own charts on scenes: pennants, deviation bars, the sighting plot and the strip.
package chart

import (
	"turret/internal/core/health"
	"turret/internal/core/schedule"
	"turret/internal/scene"
)

// Class is the look of a status.
func Class(s health.Status) string {
	return [...]string{"none", "on-track", "watch", "act"}[s]
}

// pennant draws the mark of a status with its staff's foot at x and y, h high: a level bar, a triangle on a short staff, a
// swallow-tail, or an empty outline. An outlined one is what was declared.
func pennant(s *scene.Scene, x, y, h float64, status health.Status, outlined bool) {
	shape(s, Worn(status, outlined), x, y, h, status)
}

// Worn is the look of a status, or of its outline.
func Worn(status health.Status, outlined bool) string {
	if outlined {
		return Class(status) + " outlined"
	}
	return Class(status)
}

func shape(s *scene.Scene, class string, x, y, h float64, status health.Status) {
	w := h * 0.95
	switch status {
	case health.OnTrack:
		s.Rect(class, x, y-h*0.68, w, h*0.38)
	case health.Watch:
		s.Line(class, x, y, x, y-h)
		s.Polygon(class, x, y-h, x+w, y-h*0.66, x, y-h*0.32)
	case health.Act:
		s.Line(class, x, y, x, y-h)
		s.Polygon(class, x, y-h, x+w, y-h, x+w*0.7, y-h*0.66, x+w, y-h*0.32, x, y-h*0.32)
	default:
		s.Rect(class, x, y-h*0.75, w, h*0.5)
	}
}

// Pennant is the mark alone, for print.
func Pennant(status health.Status, h float64, outlined bool) *scene.Scene {
	s := scene.New(h*0.95+3, h+2, "")
	pennant(s, 1.5, h+1, h, status, outlined)
	return s
}

// SymbolHeight is how high the shapes of a Symbol are.
const SymbolHeight = 100.0

// Symbol is the mark of a status as a page draws it once and calls it by name from wherever one flies: the foot of its staff stands at
// zero,
// and its colours are those of where it is called. A hatched one is that of a status that does not count yet.
func Symbol(status health.Status, hatched bool) *scene.Scene {
	s := scene.New(0, 0, "")
	shape(s, "flown", 0, 0, SymbolHeight, status)
	if hatched {
		const w = SymbolHeight * 0.95
		for i := range 3 {
			x := w * (0.12 + 0.26*float64(i))
			s.Line("flown", x, -SymbolHeight*0.44, x+w*0.16, -SymbolHeight*0.86)
		}
	}
	return s
}

// Room draws how far a value is from its limits: the act limit stands at four fifths, the watch limit where it lies on the way there.
func Room(share, watch float64, status health.Status) *scene.Scene {
	const w, h, act = 120.0, 14.0, 0.8
	s := scene.New(w, h, "")
	x := func(v float64) float64 { return min(max(v, 0), 1/act) * act * w }
	s.Rect("band", 0, 3, x(1), h-6)
	s.Rect(Class(status), 0, 4, max(1, x(share)), h-8)
	s.Line("tick", x(watch), 1, x(watch), h-1)
	s.Line("axis", x(1), 0, x(1), h)
	return s
}

// StateStatus is the pennant that a milestone to come flies.
func StateStatus(s schedule.State) health.Status {
	switch s {
	case schedule.Missed:
		return health.Act
	case schedule.Slipping, schedule.DoneLate:
		return health.Watch
	case schedule.NoBaseline:
		return health.NotAssessed
	}
	return health.OnTrack
}

// DeviationBar draws a value from zero over its tolerance band: the band reaches to the watch limit either
// way. Values beyond the scale end in a notch.
func DeviationBar(value, scale, limit float64, status health.Status) *scene.Scene {
	const w, h, mid = 76.0, 16.0, 38.0
	s := scene.New(w, h, "")
	x := func(v float64) float64 { return mid + max(-1, min(1, v/scale))*(mid-2) }
	s.Rect("band", min(mid, x(-limit)), 2, x(limit)-x(-limit), h-4)
	from, to := min(mid, x(value)), max(mid, x(value))
	s.Rect(Class(status), from, 5, max(1.2, to-from), 6)
	s.Line("tick", mid, 1, mid, h-1)
	if value > scale || value < -scale {
		end := x(value)
		s.Line("cut", end-3*sgn(value), 4, end-1*sgn(value), 12)
	}
	return s
}

func sgn(v float64) float64 {
	if v < 0 {
		return -1
	}
	return 1
}
