package capacity

import (
	"cmp"
	"slices"

	"turret/internal/core/calendar"
)

// By is whose hours stand in a row.
type By uint8

// Whose hours are told: of each person by code, of each role, of each team, or of the people of each cost centre.
const (
	ByPerson By = iota
	ByRole
	ByTeam
	ByCentre
)

// Of is the name of the row that a person stands in.
func (b By) Of(p *Person) string {
	return [...]string{p.Code, p.Role, p.Team, p.Centre}[b]
}

// unnamed is the row of what an assignment of a role alone wants: of the role, else of nobody.
func (b By) unnamed(role string) string {
	if b == ByRole {
		return role
	}
	return ""
}

// Row is what somebody has and what is wanted of them in a span, which is told by its index. A row without hours, demand or bookings is
// not there.
type Row struct {
	Name string // of the person, role, team or centre; empty for what belongs to nobody
	Span int    // index of the span
	Cell
}

// Table counts hours by name and span: first by name, with what belongs to nobody last, then by span. Spans follow one another without a
// gap. Rows without hours, demand or bookings are left out. The time is linear in people times days.
func Table(env *Env, s *Staff, by By, spans []Span) []Row {
	t := newTally(env, s, by, spans)
	if len(spans) == 0 {
		return nil
	}
	t.people()
	t.roles()
	t.bookings()
	return t.rows()
}

// tally gathers cells by row and span.
type tally struct {
	env   *Env
	staff *Staff
	by    By
	spans []Span

	first  calendar.Date
	days   int                           // of all spans
	spanOf []int32                       // of each day
	worked map[*calendar.Calendar][]bool // by calendar: whether each day is worked
	full   []int64                       // hours of one person at work in each span, in units
	index  map[string]int32
	names  []string
	cells  [][]Cell // by row and span
}

// newTally prepares the days: which span each is in, and what one person at work has in each span.
func newTally(env *Env, s *Staff, by By, spans []Span) *tally {
	t := &tally{env: env, staff: s, by: by, spans: spans, worked: map[*calendar.Calendar][]bool{}, index: map[string]int32{}}
	if len(spans) == 0 {
		return t
	}
	t.first = spans[0].First
	t.days = int(spans[len(spans)-1].Last-t.first) + 1
	t.spanOf = make([]int32, t.days)
	t.full = make([]int64, len(spans))
	work := t.working(env.Calendar)
	for i, x := range spans {
		for d := x.First; d <= x.Last; d++ {
			t.spanOf[d-t.first] = int32(i)
			if work[d-t.first] {
				t.full[i] += env.Standard * dayUnit
			}
		}
	}
	return t
}

// working tells of each day whether a calendar works on it.
func (t *tally) working(c *calendar.Calendar) []bool {
	if w, ok := t.worked[c]; ok {
		return w
	}
	w := make([]bool, t.days)
	for i := range w {
		w[i] = c.Working(t.first + calendar.Date(i))
	}
	t.worked[c] = w
	return w
}

// row are the cells of a name.
func (t *tally) row(name string) []Cell {
	at, ok := t.index[name]
	if !ok {
		at = int32(len(t.names))
		t.index[name] = at
		t.names = append(t.names, name)
		t.cells = append(t.cells, make([]Cell, len(t.spans)))
	}
	return t.cells[at]
}

// clip cuts days to those that are counted, as indexes; ok is false where none are left.
func (t *tally) clip(from, to calendar.Date) (first, last int, ok bool) {
	first, last = max(int(from-t.first), 0), min(int(to-t.first), t.days-1)
	return first, last, first <= last
}

// byPerson are the assignments of each person.
func byPerson(s *Staff) [][]*Assignment {
	list := make([][]*Assignment, len(s.People))
	for i := range s.Assigned {
		if a := &s.Assigned[i]; a.Person >= 0 {
			list[a.Person] = append(list[a.Person], a)
		}
	}
	return list
}

// course holds of each day what begins or ends to hold on it, so that a walk over the days adds up to what holds.
type course struct{ percent, away, gone []int64 }

// newCourse is an empty course of some days.
func newCourse(days int) *course {
	return &course{make([]int64, days+1), make([]int64, days+1), make([]int64, days+1)}
}

// clear makes a course empty for the next person, so that one serves all.
func (c *course) clear() {
	clear(c.percent)
	clear(c.away)
	clear(c.gone)
}

