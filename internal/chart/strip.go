package chart

import (
	"fmt"
	"math"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
	"turret/internal/scene"
)

const (
	gutter   = 104.0 // room for the names of the bands
	margin   = 92.0  // room for labels at the right end
	workRow  = 23.0
	maxWork  = 7
	costArea = 176.0
)

// strip lays out a project over one time axis.
type strip struct {
	*scene.Scene
	p           *measure.Project
	env         measure.Env
	first, last calendar.Month
	w           float64
	blocked     map[string]string // what blocks an activity, by its code
	ahead       Aheads
}

// Ahead are the days by which a milestone is done in half of the runs of a simulation, and in four of five.
type Ahead struct{ Middle, Late calendar.Date }

// Aheads are those of milestones by their codes.
type Aheads map[string]Ahead

// Known reports whether there are any.
func (a Ahead) Known() bool { return a.Middle != 0 && a.Late != 0 }

// Says tells them; empty where there are none.
func (a Ahead) Says() string {
	if !a.Known() {
		return ""
	}
	return "; even odds by " + a.Middle.Human() + ", four in five by " + a.Late.Human()
}

// Strip draws a project's milestones with their baseline ticks, its phases and its cumulative cost over one shared time
// axis, with the as-of line through all. Of milestones to come it draws between which days they may be done, where that is given by their
// codes.
func Strip(p *measure.Project, env measure.Env, w float64, ahead Aheads) *scene.Scene {
	st := &strip{p: p, env: env, w: w, ahead: ahead, blocked: BlockedBy(p.Activities, p.Issues, env.AsOf)}
	st.span()
	work := st.work()
	st.Scene = scene.New(w, 0, "Strip of "+p.Name+": milestones, work and cost over time")
	at := 40.0
	bottom := at + st.milestones(at, false) + float64(len(work))*workRow + 22 + costArea
	st.axis(bottom)
	at += st.milestones(at, true)
	at = st.phases(work, at)
	st.cost(at+22, bottom)
	st.asOf(bottom)
	st.H = bottom + 20
	return st.Scene
}

// span finds the months from the first date to the last, with room around.
func (st *strip) span() {
	o, a := st.p.Outlook, st.p.Account
	lo, hi := st.env.AsOf.Month(), st.env.AsOf.Month()
	see := func(m calendar.Month) {
		if m > 0 {
			lo, hi = min(lo, m), max(hi, m)
		}
	}
	for _, d := range []calendar.Date{o.BaselineStart, o.BaselineFinish, o.ExpectedFinish, st.p.PlannedStart} {
		see(d.Month())
	}
	for _, x := range st.ahead {
		see(x.Late.Month())
	}
	if n := len(a.BudgetBy); n > 0 {
		see(a.First)
		see(a.First + calendar.Month(n-1))
	}
	st.first, st.last = lo, min(hi, lo+600)
}

// x is where a day begins.
func (st *strip) x(d calendar.Date) float64 {
	from, to := st.first.First(), st.last.Last()+1
	return gutter + float64(d-from)/float64(to-from)*(st.w-gutter-margin)
}

// after is where a day ends.
func (st *strip) after(d calendar.Date) float64 { return st.x(d + 1) }

func (st *strip) axis(bottom float64) {
	n := int(st.last-st.first) + 1
	wide := (st.w - gutter - margin) / float64(n)
	for m := st.first; m <= st.last; m++ {
		x := st.x(m.First())
		january := int(m)%12 == 0
		class := "grid"
		if january {
			class = "grid-strong"
		}
		if wide > 7 || january {
			st.Line(class, x, 22, x, bottom)
		}
		switch {
		case wide >= 24:
			st.Text("label-soft", x+wide/2, 13, scene.Middle, m.Short())
		case wide >= 11:
			st.Text("label-soft", x+wide/2, 13, scene.Middle, m.Short()[:1])
		}
		if (january || m == st.first) && (wide*12 > 30 || int(m)/12%5 == 0) && x < st.w-margin-20 {
			st.Text("label", x+3, 29, scene.Start, fmt.Sprint(int(m)/12))
		}
	}
	st.Line("grid-strong", gutter, bottom, st.w-margin, bottom)
}

