package chart

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/curve"
	"turret/internal/core/money"
	"turret/internal/scene"
)

// CurveOptions say how a cost curve is drawn.
type CurveOptions struct {
	W, H     float64
	AsOf     calendar.Date
	Currency money.Currency
	Href     func(calendar.Month) string // leads to what a month is made of
}

// Curve draws budget, actual cost and forecast added up month by month, with the tolerance around the budget, what is ordered, and
// the estimate of the trend; the months themselves stand as bars below.
func Curve(c *curve.Curve, opt CurveOptions) *scene.Scene {
	d := &drawnCurve{Scene: scene.New(opt.W, opt.H, "Cost over time: budget, actual cost and forecast, added up"), c: c, opt: opt,
		left: 76, right: opt.W - 200, top: 16, bottom: opt.H - 118, low: opt.H - 22}
	if len(c.Budget) == 0 {
		return d.Scene
	}
	d.sums()
	d.axis()
	d.band()
	d.bars()
	d.lines()
	d.ends()
	d.hits()
	return d.Scene
}

type drawnCurve struct {
	*scene.Scene
	c                             *curve.Curve
	opt                           CurveOptions
	budget, actual, estimate      []float64 // added up to the end of each month, minor units
	now                           int       // months that have an actual cost: those up to the as-of date
	top, bottom, low, left, right float64
	most, tall                    float64
}

func (d *drawnCurve) sums() {
	n := len(d.c.Budget)
	d.now = min(n, max(0, int(d.opt.AsOf.Month()-d.c.First)+1))
	for i, sum := range d.c.Sums {
		d.budget = append(d.budget, float64(sum.Budget))
		if i < d.now {
			d.actual = append(d.actual, float64(sum.Actual))
		}
		d.estimate = append(d.estimate, float64(sum.Estimate))
		d.most = max(d.most, float64(sum.Budget)*(1+d.c.Tolerance[1]), float64(sum.Estimate))
		d.tall = max(d.tall, float64(d.c.Budget[i]), float64(d.c.Actual[i]+d.c.ToGo[i]))
	}
	if d.now > 0 {
		d.most = max(d.most, d.actual[d.now-1]+float64(d.c.Commitments))
	}
	if d.c.Statistical.Given {
		d.most = max(d.most, float64(d.c.Statistical.N))
	}
	d.most, d.tall = max(d.most, 1), max(d.tall, 1)
}

// x is the end of the ith month; that of -1 is where the first begins.
func (d *drawnCurve) x(i int) float64 {
	return d.left + float64(i+1)/float64(len(d.c.Budget))*(d.right-d.left)
}

// day is the end of a day, within what is drawn.
func (d *drawnCurve) day(day calendar.Date) float64 {
	m := day.Month()
	part := float64(day-m.First()+1) / float64(m.Last()-m.First()+1)
	return min(max(d.left, d.left+(float64(m-d.c.First)+part)/float64(len(d.c.Budget))*(d.right-d.left)), d.right)
}

func (d *drawnCurve) y(v float64) float64 { return d.bottom - v/d.most*(d.bottom-d.top) }

func (d *drawnCurve) axis() {
	step := nice(d.most / 5)
	for v := 0.0; v <= d.most; v += step {
		d.Line("grid", d.left, d.y(v), d.right, d.y(v))
		d.Text("label-soft", d.left-8, d.y(v)+4, scene.End, money.Amount(v).Short(d.opt.Currency))
	}
	every := max(1, len(d.c.Budget)/14)
	for i := range d.c.Budget {
		m := d.c.First + calendar.Month(i)
		if i%every == 0 {
			d.Text("label-soft", (d.x(i-1)+d.x(i))/2, d.low+15, scene.Middle, m.Short()+
				map[bool]string{true: " " + m.String()[2:4]}[i == 0 || int(m)%12 < every])
		}
		if int(m)%12 == 0 {
			d.Line("grid-strong", d.x(i-1), d.top, d.x(i-1), d.low)
		}
	}
	d.Line("axis", d.left, d.bottom, d.right, d.bottom)
	d.Line("axis", d.left, d.low, d.right, d.low)
	if d.now > 0 && d.now <= len(d.c.Budget) {
		d.Line("asof", d.day(d.opt.AsOf), d.top-8, d.day(d.opt.AsOf), d.low)
		d.Text("label-asof", d.day(d.opt.AsOf)-5, d.top, scene.End, "as of "+d.opt.AsOf.Human())
	}
}

// nice is a step of 1, 2 or 5 times a power of ten of about v.
func nice(v float64) float64 {
	p := 1.0
	for p*10 <= v {
		p *= 10
	}
	for _, m := range []float64{1, 2, 5, 10} {
		if m*p >= v {
			return m * p
		}
	}
	return 10 * p
}

func (d *drawnCurve) path(list []float64) []float64 {
	points := []float64{d.x(-1), d.y(0)}
	for i, v := range list {
		points = append(points, d.x(i), d.y(v))
	}
	return points
}

// actuals is the path of actual cost, which ends on the as-of date.
func (d *drawnCurve) actuals() []float64 {
	points := d.path(d.actual)
	if d.now > 0 {
		points[2*d.now] = d.day(d.opt.AsOf)
	}
	return points
}

func (d *drawnCurve) band() {
	t := d.c.Tolerance[0]
	points := []float64{d.x(-1), d.y(0)}
	for i, v := range d.budget {
		points = append(points, d.x(i), d.y(v*(1+t)))
	}
	for i := len(d.budget) - 1; i >= 0; i-- {
		points = append(points, d.x(i), d.y(d.budget[i]*(1-t)))
	}
	d.Polygon("curve-band", points...)
}

