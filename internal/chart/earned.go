package chart

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/curve"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/scene"
)

// EarnedPoint is earned value at the end of a period.
type EarnedPoint struct {
	Period calendar.Period
	Value  money.Amount
}

// Estimate is an estimate at completion with its name.
type Estimate struct {
	Name  string
	Value money.Amount
}

// Estimates are those of a group that are known, as a chart names them.
func Estimates(g *measure.Group) []Estimate {
	var list []Estimate
	for _, x := range []struct {
		key  measure.Key
		name string
	}{{measure.EAC, "declared"}, {measure.EACAtBudgetRate, "at budget"}, {measure.EACByCPI, "by index"},
		{measure.EACByRecent, "by recent"}} {
		if v := g.Value(x.key); v.Known {
			list = append(list, Estimate{Name: x.name, Value: v.Amount()})
		}
	}
	return list
}

// Earned draws planned value, actual cost and earned value added up over the months, and on the right the estimates at completion with the
// range between the lowest and the highest.
func Earned(c *curve.Curve, earned []EarnedPoint, estimates []Estimate, opt CurveOptions) *scene.Scene {
	d := &drawnCurve{Scene: scene.New(opt.W, opt.H, "Planned value, earned value and actual cost, added up"), c: c, opt: opt,
		left: 76, right: opt.W - 190, top: 34, bottom: opt.H - 26, low: opt.H - 26}
	if len(c.Budget) == 0 {
		return d.Scene
	}
	d.sums()
	d.most = d.budget[len(d.budget)-1]
	if d.now > 0 {
		d.most = max(d.most, d.actual[d.now-1])
	}
	for _, e := range estimates {
		d.most = max(d.most, float64(e.Value))
	}
	for _, e := range earned {
		d.most = max(d.most, float64(e.Value))
	}
	d.most = max(d.most*1.04, 1)
	d.axis()
	d.Polyline("budget", d.path(d.budget)...)
	d.Polyline("actual", d.actuals()...)
	var points []float64
	for _, e := range earned {
		if day := min(e.Period.Last(), d.opt.AsOf); c.Holds(day) {
			points = append(points, d.day(day), d.y(float64(e.Value)))
		}
	}
	d.Polyline("earned", points...)
	for _, e := range earned {
		if day := min(e.Period.Last(), d.opt.AsOf); c.Holds(day) {
			d.Group("point", fmt.Sprintf("%s: earned %s", e.Period.Name(), e.Value.Human(opt.Currency)), "",
				func() { d.Circle("earned", d.day(day), d.y(float64(e.Value)), 2.6) })
		}
	}
	var place placer
	d.estimates(&place, estimates)
	d.here(&place, points)
	return d.Scene
}

// here labels where actual cost and earned value stand now.
func (d *drawnCurve) here(place *placer, points []float64) {
	label := func(x, y float64, text string) {
		for move := 18.0; move < 120; move += 15 {
			b := textBox(x+9, y+move, 12, scene.Start, text)
			if place.free(b) {
				place.take(b)
				d.Text("label-bold", x+9, y+move, scene.Start, text)
				return
			}
		}
	}
	if d.now > 0 {
		low := max(d.y(d.actual[d.now-1]), d.y(d.budget[d.now-1]))
		planned := "planned, thin"
		if d.opt.AsOf == d.opt.AsOf.Month().Last() { // within a month what was planned by now lies between two sums
			planned = "planned " + money.Amount(d.budget[d.now-1]).Short(d.opt.Currency) + ", thin"
		}
		label(d.day(d.opt.AsOf), low, planned)
		label(d.day(d.opt.AsOf), low, "actual "+money.Amount(d.actual[d.now-1]).Short(d.opt.Currency)+", bold")
	}
	if n := len(points); n >= 2 {
		v := (d.bottom - points[n-1]) / (d.bottom - d.top) * d.most
		label(points[n-2], points[n-1], "earned "+money.Amount(v).Short(d.opt.Currency)+", dotted")
	}
}

// endLabel is a label beside the right end of the curve, for what stands at a height.
type endLabel struct {
	class, text string
	y           float64
}

// estimates draws where the budget and the estimates end, and the range that the estimates span.
func (d *drawnCurve) estimates(place *placer, list []Estimate) {
	budget := d.budget[len(d.budget)-1]
	labels := []endLabel{{"label-bold", "budget " + money.Amount(budget).Short(d.opt.Currency), d.y(budget)}}
	d.span(list)
	for _, e := range list {
		y := d.y(float64(e.Value))
		d.Line("estimate", d.right-4, y, d.right+8, y)
		labels = append(labels, endLabel{"label-soft", e.Name + " " + e.Value.Short(d.opt.Currency), y})
	}
	d.beside(place, labels)
}

// span draws the range from what was spent to the lowest and the highest estimate.
func (d *drawnCurve) span(list []Estimate) {
	if len(list) == 0 || d.now == 0 {
		return
	}
	low, high := list[0].Value, list[0].Value
	for _, e := range list {
		low, high = min(low, e.Value), max(high, e.Value)
	}
	d.Polygon("range", d.day(d.opt.AsOf), d.y(d.actual[d.now-1]), d.right, d.y(float64(high)), d.right, d.y(float64(low)))
}

// beside puts labels to the right of the curve in the order of their heights, apart from each other, each led to where it belongs if it had
// to give way.
func (d *drawnCurve) beside(place *placer, labels []endLabel) {
	const size, gap, down = 12, 14, 4 // a baseline lies below the middle of its text
	slices.SortStableFunc(labels, func(x, y endLabel) int { return cmp.Compare(x.y, y.y) })
	at := make([]float64, len(labels))
	for i, x := range labels {
		at[i] = x.y + down
	}
	for i, y := range spaced(at, gap, size, d.opt.H-size/4) {
		x := labels[i]
		if math.Abs(y-at[i]) > 2 {
			d.Line("tie", d.right+8, x.y, d.right+13, y-down)
		}
		d.Text(x.class, d.right+14, y, scene.Start, x.text)
		place.take(textBox(d.right+14, y, size, scene.Start, x.text))
	}
}
