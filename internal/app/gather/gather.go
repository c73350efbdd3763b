package gather

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/letter"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Delivery is what a standing load brought of one kind for one project.
type Delivery struct {
	Project int64
	Kind    record.Kind
	Load    int64
	Rows    int
}

// Arrival is how an input of a project stands for a period.
type Arrival string

// The arrivals. Stale is an input whose newest load was for an earlier period; late ones are missing past their due date.
const (
	Received    Arrival = "received"
	Standing    Arrival = "standing" // expected once, and there
	Stale       Arrival = "stale"
	Missing     Arrival = "missing"
	RefusedLast Arrival = "refused"
	NotExpected Arrival = "not expected"
)

// Slot is one cell of the matrix.
type Slot struct {
	Kind    record.Kind
	Arrival Arrival
	Load    *kept.Load      // the newest that was sent, nil where nothing ever came
	Mended  *kept.Load      // what the office typed for the period since then; it does not make the input come
	Refusal *intake.Refused // the last, where it is newer than the load
	Rows    int
	Due     calendar.Date
	Overdue bool // by the day asked for
	Exempt  bool // not expected of this project by choice
}

// Wanting reports whether the input is still to come.
func (s *Slot) Wanting() bool {
	return s.Arrival == Stale || s.Arrival == Missing || s.Arrival == RefusedLast
}

// MatrixRow is a project with its inputs.
type MatrixRow struct {
	Project *measure.Info
	Slots   []Slot
	Wanting int
}

// Matrix is what has come for a period and what has not.
type Matrix struct {
	Period   calendar.Period
	AsOf     calendar.Date
	Kinds    []record.Kind
	Rows     []MatrixRow
	Expected int // inputs expected in all
	Came     int // of those
	Overdue  int
	LastDue  calendar.Date
}

// Matrix holds what came in against what is expected for a period, for the open projects that the one who asks may see.
// today decides what is overdue.
func (o *Office) Matrix(ctx context.Context, period calendar.Period, today calendar.Date) (*Matrix, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return nil, err
	}
	a, err := o.assess.Day(ctx, period.Last())
	if err != nil {
		return nil, err
	}
	return o.matrixOf(ctx, actor, a, period, today)
}

func (o *Office) matrixOf(ctx context.Context, actor *access.Actor, a *assess.Assessment, period calendar.Period,
	today calendar.Date) (*Matrix, error) {
	settings, err := o.setting.Now(ctx)
	if err != nil {
		return nil, err
	}
	got, err := o.arrivals(ctx, a, period)
	if err != nil {
		return nil, err
	}
	m := &Matrix{Period: period, AsOf: period.Last(), Kinds: record.MatrixKinds()}
	for i := range a.Masters.Projects {
		p := &a.Masters.Projects[i]
		if p.Status != measure.Open {
			continue
		}
		row := MatrixRow{Project: p}
		for _, k := range m.Kinds {
			want := settings.Expected(k)
			s := got.slot(p.ID, k, want, period)
			s.Refusal = asSeenBy(s.Refusal, actor)
			s.Due = a.Env.Calendar.Add(m.AsOf, want.Due)
			if slices.Contains(settings.NotExpected[p.Code], k) {
				s.Exempt, s.Arrival = true, NotExpected
			}
			m.count(&s, today)
			if s.Wanting() {
				row.Wanting++
			}
			row.Slots = append(row.Slots, s)
		}
		m.Rows = append(m.Rows, row)
	}
	return m, nil
}

// Within is the part of a matrix that is of some projects, with its own counts.
func (m *Matrix) Within(keep func(*measure.Info) bool) *Matrix {
	part := &Matrix{Period: m.Period, AsOf: m.AsOf, Kinds: m.Kinds}
	for i := range m.Rows {
		row := &m.Rows[i]
		if !keep(row.Project) {
			continue
		}
		part.Rows = append(part.Rows, *row)
		for j := range row.Slots {
			part.add(&row.Slots[j])
		}
	}
	return part
}

