package schedule

import (
	"testing"

	"pgregory.net/rapid"

	"turret/internal/core/calendar"
)

// slow is a plain version of the network that only steps from day to day and tries: no order, no counting, no inverse of a lag.
type slow struct {
	tasks       []Task
	links       []Link
	frames      []Frame
	asOf        calendar.Date
	start, end  []calendar.Date // early points; start is that of what is left
	begin       []calendar.Date // the start that links from the start see
	lateS, late []calendar.Date
}

func (s *slow) finished(t int) bool {
	return s.tasks[t].ActualFinish != 0 && s.tasks[t].ActualFinish <= s.asOf
}
func (s *slow) running(t int) bool {
	k := s.tasks[t]
	return !s.finished(t) && k.Duration > 0 && k.ActualStart != 0 && k.ActualStart <= s.asOf
}
func (s *slow) left(t int) int {
	if s.running(t) {
		return int(s.tasks[t].Remaining)
	}
	return int(s.tasks[t].Duration)
}

// work steps through the days of a task from a point: the points at which it then begins and ends.
func (s *slow) work(t int, p calendar.Date) (calendar.Date, calendar.Date) {
	left, c := s.left(t), s.tasks[t].Calendar
	if left == 0 {
		return p, p
	}
	for !c.Working(p) {
		p++
	}
	begin := p
	for ; left > 0; p++ {
		if c.Working(p) {
			left--
		}
	}
	return begin, p
}

func lagged(c *calendar.Calendar, p calendar.Date, lag int32) calendar.Date {
	for ; lag > 0; p++ {
		if c.Working(p) {
			lag--
		}
	}
	for ; lag < 0; p-- {
		if c.Working(p - 1) {
			lag++
		}
	}
	return p
}

// idle says whether a calendar works on no day between two points.
func idle(c *calendar.Calendar, p, q calendar.Date) bool {
	for d := min(p, q); d < max(p, q); d++ {
		if c.Working(d) {
			return false
		}
	}
	return true
}

// lastDay is the last working day before a point.
func lastDay(c *calendar.Calendar, p calendar.Date) calendar.Date {
	for p--; !c.Working(p); p-- {
	}
	return p
}

// may says whether an event may stand at a point: with predecessors it is dated the last working day before it, without them the first at
// or after it; not on or before the as-of date, and not before its earliest start.
func (s *slow) may(t int, p calendar.Date) bool {
	k := s.tasks[t]
	day := p
	for !k.Calendar.Working(day) {
		day++
	}
	for _, l := range s.links {
		if l.To == int32(t) {
			day = lastDay(k.Calendar, p)
		}
	}
	return day > s.asOf && day >= k.NotBefore
}

// holds says whether a link is kept when its ends stand at these points: a point that nobody is worked before counts as the same.
func (s *slow) holds(l Link, fromStart, fromEnd, toStart, toEnd calendar.Date) bool {
	p, q := fromEnd, toStart
	if l.Type == StartStart || l.Type == StartFinish {
		p = fromStart
	}
	if l.Type == FinishFinish || l.Type == StartFinish {
		q = toEnd
	}
	want := lagged(s.tasks[l.To].Calendar, p, l.Lag)
	return q >= want || idle(s.tasks[l.To].Calendar, q, want) && idle(s.tasks[l.From].Calendar, q, want)
}

func (s *slow) forward() {
	for changed := true; changed; {
		changed = false
		for t := range s.tasks {
			k := s.tasks[t]
			begin, start, end := k.ActualStart, calendar.Date(0), k.ActualFinish+1
			if k.Duration == 0 {
				begin = end
			}
			if !s.finished(t) {
				p := s.asOf + 1
				if k.NotBefore != 0 && !s.running(t) {
					p = max(p, k.NotBefore)
				}
				for ; ; p++ {
					start, end = s.work(t, p)
					held := k.Duration > 0 || s.may(t, p)
					for _, l := range s.links {
						if l.To == int32(t) && !(s.running(t) && s.finished(int(l.From))) {
							at := p
							if s.left(t) > 0 {
								at = start
							}
							held = held && s.holds(l, s.begin[l.From], s.end[l.From], at, end)
						}
					}
					if held {
						break
					}
				}
				begin = start
				if s.running(t) {
					begin = k.ActualStart
				}
			}
			if begin != s.begin[t] || start != s.start[t] || end != s.end[t] {
				s.begin[t], s.start[t], s.end[t], changed = begin, start, end, true
			}
		}
	}
}

