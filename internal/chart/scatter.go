package chart

import (
	"math"

	"turret/internal/scene"
)

// ScatterOptions say how large a scatter is drawn, what its axes tell, and which limits are drawn across it.
type ScatterOptions struct {
	W, H             float64
	XName, YName     string
	XText, YText     func(float64) string
	XLimits, YLimits []float64
}

// Scatter draws projects by two figures, which stand in the Finish and the Cost of a sight; its weight is the area, its status the mark.
// Codes are
// written where they meet nothing; a hover tells the others.
func Scatter(list []Sight, opt ScatterOptions) *scene.Scene {
	s := scene.New(opt.W, opt.H, opt.YName+" by "+opt.XName)
	f := scatterFrame(list, &opt)
	f.axes(s, &opt)
	heaviest := 0.0
	for _, p := range list {
		heaviest = max(heaviest, p.Weight)
	}
	var place placer
	radius := make([]float64, len(list))
	for i, p := range list {
		radius[i] = 4
		if heaviest > 0 {
			radius[i] = 3 + 11*math.Sqrt(max(0, p.Weight)/heaviest)
		}
		x, y := f.x(p.Finish), f.y(p.Cost)
		place.take(box{x - radius[i], y - radius[i], x + radius[i], y + radius[i]})
	}
	for i := len(list) - 1; i >= 0; i-- {
		p, r := list[i], radius[i]
		if unnamed(list, &p) {
			s.Circle(Class(p.Status), f.x(p.Finish), f.y(p.Cost), r)
			continue
		}
		s.Group("sight", p.Title, p.Href, func() { s.Circle(Class(p.Status), f.x(p.Finish), f.y(p.Cost), r) })
	}
	for i, p := range list {
		f.label(s, &place, p, radius[i])
	}
	return s
}

// scatterFrame fits a frame to points and limits, with some air.
func scatterFrame(list []Sight, opt *ScatterOptions) *frame {
	f := &frame{left: 64, top: 22, right: opt.W - 14, bottom: opt.H - 40}
	var xs, ys []float64
	for _, p := range list {
		xs, ys = append(xs, p.Finish), append(ys, p.Cost)
	}
	f.x1, f.x2 = spanOf(append(xs, opt.XLimits...))
	f.y1, f.y2 = spanOf(append(ys, opt.YLimits...))
	return f
}

// spanOf is from the least to the most of some numbers, with air, and never nothing.
func spanOf(list []float64) (low, high float64) {
	if len(list) == 0 {
		return 0, 1
	}
	low, high = list[0], list[0]
	for _, v := range list {
		low, high = min(low, v), max(high, v)
	}
	air := 0.06 * (high - low)
	if air == 0 {
		air = max(math.Abs(low)*0.1, 0.5)
	}
	return low - air, high + air
}

func (f *frame) axes(s *scene.Scene, opt *ScatterOptions) {
	s.Line("axis", f.left, f.bottom, f.right, f.bottom)
	s.Line("axis", f.left, f.top, f.left, f.bottom)
	dx, dy := step(f.x2-f.x1, 6), step(f.y2-f.y1, 6)
	for v := math.Ceil(f.x1/dx) * dx; v <= f.x2; v += dx {
		s.Line("grid", f.x(v), f.top, f.x(v), f.bottom)
		s.Text("label-soft", f.x(v), f.bottom+16, scene.Middle, opt.XText(v))
	}
	for v := math.Ceil(f.y1/dy) * dy; v <= f.y2; v += dy {
		s.Line("grid", f.left, f.y(v), f.right, f.y(v))
		s.Text("label-soft", f.left-6, f.y(v)+4, scene.End, opt.YText(v))
	}
	for _, v := range opt.XLimits {
		s.Line("limit", f.x(v), f.top, f.x(v), f.bottom)
	}
	for _, v := range opt.YLimits {
		s.Line("limit", f.left, f.y(v), f.right, f.y(v))
	}
	s.Text("label-soft", f.left, f.top-8, scene.Start, "↑ "+opt.YName)
	s.Text("label-soft", f.right, f.bottom+34, scene.End, opt.XName+" →")
}
