package chart

import (
	"math"

	"turret/internal/scene"
)

// FrontierPoint is the best value at a budget.
type FrontierPoint struct{ Budget, Value float64 }

// FrontierOptions say how large a frontier is drawn and how its numbers are written.
type FrontierOptions struct {
	W, H          float64
	Budget, Value func(float64) string
}

// Frontier draws the best value over the budget, as steps, since a little more money buys nothing until it buys one more, and where a
// choice stands.
func Frontier(points []FrontierPoint, now FrontierPoint, opt FrontierOptions) *scene.Scene {
	s := scene.New(opt.W, opt.H, "Best value at each budget")
	if len(points) == 0 {
		return s
	}
	const left, top, right, low = 58.0, 16.0, 18.0, 40.0
	last := points[len(points)-1]
	most, bottom := now.Value, math.Min(0, now.Value)
	for _, p := range points {
		most, bottom = math.Max(most, p.Value), math.Min(bottom, p.Value)
	}
	if most == bottom {
		most = bottom + 1
	}
	width := math.Max(math.Max(last.Budget, now.Budget), 1)
	x := func(v float64) float64 { return left + v/width*(opt.W-left-right) }
	y := func(v float64) float64 { return opt.H - low - (v-bottom)/(most-bottom)*(opt.H-low-top) }
	for n := 0.0; n <= width; n += step(width, 4) {
		s.Line("grid", x(n), top, x(n), opt.H-low)
		s.Text("label-soft", x(n), opt.H-low+16, scene.Middle, opt.Budget(n))
	}
	for n := 0.0; n <= most-bottom; n += step(most-bottom, 4) {
		s.Line("grid", left, y(bottom+n), opt.W-right, y(bottom+n))
		s.Text("label-soft", left-8, y(bottom+n)+4, scene.End, opt.Value(bottom+n))
	}
	var line []float64
	for i, p := range points {
		if i > 0 {
			line = append(line, x(p.Budget), y(points[i-1].Value))
		}
		line = append(line, x(p.Budget), y(p.Value))
	}
	s.Polyline("actual", line...)
	s.Text("label-soft", opt.W-right, opt.H-6, scene.End, "budget of what is chosen, all years")
	s.Text("label-soft", left+4, top+8, scene.Start, "best value")
	s.Group("point", "chosen: "+opt.Value(now.Value)+" for "+opt.Budget(now.Budget), "", func() {
		s.Circle("now", x(now.Budget),
			y(now.Value), 5.5)
	})
	anchor, dx, dy := scene.End, -10.0, -6.0 // where a rising line leaves room
	if x(now.Budget) < opt.W*0.3 {
		anchor, dx, dy = scene.Start, 10, 16
	}
	s.Text("label-bold", x(now.Budget)+dx, y(now.Value)+dy, anchor, "chosen")
	return s
}