// backward tries ever earlier finishes until every link that goes out is kept.
func (s *slow) backward() {
	limit := make([]calendar.Date, len(s.frames))
	for t, k := range s.tasks {
		limit[k.Project] = max(limit[k.Project], s.end[t])
	}
	for i, f := range s.frames {
		if f.Required != 0 {
			limit[i] = f.Required + 1
		}
	}
	for t := range s.tasks {
		s.late[t], s.lateS[t] = calendar.MaxDate, calendar.MaxDate
	}
	for changed := true; changed; {
		changed = false
		for t, k := range s.tasks {
			if s.finished(t) {
				continue
			}
			p := limit[k.Project]
			if k.NotAfter != 0 {
				p = min(p, k.NotAfter+1)
			}
			var begin, end calendar.Date
			for ; ; p-- {
				begin, end = s.before(t, p)
				held := true
				for _, l := range s.links {
					to := int(l.To)
					if int(l.From) != t || s.finished(to) || s.running(t) && (l.Type == StartStart || l.Type == StartFinish) {
						continue
					}
					held = held && s.holds(l, begin, end, s.lateS[to], s.late[to])
				}
				if held {
					break
				}
			}
			if begin != s.lateS[t] || end != s.late[t] {
				s.lateS[t], s.late[t], changed = begin, end, true
			}
		}
	}
}

// free is by how many working days a task could finish later, its successors staying where they are; without them, its project.
func (s *slow) free(t int) int64 {
	k := s.tasks[t]
	latest, followed := calendar.Date(0), false
	for i := range s.tasks {
		if s.tasks[i].Project == k.Project {
			latest = max(latest, s.end[i])
		}
	}
	for _, l := range s.links {
		to := int(l.To)
		if int(l.From) != t || s.finished(to) || s.running(t) && (l.Type == StartStart || l.Type == StartFinish) {
			continue
		}
		p := s.end[t] + 80
		for ; ; p-- {
			begin, end := s.before(t, p)
			if s.holds(l, begin, end, s.start[to], s.end[to]) {
				p = end
				break
			}
		}
		if !followed || p < latest {
			latest, followed = p, true
		}
	}
	return walked(k.Calendar, s.end[t]-1, latest-1)
}

// before steps back through the days of a task from the latest point at which it may end.
func (s *slow) before(t int, p calendar.Date) (calendar.Date, calendar.Date) {
	left, c := s.left(t), s.tasks[t].Calendar
	if left == 0 {
		return p, p
	}
	for !c.Working(p - 1) {
		p--
	}
	end := p
	for ; left > 0; p-- {
		if c.Working(p - 1) {
			left--
		}
	}
	return p, end
}

func someNetwork(t *rapid.T, base calendar.Date) *slow {
	s := &slow{asOf: base}
	night := mustCalendar([7]bool{true, false, true, true, false, true, true}, map[calendar.Date]bool{base + 9: false, base + 12: true})
	calendars := []*calendar.Calendar{calendar.Standard, everyDay, night}
	number := func(name string, low, high int) int { return rapid.IntRange(low, high).Draw(t, name) }
	for range number("projects", 1, 3) {
		f := Frame{Start: base - 100}
		if number("required", 0, 3) == 0 {
			f.Required = base + calendar.Date(number("by", 5, 60))
		}
		s.frames = append(s.frames, f)
	}
	for i := range number("tasks", 1, 9) {
		k := Task{Project: int32(number("project", 0, len(s.frames)-1)), Calendar: calendars[number("calendar", 0, 2)],
			Duration: int32(number("duration", 0, 6))}
		switch number("progress", 0, 5) {
		case 0:
			k.ActualStart = base - calendar.Date(number("started", 5, 20))
			k.ActualFinish = base - calendar.Date(number("finished", 0, 4))
		case 1:
			k.ActualStart, k.Remaining = base-calendar.Date(number("started", 0, 20)), int32(number("remaining", 1, 9))
		case 2:
			k.NotBefore = base + calendar.Date(number("not before", -5, 25))
		case 3:
			k.NotAfter = base + calendar.Date(number("not after", 1, 40))
		}
		s.tasks = append(s.tasks, k)
		for range number("links", 0, 2) {
			if i > 0 {
				s.links = append(s.links, Link{From: int32(number("from", 0, i-1)), To: int32(i), Type: LinkType(number("type", 0, 3)),
					Lag: int32(number("lag", -4, 6))})
			}
		}
	}
	n := len(s.tasks)
	for _, list := range []*[]calendar.Date{&s.start, &s.end, &s.begin, &s.lateS, &s.late} {
		*list = make([]calendar.Date, n)
	}
	return s
}

