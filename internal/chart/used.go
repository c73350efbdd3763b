package chart

import (
	"fmt"

	"turret/internal/core/write"
	"turret/internal/scene"
)

// Used draws the share of the budget that is spent over the share of the time that has passed, both up to one and a quarter.
func Used(spent, passed float64, known bool) *scene.Scene {
	const w, h, most = 96.0, 18.0, 1.25
	s := scene.New(w, h, fmt.Sprintf("%s of the budget spent, %s of the time passed", write.Percent(spent, 1), write.Percent(passed, 1)))
	x := func(v float64) float64 { return min(max(v, 0), most) / most * w }
	s.Rect("band", 0, 1, x(1), h-2)
	if known {
		class := "work-done"
		if spent > passed+0.1 {
			class = "watch"
		}
		s.Rect(class, 0, 3, x(spent), 5)
	}
	s.Rect("ghost", 0, 10, x(passed), 5)
	s.Line("axis", x(1), 0, x(1), h)
	return s
}
