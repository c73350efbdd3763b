package demo

import (
	"bufio"
	"encoding/csv"
	"fmt"
	"hash/fnv"
	"io"
	"math/rand/v2"
	"slices"
	"strconv"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/ingest"
	"turret/internal/record"
)

// sheets are the CSV files being written, one per kind, each with the head that the reader knows.
type sheets struct {
	open func(name string) (io.WriteCloser, error)
	list map[record.Kind]*sheet
	own  []record.Column // of projects
	err  error
}

type sheet struct {
	file io.WriteCloser
	buf  *bufio.Writer
	csv  *csv.Writer
	at   map[string]int
	row  []string
}

// add writes a row of column and value pairs.
func (s *sheets) add(kind record.Kind, pairs ...string) {
	if s.err != nil {
		return
	}
	sh := s.list[kind]
	if sh == nil {
		if sh, s.err = s.start(kind); s.err != nil {
			return
		}
	}
	clear(sh.row)
	for i := 0; i < len(pairs); i += 2 {
		sh.row[sh.at[pairs[i]]] = pairs[i+1]
	}
	s.err = sh.csv.Write(sh.row)
}

func (s *sheets) start(kind record.Kind) (*sheet, error) {
	f, err := s.open(string(kind) + ".csv")
	if err != nil {
		return nil, err
	}
	heads := ingest.Columns(kind)
	if kind == record.Projects {
		for _, c := range s.own {
			heads = append(heads, c.Name)
		}
	}
	buf := bufio.NewWriterSize(f, 1<<16)
	sh := &sheet{file: f, buf: buf, csv: csv.NewWriter(buf), at: map[string]int{}, row: make([]string, len(heads))}
	for i, h := range heads {
		sh.at[h] = i
	}
	if s.list == nil {
		s.list = map[record.Kind]*sheet{}
	}
	s.list[kind] = sh
	return sh, sh.csv.Write(heads)
}

// close finishes every file and returns the first error.
func (s *sheets) close() error {
	for _, kind := range record.Kinds() {
		sh := s.list[kind]
		if sh == nil {
			continue
		}
		sh.csv.Flush()
		for _, err := range []error{sh.csv.Error(), sh.buf.Flush(), sh.file.Close()} {
			if s.err == nil {
				s.err = err
			}
		}
	}
	return s.err
}

// maker writes the rows of projects as they stand at the end of asOf.
type maker struct {
	*sheets
	rnd     *rand.Rand
	days    *calendar.Calendar
	asOf    calendar.Date
	doc     int
	since   calendar.Date // what happened up to then was sent before; 0 for nothing
	crossed bool          // links between projects are written too
	plan    *rand.Rand    // of the schedule being written, the same in each month
}

func newMaker(open func(string) (io.WriteCloser, error), seed uint64, asOf calendar.Date) *maker {
	c, err := calendar.New([7]bool{true, true, true, true, true, false, false}, holidays())
	if err != nil {
		panic(err) // the pattern is a constant
	}
	return &maker{sheets: &sheets{open: open}, rnd: rand.New(rand.NewPCG(seed, 7)), days: c, asOf: asOf}
}

func holidays() map[calendar.Date]bool {
	off := map[calendar.Date]bool{}
	for y := 2019; y <= 2030; y++ {
		for _, md := range [][2]int{{1, 1}, {5, 1}, {6, 23}, {12, 24}, {12, 25}, {12, 26}} {
			off[calendar.On(y, md[0], md[1])] = false
		}
	}
	return off
}

// masters writes structure, calendar, cost codes and rates.
func (m *maker) masters() {
	m.add(record.Structure, "code", "OWB", "name", "Ostrel Waterways Board", "level", "portfolio", "owner", "D. Achterberg")
	for _, p := range programmes {
		m.add(record.Structure, "code", p[0], "name", p[1], "level", "programme", "parent", "OWB", "owner", sponsors[p[0]])
	}
	for i, w := range []string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"} {
		m.add(record.Calendars, "calendar", "default", "weekday", w, "working", yes(i < 5))
	}
	off := holidays()
	for y := 2019; y <= 2030; y++ {
		for d := calendar.On(y, 1, 1); d <= calendar.On(y, 12, 31); d++ {
			if _, ok := off[d]; ok {
				m.add(record.Calendars, "calendar", "default", "date", d.String(), "working", "no", "name", "Public holiday")
			}
		}
	}
	for _, c := range codes {
		m.add(record.CostCodes, "code", c[0], "name", c[1], "parent", c[2], "type", c[3], "contingency", yes(c[0] == "5"))
	}
	m.rates()
}