func TestNetworkAgreesWithThePlainVersion(t *testing.T) {
	base := on("2026-10-31")
	rapid.Check(t, func(t *rapid.T) {
		s := someNetwork(t, base)
		s.forward()
		s.backward()
		n := NewGraph(len(s.tasks), s.links).Run(s.tasks, s.frames, s.asOf)
		for i, k := range s.tasks {
			if n.finish[i] != s.end[i] || !s.finished(i) && n.from[i] != s.start[i] {
				t.Fatalf("task %d early: got %s to %s, want %s to %s", i, n.from[i], n.finish[i], s.start[i], s.end[i])
			}
			if s.finished(i) {
				continue
			}
			if k.Duration > 0 && (n.late[i] != s.late[i] || n.lateFrom[i] != s.lateS[i]) {
				t.Fatalf("task %d late: got %s to %s, want %s to %s", i, n.lateFrom[i], n.late[i], s.lateS[i], s.late[i])
			}
			if want := walked(k.Calendar, s.end[i]-1, s.late[i]-1); int64(n.Times[i].TotalFloat) != want {
				t.Fatalf("task %d: float %d, want %d", i, n.Times[i].TotalFloat, want)
			}
			if want := s.free(i); int64(n.Times[i].FreeFloat) != want {
				t.Fatalf("task %d: free float %d, want %d", i, n.Times[i].FreeFloat, want)
			}
			if day := n.Times[i].EarlyFinish; k.Duration == 0 && (day <= s.asOf || day < k.NotBefore || !k.Calendar.Working(day)) {
				t.Fatalf("event %d on %s", i, day)
			}
		}
	})
}

// A task that starts later by its total float delays no project, by one day more it delays one; by its free float it moves no
// other task.
func TestFloatIsWhatCanBeLost(t *testing.T) {
	base := on("2026-10-31")
	rapid.Check(t, func(t *rapid.T) {
		s := someNetwork(t, base)
		for i := range s.tasks {
			s.tasks[i].NotAfter = 0
		}
		for i := range s.frames {
			s.frames[i].Required = 0
		}
		g := NewGraph(len(s.tasks), s.links)
		n := g.Run(s.tasks, s.frames, base)
		i := rapid.IntRange(0, len(s.tasks)-1).Draw(t, "late one")
		if n.Times[i].Finished || n.running(int32(i)) || n.left(int32(i)) == 0 {
			return
		}
		later := func(days int32) *Network {
			tasks := append([]Task(nil), s.tasks...)
			c := tasks[i].Calendar
			tasks[i].NotBefore = c.After(c.Passed(n.from[i]) + int(days))
			return g.Run(tasks, s.frames, base)
		}
		x := n.Times[i]
		if m := later(x.TotalFloat); !same(m.end, n.end) {
			t.Fatalf("task %d has %d days of float, and they delay %v to %v", i, x.TotalFloat, n.end, m.end)
		}
		if m := later(x.TotalFloat + 1); same(m.end, n.end) {
			t.Fatalf("task %d has %d days of float, and one more delays nothing", i, x.TotalFloat)
		}
		m := later(x.FreeFloat)
		for j := range s.tasks {
			if j != i && s.tasks[j].Duration > 0 && m.finish[j] != n.finish[j] {
				t.Fatalf("task %d has %d days of free float, and they move task %d", i, x.FreeFloat, j)
			}
		}
	})
}

func same(a, b []calendar.Date) bool {
	for i := range a {
		if a[i] != b[i] {
			return false
		}
	}
	return true
}
