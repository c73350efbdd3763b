package chart

import (
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/scene"
)

// Bills draws what is to be billed month by month, pale, and what was billed before it.
func Bills(first calendar.Month, planned, billed []money.Amount, asOf calendar.Date, currency money.Currency, w, h float64) *scene.Scene {
	s := scene.New(w, h, "Revenue by month: planned and billed")
	n := len(planned)
	if n == 0 {
		return s
	}
	most := 1.0
	for i := range planned {
		most = max(most, float64(planned[i]), float64(billed[i]))
	}
	left, right, top, bottom := 76.0, w-16, 14.0, h-24
	y := func(v float64) float64 { return bottom - max(v, 0)/most*(bottom-top) }
	step := nice(most / 3)
	for v := step; v <= most; v += step {
		s.Line("grid", left, y(v), right, y(v))
		s.Text("label-soft", left-8, y(v)+4, scene.End, money.Amount(v).Short(currency))
	}
	width := (right - left) / float64(n)
	every := max(1, n/16)
	for i := range planned {
		x, m := left+float64(i)*width, first+calendar.Month(i)
		s.Group("month", m.Name()+": planned "+planned[i].Human(currency)+", billed "+billed[i].Human(currency), "", func() {
			s.Rect("baseline", x+width*0.08, y(float64(planned[i])), width*0.84, bottom-y(float64(planned[i])))
			if billed[i] > 0 {
				s.Rect("work-done", x+width*0.24, y(float64(billed[i])), width*0.52, bottom-y(float64(billed[i])))
			}
		})
		if i%every == 0 {
			text := m.Short()
			if i == 0 || int(m)%12 < every {
				text += " " + m.String()[2:4]
			}
			s.Text("label-soft", x+width/2, bottom+15, scene.Middle, text)
		}
		if m == asOf.Month() {
			s.Line("asof", x+width, top-6, x+width, bottom)
		}
	}
	s.Line("axis", left, bottom, right, bottom)
	return s
}