func (d *drawnCurve) lines() {
	d.Polyline("budget", d.path(d.budget)...)
	d.Polyline("actual", d.actuals()...)
	from := max(0, d.now-1)
	var ahead []float64
	if d.now == 0 {
		ahead = append(ahead, d.x(-1), d.y(0))
	}
	if day := d.opt.AsOf; d.now > 0 && day < day.Month().Last() {
		ahead = append(ahead, d.day(day), d.y(d.actual[from]))
	}
	for i := from; i < len(d.estimate); i++ {
		ahead = append(ahead, d.x(i), d.y(d.estimate[i]))
	}
	d.Polyline("forecast", ahead...)
	if d.now == 0 {
		return
	}
	x, a := d.day(d.opt.AsOf), d.actual[d.now-1]
	if d.c.Statistical.Given {
		d.Polyline("trend", d.trend(x, a)...)
	}
	if d.c.Commitments > 0 {
		d.Group("", "Actual cost and open commitments: "+money.Amount(a+float64(d.c.Commitments)).Human(d.opt.Currency), "", func() {
			d.Line("tick", x, d.y(a), x+10, d.y(a+float64(d.c.Commitments)))
			d.Line("tick", x+4, d.y(a+float64(d.c.Commitments)), x+16, d.y(a+float64(d.c.Commitments)))
		})
	}
}

// trend is the path from what is spent to the estimate of the trend, in the shape of the budget that is left; straight where none is.
func (d *drawnCurve) trend(x, spent float64) []float64 {
	points := []float64{x, d.y(spent)}
	n := len(d.budget) - 1
	rise := float64(d.c.Statistical.N) - spent
	if left := d.budget[n] - d.budget[d.now-1]; left > 0 {
		for i := d.now; i < n; i++ {
			points = append(points, d.x(i), d.y(spent+rise*(d.budget[i]-d.budget[d.now-1])/left))
		}
	}
	return append(points, d.x(n), d.y(spent+rise))
}

// curveEnd is where a line ends, with its label.
type curveEnd struct {
	class, name string
	v           float64
	draw        bool
}

// ends labels the lines where they end, apart from one another.
func (d *drawnCurve) ends() {
	n := len(d.c.Budget) - 1
	list := []curveEnd{
		{"label-soft", "budget", d.budget[n], true},
		{"act", "estimate", d.estimate[n], d.c.Estimate != 0},
		{"label-soft", "trend", float64(d.c.Statistical.N), d.c.Statistical.Given},
	}
	slices.SortStableFunc(list, func(a, b curveEnd) int { return cmp.Compare(b.v, a.v) }) // from the top
	var place placer
	for _, l := range list {
		if !l.draw {
			continue
		}
		text := l.name + " " + money.Amount(l.v).Short(d.opt.Currency)
		y := d.y(l.v)
		for _, move := range []float64{0, 14, -14, 28, -28, 42} {
			if y+4+move < 12 {
				continue // over the top
			}
			b := textBox(d.right+10, y+4+move, 12, scene.Start, text)
			if place.free(b) {
				place.take(b)
				d.Text(l.class, d.right+10, y+4+move, scene.Start, text)
				break
			}
		}
	}
	if d.now == 0 {
		return
	}
	a := d.actual[d.now-1]
	y := max(d.y(a)-8, d.top+30)
	if d.c.Commitments > 0 {
		d.Text("label-soft", d.day(d.opt.AsOf)-8, y, scene.End, "and ordered "+d.c.Commitments.Short(d.opt.Currency))
		y -= 15
	}
	d.Text("label-bold", d.day(d.opt.AsOf)-8, y, scene.End, "actual "+money.Amount(a).Short(d.opt.Currency))
}

// bars are the months themselves: the budget pale behind, actual cost and forecast before it.
func (d *drawnCurve) bars() {
	high := d.low - d.bottom - 16
	width := (d.right - d.left) / float64(len(d.c.Budget))
	for i := range d.c.Budget {
		x := d.x(i - 1)
		bar := func(class string, at, w float64, a money.Amount) float64 {
			h := float64(a) / d.tall * high
			if h > 0 {
				d.Rect(class, at, d.low-h, w, h)
			}
			return h
		}
		bar("baseline", x+width*0.08, width*0.84, d.c.Budget[i])
		done := bar("work-done", x+width*0.24, width*0.52, d.c.Actual[i])
		if h := float64(d.c.ToGo[i]) / d.tall * high; h > 0 {
			d.Rect("work-left", x+width*0.24, d.low-max(0, done)-h, width*0.52, h)
		}
	}
	d.Text("label-soft", d.right+10, d.low-high*0.62, scene.Start, "by month: budget pale,")
	d.Text("label-soft", d.right+10, d.low-high*0.62+14, scene.Start, "actual dark, forecast light")
}

// hits are the months to point at: each says all its values.
func (d *drawnCurve) hits() {
	for i := range d.c.Budget {
		m := d.c.First + calendar.Month(i)
		say := []string{m.Name() + ", budget " + d.c.Budget[i].Human(d.opt.Currency)}
		if i < d.now {
			say = append(say, "actual "+d.c.Actual[i].Human(d.opt.Currency))
		}
		if d.c.ToGo[i] != 0 {
			say = append(say, "forecast "+d.c.ToGo[i].Human(d.opt.Currency))
		}
		say = append(say, fmt.Sprintf("added up: budget %s, actual and forecast %s", money.Amount(d.budget[i]).Human(d.opt.Currency),
			money.Amount(d.estimate[i]).Human(d.opt.Currency)))
		href := ""
		if d.opt.Href != nil {
			href = d.opt.Href(m)
		}
		d.Group("month", strings.Join(say, "; "), href, func() { d.Rect("hit", d.x(i-1), d.top, d.x(i)-d.x(i-1), d.low-d.top) })
	}
}