// rates lets the krona rise from early 2026 while the plan keeps the old rate.
func (m *maker) rates() {
	base := map[string]float64{"SEK": 0.0862, "GBP": 1.168, "CHF": 1.042}
	for _, c := range []string{"SEK", "GBP", "CHF"} {
		m.add(record.Rates, "currency", c, "month", "2019-01", "rate", fixed(base[c], 4), "kind", "plan")
		for mo := day(2019, 1, 1).Month(); mo <= day(2026, 12, 1).Month(); mo++ {
			r := base[c] * (1 + 0.01*(m.rnd.Float64()-0.5))
			if rise := mo - day(2025, 11, 1).Month(); c == "SEK" && rise > 0 {
				r *= 1 + min(0.24, 0.034*float64(rise))
			}
			m.add(record.Rates, "currency", c, "month", mo.String(), "rate", fixed(r, 4), "kind", "month")
		}
	}
}

func mode(driven bool) string {
	if driven {
		return "driven"
	}
	return "reported"
}

func phaseCode(i int) string { return fmt.Sprintf("P%d", i+1) }

func yes(b bool) string {
	if b {
		return "yes"
	}
	return "no"
}

func fixed(x float64, places int) string { return strconv.FormatFloat(x, 'f', places, 64) }

// event is an activity or milestone with where it stands by the baseline.
type event struct {
	code, name, parent, kind, level string
	start, finish                   calendar.Date
}

// row writes a project's own row.
func (m *maker) row(s *spec) {
	stage := s.stage
	if s.code == handed && m.asOf.Month() <= handedIn {
		stage = "delivery"
	}
	pairs := []string{"code", s.code, "name", s.name, "parent", s.parent, "lead", s.lead, "sponsor", s.sponsor,
		"category", s.category, "stage", stage, "currency", "EUR", "planned_start", s.start.String(),
		"planned_finish", m.days.Finish(s.start, s.days).String(), "earned_value", yes(!s.noEV), "business_unit", s.unit, "schedule_mode",
		mode(s.driven),
		"status", s.status}
	if s.required != 0 {
		pairs = append(pairs, "required_finish", s.required.String())
	}
	if m.own != nil {
		pairs = append(pairs, ownCells(s)...)
	}
	m.add(record.Projects, pairs...)
}

// project writes everything of one project as it stands at the end of m.asOf.
func (m *maker) project(s *spec) {
	m.row(s)
	if s.status == "proposed" {
		return
	}
	m.reports(s)
	m.money(s)
}

// reports writes what a lead sends every month: schedule, forecast and status.
func (m *maker) reports(s *spec) {
	m.schedule(s)
	if s.status != "open" {
		return
	}
	m.forecast(s)
	pairs := []string{"project", s.code, "overall", s.declared, "schedule", s.feels(s.slip > 10), "cost",
		s.feels(s.overrun > 0.03 || s.sek > 0), "scope", "on track",
		"risk", "on track", "benefit", "on track", "percent_complete", fixed(100*slope(m.reached(s, min(m.asOf, AsOf))), 0), "commentary",
		s.comment}
	m.add(record.Statuses, pairs...)
}

// feels is what a lead declares of a dimension: the overall status where the trouble lies, else on track.
func (s *spec) feels(trouble bool) string {
	if trouble {
		return s.declared
	}
	return "on track"
}

// elapsed is the share of the project's planned days that has passed.
func (m *maker) elapsed(s *spec) float64 { return min(1, max(0, elapsedAt(m.days, s, m.asOf))) }

// elapsedAt is the working days from a project's start to a day over its planned days; above 1 after its planned finish.
func elapsedAt(c *calendar.Calendar, s *spec, d calendar.Date) float64 {
	if d < s.start {
		return 0
	}
	return float64(c.Count(s.start, d)) / float64(s.days)
}

// reached is the share of the planned days whose work was done by a day up to AsOf: what slips is done later.
func (m *maker) reached(s *spec, d calendar.Date) float64 {
	x, now := elapsedAt(m.days, s, d), min(1, elapsedAt(m.days, s, AsOf))
	if s.status == "closed" && !s.past || now <= 0 {
		return min(1, x)
	}
	behind := min(1, x/now)
	return min(1, max(0, x-float64(s.all)*behind*behind/float64(s.days)))
}

