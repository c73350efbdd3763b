package chart

import (
	"math"

	"turret/internal/core/backlog"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/scene"
)

// BurnOptions say how a burn-up is drawn.
type BurnOptions struct {
	W, H          float64
	AsOf          calendar.Date
	Deadline      calendar.Date // 0 for none
	Down          bool          // what remains instead of what is accepted
	Items         bool          // counted in items
	First, Middle calendar.Date // when nothing remains at the high and the mean velocity; 0 where not known
	Last          calendar.Date // at the low one
}

// Burn draws a backlog day by day: its points in all and those accepted, or what remains, with the fan of when nothing does and the even
// line to
// the deadline.
func Burn(days []backlog.Burn, opt BurnOptions) *scene.Scene {
	title := "Points in all and accepted, day by day"
	if opt.Down {
		title = "Points that remain, day by day"
	}
	s := scene.New(opt.W, opt.H, title)
	if len(days) == 0 {
		return s
	}
	d := &drawnBurn{Scene: s, days: days, opt: opt}
	d.measure()
	d.grid()
	d.lines()
	d.fan()
	return s
}

type drawnBurn struct {
	*scene.Scene
	days     []backlog.Burn
	opt      BurnOptions
	from, to calendar.Date
	most     float64
	scale    float64
}

const burnLeft, burnRight, burnTop, burnLow = 52.0, 132.0, 18.0, 30.0

func (d *drawnBurn) measure() {
	d.scale = 10_000
	if d.opt.Items {
		d.scale = 1
	}
	now := d.days[len(d.days)-1].Day
	d.from, d.to = d.days[0].Day, max(now+14, d.opt.Deadline, d.opt.Middle)
	d.to = max(d.to, min(d.opt.Last, now+2*(d.to-d.from))) // a far end does not squeeze the rest
	for _, x := range d.days {
		d.most = math.Max(d.most, float64(x.Total)/d.scale)
	}
	d.most = math.Max(d.most, 1)
}

func (d *drawnBurn) x(day calendar.Date) float64 {
	return burnLeft + float64(day-d.from)/math.Max(float64(d.to-d.from), 1)*(d.opt.W-burnLeft-burnRight)
}

func (d *drawnBurn) y(v float64) float64 {
	return d.opt.H - burnLow - v/d.most*(d.opt.H-burnLow-burnTop)
}

func (d *drawnBurn) grid() {
	for v := 0.0; v <= d.most; v += nice(d.most / 6) {
		d.Line("grid", burnLeft, d.y(v), d.opt.W-burnRight, d.y(v))
		d.Text("label-soft", burnLeft-8, d.y(v)+4, scene.End, write.Trimmed(int64(math.Round(v)), 0))
	}
	months := int(d.to.Month()-d.from.Month()) + 1
	every := max(1, months/9)
	for i := range months {
		m := d.from.Month() + calendar.Month(i)
		if first := max(m.First(), d.from); i%every == 0 && d.x(first) < d.opt.W-burnRight-20 {
			d.Text("label-soft", d.x(first), d.opt.H-burnLow+16, scene.Start, m.Short()+" "+m.String()[2:4])
		}
	}
	if d.opt.Deadline != 0 && d.opt.Deadline >= d.from && d.opt.Deadline <= d.to {
		d.Line("limit", d.x(d.opt.Deadline), burnTop-6, d.x(d.opt.Deadline), d.opt.H-burnLow)
		d.Text("label-soft", d.x(d.opt.Deadline)-4, burnTop, scene.End, "wanted "+d.opt.Deadline.Human())
	}
	d.Line("asof", d.x(d.opt.AsOf), burnTop-6, d.x(d.opt.AsOf), d.opt.H-burnLow)
}

func (d *drawnBurn) lines() {
	var total, done []float64
	for _, b := range d.days {
		value := float64(b.Accepted)
		if d.opt.Down {
			value = float64(b.Remaining())
		}
		total = append(total, d.x(b.Day), d.y(float64(b.Total)/d.scale))
		done = append(done, d.x(b.Day), d.y(value/d.scale))
	}
	last := d.days[len(d.days)-1]
	if d.opt.Deadline > d.from {
		from, to := 0.0, float64(last.Total)/d.scale
		if d.opt.Down {
			from, to = float64(d.days[0].Total)/d.scale, 0
		}
		d.Line("ideal", d.x(d.from), d.y(from), d.x(min(d.opt.Deadline, d.to)), d.y(to))
	}
	if !d.opt.Down {
		d.Polyline("budget", total...)
		d.Text("label-soft", d.x(last.Day)-6, d.y(float64(last.Total)/d.scale)-6, scene.End, "all "+d.amount(last.Total))
	}
	d.Polyline("actual", done...)
}

func (d *drawnBurn) amount(n int64) string {
	if d.opt.Items {
		return write.Whole(n)
	}
	return write.Trimmed(int64(money.MulDiv(1, n, 10_000)), 0)
}

// fan draws from where the backlog stands to when nothing remains.
func (d *drawnBurn) fan() {
	last := d.days[len(d.days)-1]
	now, end, word := float64(last.Accepted)/d.scale, float64(last.Total)/d.scale, "accepted "+d.amount(last.Accepted)
	if d.opt.Down {
		now, end, word = float64(last.Remaining())/d.scale, 0, d.amount(last.Remaining())+" remain"
	}
	d.Circle("now", d.x(last.Day), d.y(now), 4)
	d.Text("label-bold", d.x(last.Day)-7, d.y(now)-8, scene.End, word)
	if d.opt.Middle == 0 || d.opt.Middle <= last.Day {
		return
	}
	reach := func(day calendar.Date) (float64, float64) { // cut where the drawing ends
		if day <= d.to {
			return d.x(day), d.y(end)
		}
		part := float64(d.to-last.Day) / float64(day-last.Day)
		return d.x(d.to), d.y(now + part*(end-now))
	}
	mx, my := reach(d.opt.Middle)
	if d.opt.First != 0 && d.opt.Last != 0 {
		fx, fy := reach(d.opt.First)
		lx, ly := reach(d.opt.Last)
		d.Polygon("fan", d.x(last.Day), d.y(now), fx, fy, mx, my, lx, ly)
	}
	d.Line("forecast", d.x(last.Day), d.y(now), mx, my)
	d.Text("label-soft", mx+6, my+4, scene.Start, d.opt.Middle.Human())
}

// BurnSpark draws what remains of a backlog in small.
func BurnSpark(days []backlog.Burn, w, h float64) *scene.Scene {
	s := scene.New(w, h, "Points that remain, day by day")
	most := 1.0
	for _, d := range days {
		most = math.Max(most, float64(d.Total))
	}
	var line []float64
	for i, d := range days {
		line = append(line, 1+float64(i)/math.Max(float64(len(days)-1), 1)*(w-2), h-1-float64(d.Remaining())/most*(h-2))
	}
	s.Line("axis", 0, h-1, w, h-1)
	if len(line) > 2 {
		s.Polyline("actual", line...)
	}
	return s
}