// add counts a slot of which it is known whether it is overdue.
func (m *Matrix) add(s *Slot) {
	if s.Arrival == NotExpected {
		return
	}
	m.Expected++
	m.LastDue = max(m.LastDue, s.Due)
	if !s.Wanting() {
		m.Came++
	}
	if s.Overdue {
		m.Overdue++
	}
}

func (m *Matrix) count(s *Slot, today calendar.Date) {
	s.Overdue = s.Arrival != NotExpected && s.Wanting() && today > s.Due
	m.add(s)
}

// Counts is how many of the inputs expected for a period have come, for the one who asks, of the projects known when the period was
// computed last, so that nobody waits for that. It is kept until something changes.
func (o *Office) Counts(ctx context.Context, period calendar.Period) (came, expected int, err error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return 0, 0, err
	}
	head, err := o.store.Head(ctx)
	if err != nil {
		return 0, 0, err
	}
	key := gatheredKey{head, period, actor.Account, strings.Join(actor.Scopes, "\x00")}
	o.mu.Lock()
	known, ok := o.gathered[key]
	o.mu.Unlock()
	if ok {
		return known[0], known[1], nil
	}
	a := o.assess.AtHand(ctx, period.Last())
	if a == nil {
		if a, err = o.assess.Day(ctx, period.Last()); err != nil {
			return 0, 0, err
		}
	}
	m, err := o.matrixOf(ctx, actor, a, period, 0)
	if err != nil {
		return 0, 0, err
	}
	if a.Head() == head {
		o.keep(key, m)
	}
	return m.Came, m.Expected, nil
}

func (o *Office) keep(key gatheredKey, m *Matrix) {
	o.mu.Lock()
	defer o.mu.Unlock()
	if len(o.gathered) > 200 {
		clear(o.gathered)
	}
	o.gathered[key] = [2]int{m.Came, m.Expected}
}

type gatheredKey struct {
	head    int64
	period  calendar.Period
	account int64
	scopes  string
}

// arrived are the newest deliveries and refusals by project and kind.
type arrived struct {
	loads    map[int64]*kept.Load
	newest   map[assess.SlotKey]Delivery // received for the period or before it
	byHand   map[assess.SlotKey]Delivery // typed by the office, likewise
	refusals map[assess.SlotKey]*intake.Refused
}

func (o *Office) arrivals(ctx context.Context, a *assess.Assessment, period calendar.Period) (*arrived, error) {
	loads, err := o.store.Loads(ctx)
	if err != nil {
		return nil, err
	}
	g := &arrived{map[int64]*kept.Load{}, map[assess.SlotKey]Delivery{}, map[assess.SlotKey]Delivery{},
		map[assess.SlotKey]*intake.Refused{}}
	for i := range loads {
		g.loads[loads[i].ID] = &loads[i]
	}
	list, err := o.store.Deliveries(ctx)
	if err != nil {
		return nil, err
	}
	for _, d := range list { // ascending by load
		l := g.loads[d.Load]
		if l == nil || l.Withdrawn() || l.Period > period {
			continue
		}
		newest := g.newest
		if l.Source == kept.ByHand {
			newest = g.byHand
		}
		key := assess.SlotKey{Project: d.Project, Kind: d.Kind}
		if had, ok := newest[key]; !ok || g.loads[had.Load].Period <= l.Period {
			newest[key] = d
		}
	}
	refusals, err := o.store.Refusals(ctx, period)
	if err != nil {
		return nil, err
	}
	for i := range refusals {
		for _, code := range refusals[i].Projects {
			if p := a.ByCode[code]; p != nil {
				g.refusals[assess.SlotKey{Project: p.ID, Kind: refusals[i].Kind}] = &refusals[i]
			}
		}
	}
	return g, nil
}