// late is how far work that was to end on d has moved: the delay grew up to today and stays as it is from then on.
func (m *maker) late(s *spec, d calendar.Date) int {
	span := float64(min(m.asOf, m.days.Finish(s.start, s.days)) - s.start)
	if span <= 0 {
		return s.slip
	}
	x := min(1, max(0, float64(d-s.start)/span))
	return int(float64(s.slip)*x*x + 0.5*float64(sign(s.slip)))
}

func sign(n int) int {
	switch {
	case n < 0:
		return -1
	case n > 0:
		return 1
	}
	return 0
}

func (m *maker) schedule(s *spec) {
	h := fnv.New64a()
	_, _ = h.Write([]byte(s.code)) // never fails
	m.plan = rand.New(rand.NewPCG(seed, h.Sum64()))
	phases := s.phases
	if s.activities < 3*len(phases) {
		phases = []phase{{"Work", "Done", 1, "programme"}}
	}
	if s.activities < 3 {
		phases = nil
		for i := range s.activities {
			m.activity(s, event{fmt.Sprintf("A%d", i+1), "Work", "", "activity", "", s.start, m.days.Finish(s.start, s.days)})
		}
	}
	at := 0
	var before string
	for i, ph := range phases {
		per := cut(s.activities-2*len(phases), len(phases), i)
		length := max(1, int(ph.share*float64(s.days)))
		if i == len(phases)-1 {
			length = max(1, s.days-at)
		}
		last := m.phase(s, i, ph, at, length, per, before)
		at, before = at+length, last
	}
	m.owedTo(s)
	m.creep(s)
	if !m.crossed {
		return
	}
	for _, l := range crossings() {
		if l.taker == s.code {
			m.add(record.Links, "project", s.code, "from_project", l.giver, "from", l.from, "to", l.to, "type", "FS", "lag", l.lag)
		}
	}
}

// owedTo writes the deliverables: handed over on the day they are expected and accepted three working days later.
func (m *maker) owedTo(s *spec) {
	for _, h := range s.handovers {
		i := int(h.parent[1] - '1')
		if per := cut(s.activities-2*len(s.phases), len(s.phases), i); per > 1 {
			m.add(record.Links, "project", s.code, "from", fmt.Sprintf("%s.%d", h.parent, per-1), "to", h.code, "type", "FS")
		}
		due := m.days.Finish(s.start, max(1, int(h.share*float64(s.days))))
		expected := m.days.Add(due, m.late(s, due))
		handed := m.days.Add(expected, -3)
		pairs := []string{"project", s.code, "code", h.code, "name", h.name, "parent", h.parent, "kind", "deliverable", "party", h.party,
			"owner", s.lead,
			"baseline_finish", due.String(), "start", handed.String(), "finish", expected.String()}
		percent := "0"
		if handed <= m.asOf {
			percent = "50"
			pairs = append(pairs, "actual_start", handed.String())
		}
		if expected <= m.asOf {
			percent = "100"
			pairs = append(pairs, "actual_finish", expected.String())
		}
		m.add(record.Activities, append(pairs, "percent_complete", percent)...)
	}
}

// creep writes the milestones whose forecast moves from month to month.
func (m *maker) creep(s *spec) {
	for _, c := range s.creeping {
		date := c.baseline
		if i := len(c.dates) - 1 - int(AsOf.Month()-m.asOf.Month()); i >= 0 {
			date = c.dates[min(i, len(c.dates)-1)]
		}
		m.add(record.Activities, "project", s.code, "code", c.code, "name", c.name, "parent", c.parent, "kind", "milestone", "report_to",
			"programme",
			"owner", s.lead, "baseline_finish", c.baseline.String(), "finish", date.String(), "percent_complete", "0")
	}
}

