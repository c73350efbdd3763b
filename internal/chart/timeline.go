package chart

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/schedule"
	"turret/internal/scene"
)

// TimelineRow is a line of a timeline: a heading, or a bar with its milestones.
type TimelineRow struct {
	Name, Soft string
	Depth      int
	Heading    bool
	Tall       bool // room for milestones above the bar
	Bar        schedule.Bar
	Was        schedule.Bar // drawn as a ghost above where it is given
	Critical   bool
	Title      string
	Blocked    bool // by an issue
	Flags      []TimelineFlag
}

// TimelineFlag is a milestone on a row.
type TimelineFlag struct {
	Date, Baseline calendar.Date
	Label, Title   string
	Status         health.Status
	Done           bool
	Ahead          Ahead // drawn as a bar below its foot where it is known
}

// TimelineTie is a dependency from the end of something on one row to the begin of something on another.
type TimelineTie struct {
	FromRow, ToRow int
	From, To       calendar.Date // the day at whose end it leaves, and at whose start it arrives
	Strained       bool
	Title          string
}

// TimelineOptions say what part of time is drawn and how wide. From and To of 0 fit the rows.
type TimelineOptions struct {
	W, Names float64
	From, To calendar.Date
	AsOf     calendar.Date
	Calendar *calendar.Calendar
}

// Heights of rows.
const (
	headingRow = 26.0
	tallRow    = 40.0
	plainRow   = 24.0

	// TimelineHead is how tall the months above the rows are.
	TimelineHead = 34.0
)

type timeline struct {
	*scene.Scene
	rows []TimelineRow
	opt  TimelineOptions
	y    []float64 // top of each row, and the end
}

// Timeline draws rows over one time axis: bars with their done part dark and the baseline as a thin line below, critical work with
// a line through what is left, milestones as pennants joined to their baseline tick, and dependencies as routed lines.
func Timeline(title string, rows []TimelineRow, ties []TimelineTie, opt TimelineOptions) *scene.Scene {
	t := &timeline{rows: rows, opt: opt}
	t.span()
	at := TimelineHead
	for i := range rows {
		t.y = append(t.y, at)
		at += rows[i].height()
	}
	t.y = append(t.y, at)
	t.Scene = scene.New(opt.W, at+20, title)
	t.axis(at)
	for i := range rows {
		t.row(i)
	}
	for i := range ties {
		t.tie(&ties[i])
	}
	if x := t.x(t.opt.AsOf + 1); x >= t.opt.Names && x <= t.W {
		t.Line("asof", x, TimelineHead-6, x, at+4)
		t.Text("label-asof", min(x, t.W-30), at+16, scene.Middle, t.opt.AsOf.Human())
	}
	return t.Scene
}

// TimelineCuts are the places between the rows of a timeline where it can be cut; a heading stays with the row below it.
func TimelineCuts(rows []TimelineRow) []float64 {
	var list []float64
	at := TimelineHead
	for i := range rows {
		if at > TimelineHead && (i == 0 || !rows[i-1].Heading) {
			list = append(list, at)
		}
		at += rows[i].height()
	}
	return list
}

func (r *TimelineRow) height() float64 {
	switch {
	case r.Heading:
		return headingRow
	case r.Tall:
		return tallRow
	}
	return plainRow
}

func (t *timeline) span() {
	lo, hi := t.opt.AsOf, t.opt.AsOf
	see := func(d calendar.Date) {
		if d != 0 {
			lo, hi = min(lo, d), max(hi, d)
		}
	}
	for i := range t.rows {
		r := &t.rows[i]
		for _, d := range []calendar.Date{r.Bar.Start, r.Bar.Finish, r.Bar.BaselineStart, r.Bar.BaselineFinish, r.Was.Start,
			r.Was.Finish} {
			see(d)
		}
		for _, f := range r.Flags {
			see(f.Date)
			see(f.Baseline)
			see(f.Ahead.Late)
		}
	}
	lo, hi = Within(t.opt.AsOf, lo, hi)
	lo, hi = lo.Month().First(), hi.Month().Last()
	if t.opt.From == 0 {
		t.opt.From = lo
	}
	if t.opt.To < t.opt.From {
		t.opt.To = max(hi, t.opt.From+6)
	}
}

