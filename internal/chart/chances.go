package chart

import (
	"fmt"
	"math"
	"slices"

	"turret/internal/core/health"
	"turret/internal/scene"
)

// ChanceMark is a value that runs are held against, with its name.
type ChanceMark struct {
	At         float64
	Text, Look string
}

// ChancesOptions say how the outcomes of runs are drawn: of days where Days is set, else of amounts.
type ChancesOptions struct {
	W, H  float64
	Title string
	Text  func(float64) string
	Marks []ChanceMark
}

// Chances draws how many of the runs came out where: a fan from the tenth to the ninetieth percentile around the median, the runs as bars
// above it, and what they are held against. The values ascend.
func Chances(values []float64, opt ChancesOptions) *scene.Scene {
	s := scene.New(opt.W, opt.H, opt.Title)
	if len(values) == 0 {
		return s
	}
	d := &chances{Scene: s, values: values, opt: opt, left: 12, right: opt.W - 12, top: 34, bottom: opt.H - 40}
	d.low, d.high = d.at(1), d.at(99)
	for _, m := range opt.Marks {
		d.low, d.high = min(d.low, m.At), max(d.high, m.At)
	}
	if d.high <= d.low {
		d.low, d.high = d.low-1, d.high+1
	}
	air := 0.04 * (d.high - d.low)
	d.low, d.high = d.low-air, d.high+air
	d.bars()
	d.fan()
	d.marks()
	return s
}

type chances struct {
	*scene.Scene
	values                   []float64
	opt                      ChancesOptions
	left, right, top, bottom float64
	low, high                float64
}

func (d *chances) at(p int) float64 { return d.values[max((p*len(d.values)+99)/100-1, 0)] }

func (d *chances) x(v float64) float64 {
	return d.left + (min(max(v, d.low), d.high)-d.low)/(d.high-d.low)*(d.right-d.left)
}

// bars counts the runs by sixty parts of the axis.
func (d *chances) bars() {
	const parts = 60
	var count [parts]int
	for _, v := range d.values {
		if v >= d.low && v <= d.high {
			count[min(int((v-d.low)/(d.high-d.low)*parts), parts-1)]++
		}
	}
	most := float64(slices.Max(count[:]))
	w := (d.right - d.left) / parts
	for i, n := range count {
		if n > 0 {
			h := float64(n) / most * (d.bottom - d.top - 18)
			d.Rect("chance", d.left+float64(i)*w+0.5, d.bottom-14-h, w-1, h)
		}
	}
}

// fan draws the range from P10 to P90, darker up to P80, with the median.
func (d *chances) fan() {
	y := d.bottom - 10
	d.Group("", fmt.Sprintf("P10 %s, P50 %s, P80 %s, P90 %s", d.opt.Text(d.at(10)), d.opt.Text(d.at(50)), d.opt.Text(d.at(80)),
		d.opt.Text(d.at(90))), "", func() {
		d.Rect("fan", d.x(d.at(10)), y, math.Max(d.x(d.at(90))-d.x(d.at(10)), 1), 10)
		d.Rect("fan core", d.x(d.at(10)), y, math.Max(d.x(d.at(80))-d.x(d.at(10)), 1), 10)
		d.Line("median", d.x(d.at(50)), y-4, d.x(d.at(50)), y+14)
	})
	d.Text("label-soft", d.x(d.at(10)), y+26, scene.Middle, "P10")
	if d.x(d.at(50))-d.x(d.at(10)) > 30 {
		d.Text("label", d.x(d.at(50)), y+26, scene.Middle, "P50 "+d.opt.Text(d.at(50)))
	}
	if d.x(d.at(80))-d.x(d.at(50)) > 84 {
		d.Text("label-soft", d.x(d.at(80)), y+26, scene.Middle, "P80")
	}
	d.Line("axis", d.left, d.bottom, d.right, d.bottom)
}

// marks draws what runs are held against, the names one above the other where they meet.
func (d *chances) marks() {
	list := slices.SortedFunc(slices.Values(d.opt.Marks), func(a, b ChanceMark) int {
		switch {
		case a.At < b.At:
			return -1
		case a.At > b.At:
			return 1
		}
		return 0
	})
	row, end := 0, math.Inf(-1)
	for _, m := range list {
		x := d.x(m.At)
		if x < end {
			row++
		} else {
			row = 0
		}
		d.Line(m.Look, x, d.top-18+11*float64(row), x, d.bottom)
		anchor := scene.Start
		at := x + 4
		if x > d.right-150 {
			anchor, at = scene.End, x-4
		}
		d.Text("label-soft", at, d.top-20+11*float64(row)+9, anchor, m.Text)
		end = x + 6.2*float64(len(m.Text))
	}
}

// Foreseen is the mark of a status that is predicted: its outline over the horizon, drawn as dots.
func Foreseen(status health.Status, h float64) *scene.Scene {
	s := scene.New(h*0.95+3, h+5, "")
	pennant(s, 1.5, h+1, h, status, true)
	for i := range 4 {
		s.Circle(Class(status), 2.5+float64(i)*h*0.28, h+3.4, 0.9)
	}
	return s
}
