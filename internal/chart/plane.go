package chart

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/scene"
)

// PlanePoint is where a project stood on the plane of its indices.
type PlanePoint struct {
	Period     calendar.Period
	Cost, Pace float64 // cost index, schedule index in time
}

// Plane draws the cost index over the schedule index with the path over time, on the tolerances of both: right and up is good.
func Plane(points []PlanePoint, cost, pace health.Tolerance, w, h float64) *scene.Scene {
	s := scene.New(w, h, "Cost index by schedule index over time")
	if len(points) == 0 {
		return s
	}
	const left, top, right, low = 52.0, 14.0, 14.0, 40.0
	x1, x2, y1, y2 := 0.75, 1.15, 0.75, 1.15
	for _, p := range points {
		x1, x2 = min(x1, p.Pace-0.03), max(x2, p.Pace+0.03)
		y1, y2 = min(y1, p.Cost-0.03), max(y2, p.Cost+0.03)
	}
	x1, y1, x2, y2 = max(x1, 0), max(y1, 0), min(x2, 2.5), min(y2, 2.5)
	x := func(v float64) float64 { return left + (min(max(v, x1), x2)-x1)/(x2-x1)*(w-left-right) }
	y := func(v float64) float64 { return h - low - (min(max(v, y1), y2)-y1)/(y2-y1)*(h-low-top) }
	box := func(class string, px, py float64) { s.Rect(class, x(px), top, w-right-x(px), y(py)-top) }
	box("box-watch", pace.Act, cost.Act)
	box("box-good", pace.Watch, cost.Watch)
	for v := 0.0; v <= 2.5; v += 0.1 {
		if v > x1 && v < x2 {
			s.Line("grid", x(v), top, x(v), h-low)
			s.Text("label-soft", x(v), h-low+16, scene.Middle, fmt.Sprintf("%.1f", v))
		}
		if v > y1 && v < y2 {
			s.Line("grid", left, y(v), w-right, y(v))
			s.Text("label-soft", left-8, y(v)+4, scene.End, fmt.Sprintf("%.1f", v))
		}
	}
	s.Line("axis", x(1), top, x(1), h-low)
	s.Line("axis", left, y(1), w-right, y(1))
	s.Text("label-soft", w-right, h-6, scene.End, "schedule index in time: faster to the right")
	s.Text("label-soft", left+4, top+12, scene.Start, "cost index: cheaper upwards")
	var path []float64
	for _, p := range points {
		path = append(path, x(p.Pace), y(p.Cost))
	}
	s.Polyline("path", path...)
	for i, p := range points {
		class, r := "then", 2.6
		if i == len(points)-1 {
			class, r = "now", 5
		}
		s.Group("point", fmt.Sprintf("%s: cost index %.2f, schedule index %.2f", p.Period.Name(), p.Cost, p.Pace), "",
			func() { s.Circle(class, x(p.Pace), y(p.Cost), r) })
	}
	first, last := points[0], points[len(points)-1]
	s.Text("label-bold", x(last.Pace)+9, y(last.Cost)+4, scene.Start, last.Period.Short())
	if len(points) > 1 {
		s.Text("label-soft", x(first.Pace)+7, y(first.Cost)-6, scene.Start, first.Period.Brief())
	}
	return s
}