// farthest is how far from the as-of date a drawing reaches of itself, in days: one wrong date must not flatten all others.
const farthest = 12 * 366

// Within keeps a span of days near the as-of date.
func Within(asOf, lo, hi calendar.Date) (calendar.Date, calendar.Date) {
	return max(lo, asOf-farthest, 1), min(hi, asOf+farthest, calendar.MaxDate)
}

// x is where a day begins.
func (t *timeline) x(d calendar.Date) float64 {
	return t.opt.Names + float64(d-t.opt.From)/float64(t.opt.To+1-t.opt.From)*(t.opt.W-t.opt.Names)
}

func (t *timeline) clip(x float64) float64 { return min(max(x, t.opt.Names), t.opt.W) }

func (t *timeline) axis(bottom float64) {
	perDay := (t.opt.W - t.opt.Names) / float64(t.opt.To+1-t.opt.From)
	if perDay >= 2.5 {
		for d := t.opt.From; d <= t.opt.To; d++ {
			if !t.opt.Calendar.Working(d) {
				t.Rect("idle", t.x(d), TimelineHead, perDay, bottom-TimelineHead)
			}
		}
	}
	month := perDay * 30.4
	for m := t.opt.From.Month(); m <= t.opt.To.Month(); m++ {
		first := max(m.First(), t.opt.From)
		x, january := t.x(first), int(m)%12 == 0
		class := "grid"
		if january {
			class = "grid-strong"
		}
		if january && month >= 0.5 || month >= 9 || month >= 3 && int(m)%3 == 0 {
			t.Line(class, x, TimelineHead-8, x, bottom)
		}
		name := m.Short()
		if month < 26 {
			name = name[:1]
		}
		if room := t.x(min(m.Last(), t.opt.To)+1) - x; month >= 11 && room > scene.Width(name, 11) {
			t.Text("label-soft", x+room/2, TimelineHead-10, scene.Middle, name)
		}
		if year := int(m) / 12; (january || first == t.opt.From) && (month*12 > 30 || year%5 == 0) && x < t.W-24 {
			t.Text("label", x+3, 12, scene.Start, fmt.Sprint(year))
		}
	}
	t.Line("grid-strong", 0, bottom, t.W, bottom)
}

func (t *timeline) row(i int) {
	r, top := &t.rows[i], t.y[i]
	h := r.height()
	indent := float64(r.Depth) * 12
	if r.Heading {
		t.Text("label-bold", 0, top+h-8, scene.Start, cut(r.Name, t.opt.Names, 12))
		t.Line("grid-strong", 0, top+h-2, t.W, top+h-2)
		return
	}
	room := t.opt.Names - indent - 8
	t.Group("", r.Title, "", func() {
		t.Text("label", indent, top+h/2+4, scene.Start, cut(r.Name, room-scene.Width(r.Soft, 11)-8, 12))
		t.Text("label-soft", t.opt.Names-6, top+h/2+4, scene.End, r.Soft)
		t.bar(r, top)
		if end := r.end(); r.Blocked && end != 0 {
			block(t.Scene, t.clip(t.x(end+1))+3+r.room(), top+h/2)
		}
	})
	foot := top + h - 13
	if !r.Tall {
		foot = top + h - 7
	}
	var place placer
	for k := range r.Flags {
		t.flag(&r.Flags[k], foot, &place, r.Flags, k)
	}
	t.Line("grid", 0, top+h, t.W, top+h)
}

// end is the day at whose end the drawing of a row ends.
func (r *TimelineRow) end() calendar.Date {
	end := max(r.Bar.Finish, r.Bar.BaselineFinish)
	for i := range r.Flags {
		end = max(end, r.Flags[i].Date, r.Flags[i].Baseline)
	}
	return end
}

// room is what a pennant takes at the end of a row.
func (r *TimelineRow) room() float64 {
	if len(r.Flags) > 0 {
		return 16
	}
	return 0
}