func (st *strip) name(y float64, bold, soft string) {
	st.Text("label-bold", 0, y, scene.Start, bold)
	st.Text("label-soft", 0, y+15, scene.Start, soft)
}

// milestones draws the band of milestones, or only measures it; it returns its height. Labels stand at the lowest of
// several levels where they meet no other.
func (st *strip) milestones(top float64, draw bool) float64 {
	if len(st.p.Events) == 0 {
		return 0
	}
	type flag struct {
		e     schedule.Event
		a     *schedule.Activity
		x     float64
		level int
		text  string
	}
	var flags []flag
	var ends []float64 // where the last label of each level ends
	for _, e := range st.p.Events {
		a := &st.p.Activities[e.Activity]
		d := e.Date
		if d == 0 {
			d = a.BaselineFinish
		}
		if d == 0 {
			continue
		}
		f := flag{e: e, a: a, x: st.after(d), text: label(e, a)}
		from, to := f.x-2, f.x+14+scene.Width(f.text, 12)
		if to+1 > st.w { // it stands before its staff
			from, to = f.x-5-scene.Width(f.text, 12), f.x+14
		}
		for f.level < len(ends) && ends[f.level] > from {
			f.level++
		}
		if f.level == len(ends) {
			ends = append(ends, 0)
		}
		ends[f.level] = to
		flags = append(flags, f)
	}
	levels := float64(min(len(ends), 6))
	height := 30 + levels*15
	if !draw {
		return height + 8
	}
	foot := top + height - 8
	soft := "baseline, now"
	if len(st.ahead) > 0 {
		soft = "now, P50 to P80"
	}
	st.name(top+height/2-4, "Milestones", soft)
	for i := range flags {
		st.odds(flags[i].a.Code, foot)
	}
	for i := len(flags) - 1; i >= 0; i-- {
		f := flags[i]
		y := foot - 20 - float64(min(f.level, 5))*15
		tip := title(f.e, f.a) + st.ahead[f.a.Code].Says()
		if why := st.blocked[f.a.Code]; why != "" {
			tip += "; " + why
		}
		st.Group("milestone", tip, "", func() {
			st.flag(f.e, f.a, f.x, y, foot, f.text)
			if st.blocked[f.a.Code] != "" {
				block(st.Scene, f.x+5, foot)
			}
		})
	}
	return height + 8
}

// odds draws between which days a milestone is done in the upper half of four runs in five.
func (st *strip) odds(code string, foot float64) {
	if x := st.ahead[code]; x.Known() {
		from := st.after(x.Middle)
		st.Rect("odds", from, foot+2, max(st.after(x.Late)-from, 2), 4)
	}
}

func label(e schedule.Event, a *schedule.Activity) string {
	if e.Deviation.Given && e.Deviation.N != 0 {
		return a.Name + " " + write.Signed(e.Deviation.N)
	}
	return a.Name
}

func title(e schedule.Event, a *schedule.Activity) string {
	s := a.Name + ": " + e.Word()
	if e.Date != 0 {
		s += ", " + e.Date.Human()
	}
	if e.Deviation.Given {
		s += ", " + schedule.Lateness(e.Deviation.N)
	}
	if a.BaselineFinish != 0 {
		s += ", baseline " + a.BaselineFinish.Human()
	}
	return s
}

func (st *strip) flag(e schedule.Event, a *schedule.Activity, x, y, foot float64, text string) {
	status := StateStatus(e.State)
	class := Class(status)
	if a.BaselineFinish != 0 {
		b := st.after(a.BaselineFinish)
		st.Line("tick", b, foot-4, b, foot+4)
		if b != x {
			st.Line(class, b, foot, x, foot)
		}
	}
	done := e.State == schedule.Done || e.State == schedule.DoneLate
	if done {
		st.Line("grid-strong", x, foot, x, y+2)
		st.Circle("dot", x, foot, 4.5)
		st.Text("label", x+5, y+4, scene.Start, text)
		return
	}
	st.Line(class, x, foot, x, y)
	pennant(st.Scene, x, y+6, 11, status, false)
	if x+15+scene.Width(text, 12) > st.w {
		st.Text("label", x-5, y+4, scene.End, text)
		return
	}
	st.Text("label", x+15, y+4, scene.Start, text)
}