// phase writes a summary, its activities one after the other and its milestone; it returns the milestone's code.
func (m *maker) phase(s *spec, i int, ph phase, at, length, per int, before string) string {
	name := phaseCode(i)
	start := m.days.Finish(s.start, at+1)
	finish := m.days.Finish(s.start, at+length)
	m.activity(s, event{name, ph.name, "", "summary", "", start, finish})
	step := max(1, length/max(1, per))
	for j := range per {
		a := event{code: fmt.Sprintf("%s.%d", name, j+1), parent: name, kind: "activity",
			name:  tasks[m.plan.IntN(len(tasks))] + " " + parts[m.plan.IntN(len(parts))],
			start: m.days.Finish(s.start, min(at+j*step, at+length-1)+1), finish: m.days.Finish(s.start, min(at+(j+1)*step, at+length))}
		if j == per-1 {
			a.finish = finish
		}
		if other := s.named[a.code]; other != "" {
			a.name = other
		}
		m.activity(s, a)
		if before != "" {
			m.add(record.Links, "project", s.code, "from", before, "to", a.code, "type", "FS")
		}
		if j > 1 && m.plan.IntN(3) == 0 {
			m.add(record.Links, "project", s.code, "from", fmt.Sprintf("%s.%d", name, j-1), "to", a.code, "type", "SS", "lag", "3")
		}
		before = a.code
	}
	milestone := fmt.Sprintf("M%d", i+1)
	m.activity(s, event{milestone, ph.milestone, name, "milestone", ph.level, finish, finish})
	m.add(record.Links, "project", s.code, "from", before, "to", milestone, "type", "FS")
	return milestone
}

// party does an activity: own people for most of it, a contractor for some.
func (m *maker) party(s *spec, e event) string {
	if e.kind != "activity" || len(s.handovers) == 0 {
		return ""
	}
	return []string{owed[s.parent][0], owed[s.parent][1], "Own workshop"}[len(e.name)%3]
}

func (m *maker) activity(s *spec, e event) {
	start := m.days.Add(e.start, m.late(s, e.start))
	finish := max(start, m.days.Add(e.finish, m.late(s, e.finish)))
	if e.kind == "milestone" {
		start = finish
	}
	pairs := []string{"project", s.code, "code", e.code, "name", e.name, "parent", e.parent, "kind", e.kind,
		"report_to", e.level, "owner", s.lead, "party", m.party(s, e), "baseline_finish", e.finish.String(), "finish", finish.String()}
	length := m.days.Count(start, finish)
	if e.kind == "activity" {
		from, to := elapsedAt(m.days, s, e.start-1), elapsedAt(m.days, s, e.finish)
		pairs = append(pairs, "weight", fixed(10_000*(slope(min(1, to))-slope(min(1, from))), 2), "ev_method", s.method)
	}
	if e.kind != "milestone" {
		pairs = append(pairs, "baseline_start", e.start.String(), "start", start.String(), "duration", strconv.Itoa(length))
	}
	switch {
	case finish <= m.asOf:
		pairs = append(pairs, "actual_start", start.String(), "actual_finish", finish.String(), "percent_complete", "100", "remaining",
			"0")
	case start <= m.asOf:
		left := max(1, m.days.Count(m.asOf+1, finish))
		pairs = append(pairs, "actual_start", start.String(), "remaining", strconv.Itoa(left),
			"percent_complete", fixed(100*float64(length-left)/float64(max(1, length)), 0))
	default:
		pairs = append(pairs, "percent_complete", "0", "remaining", strconv.Itoa(length))
	}
	m.add(record.Activities, pairs...)
}

// share is one cost code's part of a project's money.
type share struct {
	code, currency string
	budget         []money.Amount // per month from the project's first
}

// slope is the cumulative share of the money by the share of time: slow, then fast, then slow.
func slope(x float64) float64 { return x * x * (3 - 2*x) }

// shares spreads the budget over cost codes and months.
func (m *maker) shares(s *spec) (calendar.Month, []share) {
	first, last := s.start.Month(), m.days.Finish(s.start, s.days).Month()
	n := int(last-first) + 1
	mix := []struct {
		code string
		part float64
	}{{"11", 0.16}, {"12", 0.08}, {"21", 0.34}, {"22", 0.14}, {"32", 0.16}, {"41", 0.12}}
	rest := 1 - s.sek - s.gbp
	var list []share
	add := func(code, currency string, part float64) {
		w := make([]int64, n)
		for i := range w {
			mo := first + calendar.Month(i)
			w[i] = int64(1e6 * (slope(min(1, elapsedAt(m.days, s, mo.Last()))) - slope(elapsedAt(m.days, s, mo.First()-1))))
		}
		list = append(list, share{code, currency, money.Split(money.Amount(part*float64(s.budget))*100, w)})
	}
	for _, x := range mix {
		add(x.code, "", x.part*rest)
	}
	if s.sek > 0 {
		add("31", "SEK", s.sek/0.0862)
	}
	if s.gbp > 0 {
		add("41", "GBP", s.gbp/1.168)
	}
	return first, list
}