func (t *timeline) bar(r *TimelineRow, top float64) {
	y, thick := top+6, 10.0
	if r.Tall {
		y, thick = top+tallRow-13, 5
	}
	span := func(class string, from, to calendar.Date, y, h float64) (float64, float64) {
		x1, x2 := t.clip(t.x(from)), t.clip(t.x(to+1))
		t.Rect(class, x1, y, x2-x1, h)
		return x1, x2
	}
	if w := r.Was; w.Start != 0 && w.Finish >= w.Start {
		span("ghost", w.Start, w.Finish, y-4, 3)
	}
	b := r.Bar
	if b.BaselineStart != 0 && b.BaselineFinish >= b.BaselineStart {
		span("baseline", b.BaselineStart, b.BaselineFinish, y+thick+2, 3)
	}
	if b.Start == 0 || b.Finish < b.Start {
		return
	}
	cut := t.x(b.Start) + (t.x(b.Finish+1)-t.x(b.Start))*b.Done
	x1, x2 := t.clip(t.x(b.Start)), t.clip(t.x(b.Finish+1))
	done := min(max(cut, x1), x2)
	t.Rect("work-left", done, y, x2-done, thick)
	t.Rect("work-done", x1, y, done-x1, thick)
	if r.Critical && b.Done < 1 {
		t.Line("critical", done, y+thick/2, x2, y+thick/2)
	}
}

func (t *timeline) flag(f *TimelineFlag, foot float64, place *placer, all []TimelineFlag, k int) {
	d := f.Date
	if d == 0 {
		d = f.Baseline
	}
	x := t.x(d + 1)
	if d == 0 || x < t.opt.Names || x > t.W+0.1 {
		return
	}
	class := Class(f.Status)
	t.Group("milestone", f.Title, "", func() {
		if f.Baseline != 0 {
			b := t.clip(t.x(f.Baseline + 1))
			t.Line("tick", b, foot-3, b, foot+3)
			if b != x {
				t.Line(class, b, foot, x, foot)
			}
		}
		if f.Ahead.Known() {
			from := t.clip(t.x(f.Ahead.Middle + 1))
			t.Rect("odds", from, foot+2, max(t.clip(t.x(f.Ahead.Late+1))-from, 2), 4)
		}
		if f.Done {
			t.Circle("dot", x, foot, 3.6)
		} else {
			pennant(t.Scene, x, foot, 15, f.Status, false)
		}
		label := textBox(x+16, foot-8, 11, scene.Start, f.Label)
		if f.Done {
			label = textBox(x+6, foot-6, 11, scene.Start, f.Label)
		}
		if k+1 < len(all) && t.begins(&all[k+1]) < label.x2+6 || label.x2 > t.W || !place.free(label) {
			return
		}
		place.take(label)
		t.Text("label-soft", label.x1+1, foot-5, scene.Start, f.Label)
	})
}

// begins is where the drawing of a milestone begins: at its tick or its staff.
func (t *timeline) begins(f *TimelineFlag) float64 {
	d := f.Date
	if d == 0 || f.Baseline != 0 && f.Baseline < d {
		d = f.Baseline
	}
	return t.x(d + 1)
}

// tie routes a line out of its giver, down or up beside the taker, and into it.
func (t *timeline) tie(k *TimelineTie) {
	x1, x2 := t.x(k.From+1), t.x(k.To)
	if k.FromRow < 0 || k.ToRow < 0 || max(x1, x2) < t.opt.Names || min(x1, x2) > t.W {
		return
	}
	y1, y2 := t.y[k.FromRow]+t.rows[k.FromRow].height()-9, t.y[k.ToRow]+t.rows[k.ToRow].height()/2
	class := "tie"
	if k.Strained {
		class = "tie strain"
	}
	x1, x2 = t.clip(x1), t.clip(x2)
	bend := x1 + 5
	t.Group("", k.Title, "", func() {
		t.Polyline(class, x1, y1, bend, y1, bend, y2, x2, y2)
		t.Polyline(class, x2-4*sgn(x2-bend), y2-3, x2, y2, x2-4*sgn(x2-bend), y2+3)
	})
}

// cut shortens a text to a width.
func cut(text string, width, size float64) string {
	if scene.Width(text, size) <= width {
		return text
	}
	runes := []rune(text)
	for len(runes) > 1 && scene.Width(string(runes)+"…", size) > width {
		runes = runes[:len(runes)-1]
	}
	return string(runes) + "…"
}