// work picks the bars: top summaries, or where there are none the work itself.
func (st *strip) work() []*schedule.Activity {
	pick := func(want schedule.Kind, top bool) (list []*schedule.Activity) {
		for i := range st.p.Activities {
			a := &st.p.Activities[i]
			if a.Kind == want && (!top || a.Parent == "") {
				list = append(list, a)
			}
		}
		return list
	}
	list := pick(schedule.Summary, true)
	if len(list) == 0 {
		list = pick(schedule.Work, false)
	}
	return list[:min(len(list), maxWork)]
}

func (st *strip) phases(list []*schedule.Activity, top float64) float64 {
	if len(list) == 0 {
		return top
	}
	st.name(top+12, "Work", "baseline below")
	for i, a := range list {
		st.phase(a, top+float64(i)*workRow)
	}
	return top + float64(len(list))*workRow
}

func (st *strip) phase(a *schedule.Activity, y float64) {
	start, finish := a.ActualStart, a.Expected(st.env.Calendar, st.env.AsOf)
	if start == 0 {
		start = a.Start
	}
	if start == 0 {
		start = a.BaselineStart
	}
	end := gutter
	tip := a.Name
	if start != 0 && finish >= start {
		x1, x2 := st.x(start), st.after(finish)
		done := st.done(a, x1, x2)
		st.Rect("work-left", done, y+3, x2-done, 10)
		st.Rect("work-done", x1, y+3, done-x1, 10)
		end = x2
		tip += ", " + start.Human() + " to " + finish.Human()
	}
	if a.BaselineStart != 0 && a.BaselineFinish >= a.BaselineStart {
		x1, x2 := st.x(a.BaselineStart), st.after(a.BaselineFinish)
		st.Rect("baseline", x1, y+15, x2-x1, 3)
		end = max(end, x2)
	}
	if why := st.blocked[a.Code]; why != "" {
		st.Group("", a.Name+": "+why, "", func() { block(st.Scene, end+4, y+9) })
		end += 14
		tip += "; " + why
	}
	if room := st.w - end - 6; scene.Width(a.Name, 12) > room {
		st.Text("label", st.x(start)-5, y+12, scene.End, a.Name)
		return
	}
	st.Group("", tip, "", func() { st.Text("label", end+5, y+12, scene.Start, a.Name) })
}

// done is where the dark part of a bar ends: by percent complete, else at the as-of date.
func (st *strip) done(a *schedule.Activity, x1, x2 float64) float64 {
	switch {
	case a.Done(st.env.AsOf):
		return x2
	case a.ActualStart == 0:
		return x1
	case a.Percent.Given:
		return x1 + (x2-x1)*float64(a.Percent.N)/10000
	}
	return max(x1, min(x2, st.after(st.env.AsOf)))
}

// cost draws the cumulative curves of budget, actual and forecast with the tolerance band of the budget.
func (st *strip) cost(top, bottom float64) {
	a := st.p.Account
	if len(a.BudgetBy) == 0 {
		why := "nothing sent yet"
		if st.p.Value(measure.BAC).Reason == measure.NoMoney {
			why = "not shown to you"
		}
		st.name(top+20, "Cost", why)
		return
	}
	c := newCurves(st)
	unit, scale := "k", 1e3
	if c.max >= 2e6 {
		unit, scale = "M", 1e6
	}
	st.name(top+20, "Cost", "cumulative, "+string(st.env.Currency)+" "+unit)
	y := func(v float64) float64 { return bottom - v/(c.max*1.06)*(bottom-top) }
	dy := step(c.max, 4)
	for v := 0.0; v <= c.max*1.05; v += dy {
		st.Line("grid", gutter, y(v), st.w-margin, y(v))
		places := 0
		if dy/scale < 1 {
			places = 1
		}
		st.Text("label-soft", gutter-6, y(v)+4, scene.End, plain(v/scale, places))
	}
	tol := st.p.Tolerances.Of[health.CostShare].Watch
	st.Polygon("curve-band", c.band(y, tol)...)
	st.Polyline("budget", c.line(c.budget, y)...)
	st.Polyline("forecast", c.line(c.forecast, y)...)
	st.Polyline("actual", c.line(c.actual, y)...)
	st.ends(c, y, scale, top, bottom)
}