// money writes the budget, once, and the ledger of the time since.
func (m *maker) money(s *spec) {
	first, list := m.shares(s)
	finish := m.days.Add(m.days.Finish(s.start, s.days), s.all)
	if s.start > m.since || m.asOf.Month() == raisedIn[s.code] {
		m.budget(s, first, list)
	}
	for k, sh := range list {
		costs := m.costs(s, sh)
		months := min(len(costs), int(m.asOf.Month()-first)+1)
		var left money.Amount // of months without a posting
		for i := range months {
			left += costs[i]
			n := cut(s.postings, len(list)*len(costs), k*len(costs)+i)
			if s.status == "closed" && !s.past {
				n = cut(s.postings, len(list)*months, k*months+i)
			}
			if n == 0 || left == 0 && s.past {
				continue
			}
			if mo := first + calendar.Month(i); mo.Last() > m.since {
				m.post(s, sh, mo, left, n)
			}
			left = 0
		}
	}
	r := own(s, "after")
	for i := range s.after {
		a := money.Amount(40_000 + r.Int64N(300_000))
		if d := finish + calendar.Date(3+i); d > m.since && d <= m.asOf {
			m.posting(r, "21", "", "", d, a, s.code)
		}
	}
}

// raisedIn is the month in which a budget was sent again with an approved change.
var raisedIn = map[string]calendar.Month{"BR-06": day(2026, 8, 1).Month(), "LW-05": day(2026, 5, 1).Month(),
	"BR-02": day(2026, 6, 1).Month()}

// raised reports whether the approved change of a project is in its budget by now.
func (m *maker) raised(s *spec) bool {
	in, ok := raisedIn[s.code]
	return ok && m.asOf.Month() >= in
}

// byPhase are the projects whose amounts name the phase that they are for.
var byPhase = map[string]bool{"LW-07": true, "BR-03": true}

// workOf is the phase that an amount on a code is for, by the share of the planned work reached; running the project belongs to none.
func (m *maker) workOf(s *spec, code string, share float64) string {
	if !byPhase[s.code] || code == "12" {
		return ""
	}
	for i, ph := range s.phases {
		if share -= ph.share; share <= 0 || i == len(s.phases)-1 {
			return phaseCode(i)
		}
	}
	return ""
}

// budget writes the lines of the budget, with those of the approved change.
func (m *maker) budget(s *spec, first calendar.Month, list []share) {
	for _, sh := range list {
		if s.past { // as a total over its days
			m.add(record.Budget, "project", s.code, "cost_code", sh.code, "from", s.start.String(), "to",
				m.days.Finish(s.start, s.days).String(), "profile", "bell", "amount", sum(sh.budget).Text("EUR"), "currency", sh.currency,
				"cost_centre", centres[sh.code])
			continue
		}
		for i, a := range sh.budget {
			if a != 0 {
				m.add(record.Budget, "project", s.code, "cost_code", sh.code, "month", (first + calendar.Month(i)).String(),
					"amount", a.Text("EUR"), "currency", sh.currency, "cost_centre", centres[sh.code], "activity",
					m.workOf(s, sh.code, elapsedAt(m.days, s, (first+calendar.Month(i)).Last())))
			}
		}
	}
	m.contingency(record.Budget, s)
	if s.change != 0 && m.raised(s) {
		m.add(record.Budget, "project", s.code, "cost_code", "21", "amount", money.Amount(100*s.change*float64(s.budget)).Text("EUR"),
			"from", "2026-11-02", "to", m.days.Finish(s.start, s.days).String(), "profile", "bell", "change", s.code+"-C1", "cost_centre",
			"CIV")
	}
}

func sum(list []money.Amount) (all money.Amount) {
	for _, a := range list {
		all += a
	}
	return all
}

// costs are what a share came to cost month by month up to AsOf, from the project's first month: what its work done was budgeted to
// cost, at the price that it really had.
func (m *maker) costs(s *spec, sh share) []money.Amount {
	first := s.start.Month()
	last := AsOf.Month()
	if s.status == "closed" && !s.past {
		last = first + calendar.Month(len(sh.budget)) - 1
	}
	last = max(last, m.asOf.Month())
	var all money.Amount
	for _, a := range sh.budget {
		all += a
	}
	var list []money.Amount
	for mo := first; mo <= last; mo++ {
		part := slope(m.reached(s, mo.Last())) - slope(m.reached(s, mo.First()-1))
		list = append(list, money.Amount(m.spent(s, mo)*part*float64(all)))
	}
	return list
}

