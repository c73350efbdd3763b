package app

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
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
	Load    *Load    // the newest, nil where nothing ever came
	Refusal *Refused // the last, where it is newer than the load
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
	a, err := o.Assess(ctx, period.Last())
	if err != nil {
		return nil, err
	}
	settings, err := o.settings(ctx)
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
		if p.Status != "open" {
			continue
		}
		row := MatrixRow{Project: p}
		for _, k := range m.Kinds {
			want := settings.Expected(k)
			s := got.slot(p.ID, k, want, period)
			s.Refusal = s.Refusal.asSeenBy(actor)
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

func (m *Matrix) count(s *Slot, today calendar.Date) {
	if s.Arrival == NotExpected {
		return
	}
	m.Expected++
	m.LastDue = max(m.LastDue, s.Due)
	if !s.Wanting() {
		m.Came++
	} else if today > s.Due {
		s.Overdue = true
		m.Overdue++
	}
}

// Gathered is how many of the inputs expected for a period have come, for the one who asks. It is kept until something changes.
func (o *Office) Gathered(ctx context.Context, period calendar.Period) (came, expected int, err error) {
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
	m, err := o.Matrix(ctx, period, 0)
	if err != nil {
		return 0, 0, err
	}
	o.mu.Lock()
	defer o.mu.Unlock()
	if len(o.gathered) > 200 {
		clear(o.gathered)
	}
	o.gathered[key] = [2]int{m.Came, m.Expected}
	return m.Came, m.Expected, nil
}

type gatheredKey struct {
	head    int64
	period  calendar.Period
	account int64
	scopes  string
}

// arrived are the newest deliveries and refusals by project and kind.
type arrived struct {
	loads    map[int64]*Load
	newest   map[slotKey]Delivery // received for the period or before it
	refusals map[slotKey]*Refused
}

type slotKey struct {
	project int64
	kind    record.Kind
}

func (o *Office) arrivals(ctx context.Context, a *Assessment, period calendar.Period) (*arrived, error) {
	loads, err := o.store.Loads(ctx)
	if err != nil {
		return nil, err
	}
	g := &arrived{map[int64]*Load{}, map[slotKey]Delivery{}, map[slotKey]*Refused{}}
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
		key := slotKey{d.Project, d.Kind}
		if had, ok := g.newest[key]; !ok || g.loads[had.Load].Period <= l.Period {
			g.newest[key] = d
		}
	}
	refusals, err := o.store.Refusals(ctx, period)
	if err != nil {
		return nil, err
	}
	for i := range refusals {
		for _, code := range refusals[i].Projects {
			if p := a.byCode[code]; p != nil {
				g.refusals[slotKey{p.ID, refusals[i].Kind}] = &refusals[i]
			}
		}
	}
	return g, nil
}

func (g *arrived) slot(project int64, k record.Kind, want Expectation, period calendar.Period) Slot {
	s := Slot{Kind: k}
	key := slotKey{project, k}
	if d, ok := g.newest[key]; ok {
		s.Load, s.Rows = g.loads[d.Load], d.Rows
	}
	if r := g.refusals[key]; r != nil && (s.Load == nil || s.Load.Period < period || r.At.After(s.Load.ReceivedAt)) {
		s.Refusal = r
	}
	switch {
	case s.Load != nil && s.Load.Period == period && s.Refusal == nil:
		s.Arrival = Received
	case want.Rhythm == Never:
		s.Arrival = NotExpected
	case s.Refusal != nil:
		s.Arrival = RefusedLast
	case s.Load == nil:
		s.Arrival = Missing
	case want.Rhythm == Once:
		s.Arrival = Standing
	default:
		s.Arrival = Stale
	}
	return s
}

// asSeenBy leaves out what was wrong, which quotes the file, where that may hold more than the actor sees.
func (r *Refused) asSeenBy(a *access.Actor) *Refused {
	if r == nil || a.Unbounded() || r.Author == a.Name && !(a.HideMoney && r.Kind.IsCost()) {
		return r
	}
	x := *r
	x.First, x.File, x.Projects = "", "", nil
	return &x
}

// Message is a letter in the outbox.
type Message struct {
	File    string
	To      string
	Subject string
	Text    string
	At      time.Time
	By      string // login of who had it written

	Attached []Attachment
}

// Attachment is a file that goes with a message.
type Attachment struct {
	Name, Media string
	Bytes       []byte
}

// Outbox keeps messages as files for a mail system to fetch.
type Outbox interface {
	Put(m Message) (file string, err error)
	List() ([]Message, error)
	Open(file string) ([]byte, error)
	// Keep keeps a file that messages link to, by its content, and returns its name; Kept reads it.
	Keep(ending string, b []byte) (name string, err error)
	Kept(name string) ([]byte, error)
}

