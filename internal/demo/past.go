package demo

import (
	"math"

	"turret/internal/core/calendar"
)

// categoriesOf are the kinds of finished projects, by the programme's place.
var categoriesOf = []string{"renewal", "safety", "service", "nature", "data"}

// remember gives a finished project a course that its reports told while it went on, and that ends for a reason: some keep to what was
// agreed, some slip a little every month until they end late, some are dear from the start and own up to it late, some cost a
// little more.
func remember(s *spec, i int) {
	r := own(s, "past")
	s.past, s.category = true, categoriesOf[i%len(categoriesOf)]
	s.hope, s.activities, s.postings = 1+float64(i%3), 12, 260
	days := float64(s.days)
	kind := r.IntN(20)
	if s.category == "service" && kind < 8 && kind > 1 { // of this kind hardly any keeps to its dates
		kind = 15
	}
	switch {
	case kind < 8: // as agreed
		s.slip, s.overrun = int(days*(0.06*r.Float64()-0.05)), 0.08*r.Float64()-0.06
		s.declared = "on track"
	case kind < 12: // dear
		s.slip, s.overrun = int(days*(0.04*r.Float64()-0.01)), 0.13+0.14*r.Float64()
		s.declared = "watch"
	case kind < 17: // creeping
		s.slip, s.overrun = int(days*(0.12+0.08*r.Float64())), 0.05*r.Float64()-0.02
		s.declared = "on track"
	default: // a little beyond
		s.slip, s.overrun = int(days*(0.02*r.Float64()-0.01)), 0.055+0.04*r.Float64()
		s.declared = "on track"
	}
	s.comment = "Reported as agreed."
	s.start = startFor(s, lastDay(firstReport+2+calendar.Month(i*14/66), r.IntN(20)))
}

// lastDay is a working day of a month.
func lastDay(mo calendar.Month, n int) calendar.Date { return mo.First() + calendar.Date(2+n) }

// startFor is the first day from which a project ends, with all that it slips, near a day.
func startFor(s *spec, end calendar.Date) calendar.Date {
	return end - calendar.Date(math.Round(float64(s.days+s.slip)*365/250))
}

// endOf is the actual finish of a project of the past.
func (m *maker) endOf(s *spec) calendar.Date {
	return m.days.Add(m.days.Finish(s.start, s.days), s.all)
}

// writePast writes what projects that have ended since sent while they went on, and in the month of their end that they are closed.
func writePast(m *maker) {
	since := m.since
	defer func() { m.since = since }()
	for _, s := range finished() {
		if !s.past || s.start > m.asOf || m.endOf(&s) <= since && m.asOf.Month() != firstReport {
			continue
		}
		m.since = since
		if m.asOf.Month() == firstReport {
			m.since = 0
		}
		s.status = "open"
		if m.endOf(&s) <= m.asOf {
			s.status, s.stage = "closed", "closed"
		} else {
			s.stage = "delivery"
			x := m.elapsed(&s)
			s.slip, s.overrun = int(float64(s.slip)*x*x), s.overrun*math.Pow(x, s.hope)
		}
		m.row(&s)
		m.reports(&s)
		m.money(&s)
		if m.since == 0 || s.start > since { // what was decided at a gate stands
			writeGates(m, &s)
		}
	}
}