// add lets n hold from the first day to the last, as indexes.
func add(list []int64, first, last int, n int64) {
	list[first] += n
	list[last+1] -= n
}

// people counts what each has and what is wanted of each.
func (t *tally) people() {
	assigned, c := byPerson(t.staff), newCourse(t.days)
	for i := range t.staff.People {
		p := &t.staff.People[i]
		c.clear()
		t.lay(c, p, assigned[i])
		t.walk(c, p, t.row(t.by.Of(p)))
	}
}

// lay puts the assignments and absences of a person on their days.
func (t *tally) lay(c *course, p *Person, assigned []*Assignment) {
	for _, a := range assigned {
		if first, last, ok := t.clip(a.From, a.To); ok {
			add(c.percent, first, last, a.Percent)
		}
	}
	for i := range p.Absences {
		x := &p.Absences[i]
		first, last, ok := t.clip(x.From, x.To)
		switch {
		case !ok:
		case x.Hours.Given:
			add(c.away, first, last, x.Hours.N)
		default:
			add(c.gone, first, last, 1)
		}
	}
}

// walk goes over the days of a person and adds up.
func (t *tally) walk(c *course, p *Person, row []Cell) {
	hours, work := t.env.hours(p), t.working(t.env.calendarOf(p))
	var percent, away, gone int64
	for i := range t.days {
		percent, away, gone = percent+c.percent[i], away+c.away[i], gone+c.gone[i]
		if !work[i] {
			continue
		}
		day, x := t.first+calendar.Date(i), &row[t.spanOf[i]]
		past := day <= t.env.AsOf
		if percent != 0 {
			x.demand(percent*hours, past)
		}
		if gone == 0 && p.here(day) {
			x.available(max(hours-away, 0), p, past)
		}
	}
}

// here reports whether a person is with the organisation on a day.
func (p *Person) here(day calendar.Date) bool { return day >= p.From && (p.To == 0 || day <= p.To) }

// roles counts what is wanted of roles without a person.
func (t *tally) roles() {
	laid := map[string][]int64{}
	var names []string
	for i := range t.staff.Assigned {
		a := &t.staff.Assigned[i]
		first, last, ok := t.clip(a.From, a.To)
		if a.Person >= 0 || !ok {
			continue
		}
		name := t.by.unnamed(a.Role)
		if laid[name] == nil {
			laid[name] = make([]int64, t.days+1)
			names = append(names, name)
		}
		add(laid[name], first, last, a.Percent)
	}
	work := t.working(t.env.Calendar)
	for _, name := range names {
		row, percent := t.row(name), int64(0)
		for i := range t.days {
			if percent += laid[name][i]; percent == 0 || !work[i] {
				continue
			}
			x, wanted := &row[t.spanOf[i]], percent*t.env.Standard
			x.demand(wanted, t.first+calendar.Date(i) <= t.env.AsOf)
			x.Unstaffed += wanted
		}
	}
}

// bookings counts the hours that were worked by the as-of date.
func (t *tally) bookings() {
	for i := range t.staff.Booked {
		b := &t.staff.Booked[i]
		at := int(b.Date - t.first)
		if at < 0 || at >= t.days || b.Date > t.env.AsOf {
			continue
		}
		name := ""
		if b.Person >= 0 {
			name = t.by.Of(&t.staff.People[b.Person])
		}
		x := &t.row(name)[t.spanOf[at]]
		x.Booked += b.Hours * dayUnit
		if b.Billable {
			x.Billable += b.Hours * dayUnit
		}
	}
}

// rows are the cells that hold anything, by name and span, with what belongs to nobody last.
func (t *tally) rows() []Row {
	var rows []Row
	for at, name := range t.names {
		for i, x := range t.cells[at] {
			if x.Available != 0 || x.Demand != 0 || x.Booked != 0 {
				x.Full = t.full[i]
				rows = append(rows, Row{name, i, x})
			}
		}
	}
	last := func(name string) int {
		if name == "" {
			return 1
		}
		return 0
	}
	slices.SortFunc(rows, func(a, b Row) int {
		return cmp.Or(cmp.Compare(last(a.Name), last(b.Name)), cmp.Compare(a.Name, b.Name), cmp.Compare(a.Span, b.Span))
	})
	return rows
}
