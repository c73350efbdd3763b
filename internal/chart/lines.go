package chart

import (
	"fmt"
	"math"

	"turret/internal/core/calendar"
	"turret/internal/scene"
)

// Line is a series of one chart. Gaps are NaN.
type Line struct {
	Name, Class string
	Values      []float64
}

// LinesOptions say how lines over periods are drawn.
type LinesOptions struct {
	W, H    float64
	Title   string
	Periods []calendar.Period
	Write   func(float64) string
	Limits  []Limit
	Middle  float64 // a value to draw a line at, where Centred
	Centred bool
}

// Limit is a level to draw across a chart.
type Limit struct {
	Name  string
	Value float64
}

// Lines draws figures over periods, each labelled where it ends.
func Lines(lines []Line, opt LinesOptions) *scene.Scene {
	s := scene.New(opt.W, opt.H, opt.Title)
	d := &linesFrame{Scene: s, opt: opt, left: 60, right: opt.W - 150, top: 14, bottom: opt.H - 24}
	if !d.span(lines) {
		return s
	}
	d.axis()
	var place placer
	for _, l := range lines {
		d.line(l, &place)
	}
	return s
}

type linesFrame struct {
	*scene.Scene
	opt                      LinesOptions
	left, right, top, bottom float64
	low, high                float64
}

// span fits the scale to what is drawn; false where there is nothing.
func (d *linesFrame) span(lines []Line) bool {
	d.low, d.high = math.Inf(1), math.Inf(-1)
	take := func(v float64) {
		if !math.IsNaN(v) && !math.IsInf(v, 0) {
			d.low, d.high = min(d.low, v), max(d.high, v)
		}
	}
	for _, l := range lines {
		for _, v := range l.Values {
			take(v)
		}
	}
	if math.IsInf(d.low, 1) {
		return false
	}
	if d.opt.Centred {
		take(d.opt.Middle)
	}
	for _, l := range d.opt.Limits {
		take(l.Value)
	}
	room := (d.high - d.low) * 0.08
	if room == 0 {
		room = max(math.Abs(d.high)*0.1, 0.01)
	}
	d.low, d.high = d.low-room, d.high+room
	return true
}

func (d *linesFrame) x(i int) float64 {
	if len(d.opt.Periods) == 1 {
		return (d.left + d.right) / 2
	}
	return d.left + float64(i)/float64(len(d.opt.Periods)-1)*(d.right-d.left)
}

func (d *linesFrame) y(v float64) float64 {
	return d.bottom - (v-d.low)/(d.high-d.low)*(d.bottom-d.top)
}

func (d *linesFrame) axis() {
	step := nice((d.high - d.low) / 4)
	for step > d.high-d.low {
		step /= 10
	}
	for v := math.Ceil(d.low/step) * step; v <= d.high; v += step {
		d.Line("grid", d.left, d.y(v), d.right, d.y(v))
		d.Text("label-soft", d.left-6, d.y(v)+4, scene.End, d.opt.Write(v+0)) // which has no sign where it is nothing
	}
	if d.opt.Centred {
		d.Line("grid-strong", d.left, d.y(d.opt.Middle), d.right, d.y(d.opt.Middle))
	}
	for _, l := range d.opt.Limits {
		d.Line("limit", d.left, d.y(l.Value), d.right, d.y(l.Value))
		d.Text("label-soft", d.left+4, d.y(l.Value)-4, scene.Start, l.Name)
	}
	every, n := 1, len(d.opt.Periods)
	if n > 1 { // as many as have room beside each other
		room := d.x(1) - d.x(0)
		for i := range d.opt.Periods {
			every = max(every, int(math.Ceil((scene.Width(d.opt.Periods[i].Brief(), 11)+6)/room)))
		}
	}
	for i, m := range d.opt.Periods {
		if (n-1-i)%every == 0 {
			d.Text("label-soft", d.x(i), d.bottom+16, scene.Middle, m.Brief())
		}
	}
}

func (d *linesFrame) line(l Line, place *placer) {
	var points []float64
	last := -1
	for i, v := range l.Values {
		if math.IsNaN(v) {
			d.Polyline(l.Class, points...)
			points = nil
			continue
		}
		points = append(points, d.x(i), d.y(v))
		last = i
	}
	d.Polyline(l.Class, points...)
	if last < 0 {
		return
	}
	for i, v := range l.Values {
		if !math.IsNaN(v) {
			d.Group("point", fmt.Sprintf("%s, %s: %s", l.Name, d.opt.Periods[i].Name(), d.opt.Write(v)), "",
				func() { d.Circle(l.Class, d.x(i), d.y(v), 2.2) })
		}
	}
	text := l.Name + " " + d.opt.Write(l.Values[last])
	for _, move := range []float64{0, 14, -14, 28, -28, 42, -42, 56, -56} {
		if at := d.y(l.Values[last]) + 4 + move; at < 12 || at > d.opt.H {
			continue // off the drawing
		}
		b := textBox(d.right+10, d.y(l.Values[last])+4+move, 12, scene.Start, text)
		if place.free(b) {
			place.take(b)
			d.Text("label", d.right+10, d.y(l.Values[last])+4+move, scene.Start, text)
			return
		}
	}
}

// Spark draws a series small, without an axis; the last value has a dot. Gaps are NaN.
func Spark(values []float64, title string) *scene.Scene {
	const w, h = 108.0, 22.0
	s := scene.New(w, h, title)
	low, high := math.Inf(1), math.Inf(-1)
	for _, v := range values {
		if !math.IsNaN(v) {
			low, high = min(low, v), max(high, v)
		}
	}
	if math.IsInf(low, 1) {
		return s
	}
	if high == low {
		low, high = low-1, high+1
	}
	x := func(i int) float64 { return 3 + float64(i)/float64(max(1, len(values)-1))*(w-8) }
	y := func(v float64) float64 { return h - 4 - (v-low)/(high-low)*(h-8) }
	var points []float64
	last := -1
	for i, v := range values {
		if math.IsNaN(v) {
			s.Polyline("actual", points...)
			points = nil
			continue
		}
		points = append(points, x(i), y(v))
		last = i
	}
	s.Polyline("actual", points...)
	if last >= 0 {
		s.Circle("now", x(last), y(values[last]), 2.6)
	}
	return s
}