func (g *arrived) slot(project int64, k record.Kind, want setting.Expectation, period calendar.Period) Slot {
	s := Slot{Kind: k}
	key := assess.SlotKey{Project: project, Kind: k}
	d, sent := g.newest[key]
	typed, mended := g.byHand[key]
	switch {
	case sent:
		s.Load, s.Rows = g.loads[d.Load], d.Rows
		if l := g.loads[typed.Load]; mended && l.Period == period && l.ID > s.Load.ID {
			s.Mended = l
		}
	case mended: // nobody ever sent it: typing is how it comes
		s.Load, s.Rows = g.loads[typed.Load], typed.Rows
	}
	if r := g.refusals[key]; r != nil && (s.Load == nil || s.Load.Period < period || r.At.After(s.Load.ReceivedAt)) {
		s.Refusal = r
	}
	switch {
	case s.Load != nil && s.Load.Period == period && s.Refusal == nil:
		s.Arrival = Received
	case want.Rhythm == setting.Never:
		s.Arrival = NotExpected
	case s.Refusal != nil:
		s.Arrival = RefusedLast
	case s.Load == nil:
		s.Arrival = Missing
	case want.Rhythm == setting.Once:
		s.Arrival = Standing
	default:
		s.Arrival = Stale
	}
	return s
}

// asSeenBy leaves out what was wrong, which quotes the file, where that may hold more than the actor sees.
func asSeenBy(r *intake.Refused, a *access.Actor) *intake.Refused {
	if r == nil || a.Unbounded() || r.Author == a.Name && !(a.HideMoney && r.Kind.IsCost()) {
		return r
	}
	x := *r
	x.First, x.File, x.Projects = "", "", nil
	return &x
}

// Remind writes to the leads of projects with inputs still to come; projects of nil means all of them. A lead with several
// projects gets one message.
func (o *Office) Remind(ctx context.Context, period calendar.Period, today calendar.Date, projects []string) (*letter.Reminded, error) {
	actor, err := access.Permit(ctx, access.Remind)
	if err != nil {
		return nil, err
	}
	m, err := o.Matrix(ctx, period, today)
	if err != nil {
		return nil, err
	}
	addresses, err := o.letter.Addresses(ctx)
	if err != nil {
		return nil, err
	}
	settings, err := o.setting.Now(ctx)
	if err != nil {
		return nil, err
	}
	round := letter.NewRound[MatrixRow](addresses)
	for _, row := range m.Rows {
		if row.Wanting > 0 && (projects == nil || slices.Contains(projects, row.Project.Code)) {
			round.Tell(row.Project.Lead, row.Project.Code, row)
		}
	}
	return round.Send(func(lead, to string, rows []MatrixRow) (msg letter.Message, err error) {
		msg = reminder(lead, to, letter.Signature(actor, settings), m, rows, o.now())
		if msg.File, err = o.letter.Put(ctx, msg); err != nil {
			return msg, err
		}
		return msg, o.store.Note(ctx, o.audit.Entry(ctx, "remind", lead, "", msg.Subject))
	})
}

func reminder(lead, to, from string, m *Matrix, rows []MatrixRow, at time.Time) letter.Message {
	n := 0
	list := ""
	for _, row := range rows {
		list += fmt.Sprintf("\n%s %s\n", row.Project.Code, row.Project.Name)
		for _, s := range row.Slots {
			if !s.Wanting() {
				continue
			}
			n++
			list += fmt.Sprintf("  - %s, due %s%s\n", s.Kind.Title(), s.Due.Human(), s.lately(lead))
		}
	}
	return letter.Message{To: to, At: at, Subject: m.Period.Name() + ": " + write.Count(n, "input is", "inputs are") + " still to come",
		Text: fmt.Sprintf("Dear %s,\n\nfor the report as of %s the following is still to come:\n%s\n"+
			"A file in any of the usual forms will do; a template filled with what you sent last can be had on the Gather "+
			"screen.\n\nThank you\n%s\n",
			lead, m.AsOf.Human(), list, from)}
}

// lately says what came last, to somebody who may have sent something else than what was refused.
func (s *Slot) lately(to string) string {
	switch {
	case s.Arrival == RefusedLast && s.Refusal.Author != to:
		return " (what came was refused)"
	case s.Arrival == RefusedLast:
		return " (what came was refused: " + fault.Clip(s.Refusal.First, 200) + ")"
	case s.Load != nil:
		return " (the last one was for " + s.Load.Period.Name() + ")"
	}
	return ""
}