// ends labels each curve at its last point, pushed apart where they would meet.
func (st *strip) ends(c *curves, y func(float64) float64, scale, top, bottom float64) {
	var place placer
	for _, l := range []struct {
		class, name string
		points      []point
	}{{"act", "forecast", c.forecast}, {"label", "actual", c.actual}, {"label-soft", "budget", c.budget}} {
		if len(l.points) == 0 || (l.name == "forecast" && len(l.points) < 2) {
			continue
		}
		end := l.points[len(l.points)-1]
		text := l.name + " " + plain(end.v/scale, 1)
		if scale == 1e3 {
			text = l.name + " " + plain(end.v/scale, 0)
		}
		x, at := end.x+5, y(end.v)+4
		if l.name == "actual" && len(c.forecast) > 1 {
			at += 12
		}
		for _, move := range []float64{0, 12, -12, 24, -24, 36, -36} {
			b := textBox(x, at+move, 12, scene.Start, text)
			if place.free(b) && b.y2 < bottom && b.y1 > top-14 {
				place.take(b)
				st.Text(l.class, x, at+move, scene.Start, text)
				break
			}
		}
	}
}

func (st *strip) asOf(bottom float64) {
	x := st.after(st.env.AsOf)
	st.Line("asof", x, 22, x, bottom+3)
	anchor := scene.Middle
	if x > st.w-margin {
		anchor = scene.End
	}
	st.Text("label-asof", x, bottom+15, anchor, st.env.AsOf.Human())
}

type point struct{ x, v float64 } // v in major units

// curves are the cumulative amounts at the ends of months.
type curves struct {
	budget, actual, forecast []point
	max                      float64
}

func newCurves(st *strip) *curves {
	a := st.p.Account
	c := &curves{}
	unit := math.Pow10(st.env.Currency.Decimals())
	var budget, spent, expected money.Amount
	now := st.env.AsOf.Month()
	start := point{st.x(a.First.First()), 0}
	c.budget, c.actual = append(c.budget, start), append(c.actual, start)
	begun := false
	for i := range a.BudgetBy {
		m := a.First + calendar.Month(i)
		x := st.after(m.Last())
		budget += a.BudgetBy[i]
		if a.BudgetBy[i] != 0 {
			c.budget = append(c.budget, point{x, float64(budget) / unit})
		}
		if m <= now {
			spent += a.ActualBy[i]
			c.actual = append(c.actual, point{min(x, st.after(st.env.AsOf)), float64(spent) / unit})
		}
		if a.ForecastBy[i] == 0 || m < now {
			continue
		}
		if !begun {
			begun, expected = true, a.Actual
			c.forecast = append(c.forecast, point{st.after(st.env.AsOf), float64(a.Actual) / unit})
		}
		expected += a.ForecastBy[i]
		c.forecast = append(c.forecast, point{x, float64(expected) / unit})
	}
	c.trim(a)
	for _, list := range [][]point{c.budget, c.actual, c.forecast} {
		for _, p := range list {
			c.max = max(c.max, p.v)
		}
	}
	c.max = max(c.max, 1)
	return c
}

// trim drops the curves that nothing was sent for, and the flat end of actual cost in a finished project.
func (c *curves) trim(a cost.Account) {
	if a.Lines == 0 {
		c.budget = nil
	}
	if a.Postings == 0 {
		c.actual = nil
	}
	for n := len(c.actual); n > 1 && len(c.forecast) == 0 && c.actual[n-1].v == c.actual[n-2].v; n-- {
		c.actual = c.actual[:n-1]
	}
}

func (c *curves) line(list []point, y func(float64) float64) []float64 {
	var out []float64
	for _, p := range list {
		out = append(out, p.x, y(p.v))
	}
	return out
}

// band is the outline of the budget's tolerance.
func (c *curves) band(y func(float64) float64, tol float64) []float64 {
	var out []float64
	for _, p := range c.budget {
		out = append(out, p.x, y(p.v*(1+tol)))
	}
	for i := len(c.budget) - 1; i >= 0; i-- {
		out = append(out, c.budget[i].x, y(c.budget[i].v*(1-tol)))
	}
	return out
}
