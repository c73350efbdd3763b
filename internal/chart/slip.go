package chart

import (
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/write"
	"turret/internal/scene"
)

// SlipLine is a milestone's forecasts, report by report.
type SlipLine struct {
	Name, Title, Href string
	Status            health.Status
	Points            []SlipPoint
	Days              int
}

// SlipPoint is the date forecast in the report of a period.
type SlipPoint struct {
	Period calendar.Period
	Date   calendar.Date
}

// Slips draws the forecast date of each milestone over the periods of reports: a level line kept its promise, one that climbs moves
// away. Where a line meets the slant, the date had come.
func Slips(lines []SlipLine, now calendar.Period, w, h float64) *scene.Scene {
	s := &slips{Scene: scene.New(w, h, "Forecast dates of milestones by period of report"), last: now, left: 70, right: w - 250, top: 14,
		bottom: h - 34}
	s.span(lines)
	s.axis()
	for i := len(lines) - 1; i >= 0; i-- {
		s.line(&lines[i], i >= plainSlips)
	}
	s.labels(lines)
	return s.Scene
}

type slips struct {
	*scene.Scene
	first, last              calendar.Period // of reports
	from, to                 calendar.Date   // of forecasts
	left, right, top, bottom float64
}

func (s *slips) span(lines []SlipLine) {
	s.first = s.last - 1
	s.from, s.to = s.last.Last(), s.last.Last()
	for i := range lines {
		for _, p := range lines[i].Points {
			s.first = min(s.first, p.Period)
			s.from, s.to = min(s.from, p.Date), max(s.to, p.Date)
		}
	}
	s.from, s.to = Within(s.last.Last(), s.from, s.to)
	s.from, s.to = s.from.Month().First(), s.to.Month().Last()
}

func (s *slips) x(m calendar.Period) float64 {
	return s.left + float64(m-s.first)/float64(s.last-s.first)*(s.right-s.left)
}

// y is the height of a day; later is higher.
func (s *slips) y(d calendar.Date) float64 {
	d = min(max(d, s.from), s.to)
	return s.bottom - float64(d-s.from)/float64(s.to-s.from)*(s.bottom-s.top)
}

func (s *slips) axis() {
	every := max(1, int(s.to.Month()-s.from.Month())/10)
	for m := s.from.Month(); m <= s.to.Month(); m += calendar.Month(every) {
		y := s.y(m.First())
		s.Line("grid", s.left, y, s.right, y)
		s.Text("label-soft", s.left-8, y+4, scene.End, m.Short()+" "+m.String()[:4])
	}
	step := max(1, int(s.last-s.first)/12)
	for m := s.first; m <= s.last; m++ {
		x := s.x(m)
		if int(s.last-m)%step == 0 {
			s.Line("grid", x, s.top, x, s.bottom)
			s.Text("label-soft", x, s.bottom+15, scene.Middle, m.Short())
		}
		if year := m.String()[:4]; m == s.first || year != (m - 1).String()[:4] {
			s.Text("label", x, s.bottom+29, scene.Middle, year)
		}
	}
	from := max(s.first, s.last.Cycle().Of(s.from))
	if from < s.last {
		s.Line("asof", s.x(from), s.y(from.Last()), s.x(s.last), s.y(s.last.Last()))
		s.Text("label-asof", s.x(from)+8, s.y(from.Last())+14, scene.Start, "the date is the day of the report")
	}
}

// plainSlips are the lines drawn at full strength, the others stand back.
const plainSlips = 4

func (s *slips) line(l *SlipLine, back bool) {
	class := Class(l.Status)
	if back {
		class += " quiet"
	}
	s.Group("milestone", l.Title, "", func() {
		var points []float64
		for _, p := range l.Points {
			points = append(points, s.x(p.Period), s.y(p.Date))
		}
		s.Polyline("slip "+class, points...)
		for i := 0; i+1 < len(points); i += 2 {
			s.Circle(class, points[i], points[i+1], 2.4)
		}
	})
}

// labels stand at the ends of the lines, those that moved most first; where there is no room none stands.
func (s *slips) labels(lines []SlipLine) {
	var place placer
	for i := range lines {
		l := &lines[i]
		if len(l.Points) == 0 {
			continue
		}
		end := l.Points[len(l.Points)-1]
		text := cut(l.Name, s.W-s.right-60, 12)
		if l.Days != 0 {
			text += " " + write.Signed(int64(l.Days))
		}
		x, y := s.x(end.Period), s.y(end.Date)
		for _, move := range []float64{0, 13, -13, 26, -26, 39, -39, 52, -52} {
			b := textBox(s.right+24, y+4+move, 12, scene.Start, text)
			if b.y1 < 0 || b.y2 > s.H || !place.free(b) {
				continue
			}
			place.take(b)
			s.Line("zero", x+4, y, s.right+20, y+move)
			s.Group("", l.Title, l.Href, func() { s.Text("label", s.right+24, y+4+move, scene.Start, text) })
			break
		}
	}
}