// spent is what a month's work cost over what it was budgeted to.
func (m *maker) spent(s *spec, mo calendar.Month) float64 {
	switch {
	case s.past && elapsedAt(m.days, s, mo.Last()) <= 0.5: // what it will cost shows late
		return 1 + 0.4*s.final
	case s.past:
		return 1 + 1.6*s.final
	case s.status == "closed":
		return 1 + s.final
	}
	x := 1 + 0.6*s.final - s.early
	if i := int(mo - (AsOf.Month() - 5)); i > 0 {
		x += s.fading * float64(min(i, 5))
	}
	return x
}

// post splits a month's cost into postings on its working days.
func (m *maker) post(s *spec, sh share, mo calendar.Month, a money.Amount, per int) {
	r := own(s, sh.code+mo.String())
	w := make([]int64, per)
	for i := range w {
		w[i] = 50 + r.Int64N(100)
	}
	for _, part := range money.Split(a, w) {
		d := m.days.Add(mo.First(), r.IntN(19))
		m.posting(r, sh.code, sh.currency, m.workOf(s, sh.code, m.reached(s, mo.Last())), max(min(d, m.asOf, mo.Last()), s.start), part,
			s.code)
	}
}

func (m *maker) posting(r *rand.Rand, code, currency, activity string, d calendar.Date, a money.Amount, project string) {
	m.doc++
	supplier := suppliers[r.IntN(len(suppliers))]
	if currency == "SEK" {
		supplier = "Norrby Motor AB"
	}
	m.add(record.Actuals, "project", project, "cost_code", code, "date", d.String(), "amount", a.Text("EUR"), "currency", currency,
		"document", fmt.Sprintf("V%06d", 100000+m.doc), "supplier", supplier, "cost_centre", centres[code], "activity", activity)
}

// forecast writes what is still to be spent. A lead who let it sleep through a raise of the budget sends what was left of the month
// before's.
func (m *maker) forecast(s *spec) {
	from := m.asOf.Month() + 1
	if s.code != "BR-06" || m.asOf.Month() != raisedIn[s.code] {
		m.toGo(s, from)
		return
	}
	was, list := *m, open()
	old := list[slices.IndexFunc(list, func(x spec) bool { return x.code == s.code })]
	was.asOf = (m.asOf.Month() - 1).Last()
	was.then(&old)
	was.toGo(&old, from)
}

// toGo writes the part from a month on of what is still to be spent after m.asOf, so that the whole comes to the overrun of the story.
func (m *maker) toGo(s *spec, from calendar.Month) {
	_, list := m.shares(s)
	end := m.days.Add(m.days.Finish(s.start, s.days), s.slip).Month()
	next := m.asOf.Month() + 1
	for _, sh := range list {
		var all, done money.Amount
		for _, a := range sh.budget {
			all += a
		}
		for i, a := range m.costs(s, sh) {
			if s.start.Month()+calendar.Month(i) < next {
				done += a
			}
		}
		left := money.Amount((1+s.overrun)*float64(all)) - done
		if s.past { // as a total over the days to its end
			if left > 0 {
				m.add(record.Forecast, "project", s.code, "cost_code", sh.code, "from", next.First().String(), "to",
					max(end, next).Last().String(), "profile", "early", "amount", left.Text("EUR"), "currency", sh.currency, "cost_centre",
					centres[sh.code])
			}
			continue
		}
		n := max(1, int(end-next)+1)
		w := make([]int64, n)
		for i := range w {
			w[i] = int64(1 + (n-i)*(n-i))
		}
		for i, a := range money.Split(left, w) {
			if mo := next + calendar.Month(i); a != 0 && mo >= from {
				m.add(record.Forecast, "project", s.code, "cost_code", sh.code, "month", mo.String(),
					"amount", a.Text("EUR"), "currency", sh.currency, "cost_centre", centres[sh.code], "activity",
					m.workOf(s, sh.code, elapsedAt(m.days, s, mo.Last())-float64(s.slip)/float64(s.days)))
			}
		}
	}
	m.contingency(record.Forecast, s)
}