// Reminded says what came of reminders: the messages written, and the projects whose lead has no address.
type Reminded struct {
	Sent      []Message
	Unwritten []string
}

// Remind writes to the leads of projects with inputs still to come; projects of nil means all of them. A lead with several
// projects gets one message.
func (o *Office) Remind(ctx context.Context, period calendar.Period, today calendar.Date, projects []string) (*Reminded, error) {
	actor, err := access.Permit(ctx, access.Remind)
	if err != nil {
		return nil, err
	}
	m, err := o.Matrix(ctx, period, today)
	if err != nil {
		return nil, err
	}
	addresses, err := o.addresses(ctx)
	if err != nil {
		return nil, err
	}
	settings, err := o.settings(ctx)
	if err != nil {
		return nil, err
	}
	r := &Reminded{}
	var leads []string
	by := map[string][]MatrixRow{}
	for _, row := range m.Rows {
		if row.Wanting == 0 || projects != nil && !slices.Contains(projects, row.Project.Code) {
			continue
		}
		lead := row.Project.Lead
		if addresses[lead] == "" {
			r.Unwritten = append(r.Unwritten, fmt.Sprintf("%s (%s)", row.Project.Code, orNobody(lead)))
			continue
		}
		if by[lead] == nil {
			leads = append(leads, lead)
		}
		by[lead] = append(by[lead], row)
	}
	for _, lead := range leads {
		msg := reminder(lead, addresses[lead], signature(actor, settings), m, by[lead], o.now())
		if msg.File, err = o.put(ctx, msg); err != nil {
			return r, err
		}
		r.Sent = append(r.Sent, msg)
		if err := o.store.Note(ctx, o.note(ctx, "remind", lead, "", msg.Subject)); err != nil {
			return r, err
		}
	}
	return r, nil
}

// addresses are where the people who may sign in can be written to, by their names.
func (o *Office) addresses(ctx context.Context) (map[string]string, error) {
	accounts, err := o.store.Accounts(ctx)
	by := map[string]string{}
	for _, a := range accounts {
		if a.Email != "" && a.Active {
			by[a.Name] = a.Email
		}
	}
	return by, err
}

// blind are the names of people from whom costs are kept.
func (o *Office) blind(ctx context.Context) (map[string]bool, error) {
	accounts, err := o.store.Accounts(ctx)
	list := map[string]bool{}
	for i := range accounts {
		if accounts[i].HideMoney {
			list[accounts[i].Name] = true
		}
	}
	return list, err
}

// signature is who writes, with the organisation where the settings name it.
func signature(a *access.Actor, s *Settings) string {
	if s.Organisation == "" {
		return a.Name
	}
	return a.Name + "\n" + s.Organisation
}

func orNobody(s string) string {
	if s == "" {
		return "no lead"
	}
	return s
}

func reminder(lead, to, from string, m *Matrix, rows []MatrixRow, at time.Time) Message {
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
	word := "inputs are"
	if n == 1 {
		word = "input is"
	}
	return Message{To: to, At: at, Subject: fmt.Sprintf("%s: %d %s still to come", m.Period.Name(), n, word),
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

// put writes a message in the name of who asks.
func (o *Office) put(ctx context.Context, m Message) (string, error) {
	if actor := access.ActorOf(ctx); actor != nil {
		m.By = actor.Login
	}
	return o.mail.Put(m)
}

// Outbox lists the messages written, newest first: all of them to those from whom nothing is kept, to others their own.
func (o *Office) Outbox(ctx context.Context) ([]Message, error) {
	actor, err := access.Permit(ctx, access.Remind)
	if err != nil {
		return nil, err
	}
	list, err := o.mail.List()
	return slices.DeleteFunc(list, func(m Message) bool { return !actor.Unbounded() && m.By != actor.Login }), err
}

// OpenMessage reads a message of the outbox as it was written.
func (o *Office) OpenMessage(ctx context.Context, file string) ([]byte, error) {
	actor, err := access.Permit(ctx, access.Remind)
	if err != nil {
		return nil, err
	}
	if actor.Unbounded() {
		return o.mail.Open(file)
	}
	list, err := o.Outbox(ctx)
	if err != nil {
		return nil, err
	}
	if !slices.ContainsFunc(list, func(m Message) bool { return m.File == file }) {
		return nil, fmt.Errorf("message: %w", fault.ErrNotFound)
	}
	return o.mail.Open(file)
}
