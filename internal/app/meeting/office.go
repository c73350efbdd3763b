// Package meeting is the door to meetings: minutes taken on the fly, with the actions and decisions that are made from their lines, and
// agendas made of the decisions that a pack asked for.
package meeting

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/audit"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/letter"
	"turret/internal/app/register"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/risk"
	"turret/internal/record"
)

// Store keeps what meetings need.
type Store interface {
	kept.Reading
}

// Office is the door to meetings. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time

	audit    *audit.Office
	assess   *assess.Office
	edit     *edit.Office
	register *register.Office
	letter   *letter.Office
}

// NewOffice makes the door to meetings.
func NewOffice(store Store, now func() time.Time, audit *audit.Office, assess *assess.Office, edit *edit.Office,
	register *register.Office, letter *letter.Office) *Office {
	return &Office{store: store, now: now, audit: audit, assess: assess, edit: edit, register: register, letter: letter}
}

// Meeting is one with what came of it, as of a day.
type Meeting struct {
	risk.Meeting
	Holder    *measure.Project // a project, or a node
	Actions   []register.Line
	Decisions []register.Line
}

// Open is how many of its decisions are asked for still.
func (m *Meeting) Open() int {
	n := 0
	for i := range m.Decisions {
		if m.Decisions[i].Open {
			n++
		}
	}
	return n
}

// List are the meetings of a scope, the newest first.
func (o *Office) List(ctx context.Context, a *assess.Assessment, s *assess.Scope) ([]Meeting, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	view, err := o.assess.View(ctx, a.Env.AsOf)
	if err != nil {
		return nil, err
	}
	holders := map[string]*measure.Project{}
	for _, p := range slices.Concat(s.Nodes, s.Projects) {
		holders[p.Code] = p
	}
	f, err := view.Rows(ctx, record.Meetings, kept.Selection{})
	if err != nil {
		return nil, err
	}
	var list []Meeting
	for i := range f.Len() {
		if p := holders[f.OwnerOf(i)]; p != nil {
			list = append(list, of(a, p, f.Meeting(i)))
		}
	}
	slices.SortStableFunc(list, func(x, y Meeting) int {
		if x.Date != y.Date {
			return int(y.Date) - int(x.Date)
		}
		return strings.Compare(x.Holder.Code+x.Code, y.Holder.Code+y.Code)
	})
	return list, nil
}

// of is a meeting with what came of it: the actions and decisions that name it, of its holder and, where that is a node, of what is in it.
func of(a *assess.Assessment, p *measure.Project, m risk.Meeting) Meeting {
	x := Meeting{Meeting: m, Holder: p}
	s := &assess.Scope{Projects: []*measure.Project{p}}
	if p.Node {
		if in, err := a.Scope(p.Code); err == nil {
			s = in
		}
	}
	names := func(holder *measure.Project, name string) bool {
		return holder == p && name == m.Code || name == Ref(p.Code, m.Code)
	}
	for _, l := range register.Lines(a, s, record.Actions) {
		if names(l.Holder, l.Action.Meeting) {
			x.Actions = append(x.Actions, l)
		}
	}
	for _, l := range register.Lines(a, s, record.Decisions) {
		if names(l.Holder, l.Decision.Meeting) {
			x.Decisions = append(x.Decisions, l)
		}
	}
	register.ByUrgency(x.Actions)
	return x
}

// Ref names a meeting of a node in the records of projects below it.
func Ref(holder, code string) string { return holder + "/" + code }

// Find is one meeting; an unknown one is an error wrapping ErrNotFound.
func (o *Office) Find(ctx context.Context, a *assess.Assessment, holder, code string) (*Meeting, error) {
	p, err := assess.HolderOf(a, holder)
	if err != nil {
		return nil, err
	}
	sheet := &assess.Scope{Projects: []*measure.Project{p}}
	if n := a.NodeCodes[holder]; n != nil && !assess.NodeSeenBy(a, access.ActorOf(ctx), n) {
		return nil, notFound(holder, code)
	}
	list, err := o.List(ctx, a, sheet)
	if err != nil {
		return nil, err
	}
	for i := range list {
		if list[i].Code == code {
			return &list[i], nil
		}
	}
	return nil, notFound(holder, code)
}

func notFound(holder, code string) error {
	return fmt.Errorf("meeting %q of %s: %w", fault.Clip(code, 40), fault.Clip(holder, 40), fault.ErrNotFound)
}

// Send writes the minutes to the people who are named and have an address; it returns to whom they went, and who has none.
func (o *Office) Send(ctx context.Context, a *assess.Assessment, holder, code string) (sent, without []string, err error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return nil, nil, err
	}
	m, err := o.Find(ctx, a, holder, code)
	if err != nil {
		return nil, nil, err
	}
	if err := o.edit.MayEdit(ctx, record.Meetings, holder); err != nil {
		return nil, nil, err
	}
	addresses, err := o.letter.Addresses(ctx)
	if err != nil {
		return nil, nil, err
	}
	var to []string
	for _, name := range People(m.People) {
		if addresses[name] == "" {
			without = append(without, name)
			continue
		}
		sent, to = append(sent, name), append(to, addresses[name])
	}
	if len(to) == 0 {
		return nil, without, fault.Conflict("nobody who is named has an address: %s", or(strings.Join(without, ", "), "nobody is named"))
	}
	text := m.Title + ", " + m.Date.Human() + "\n" + m.People + "\n\n" + m.Minutes + "\n"
	for _, x := range to {
		if _, err := o.letter.Put(ctx, letter.Message{At: o.now(), By: actor.Login, To: x, Subject: "Minutes: " + m.Title + ", " +
			m.Date.Human(),
			Text: text}); err != nil {
			return nil, nil, err
		}
	}
	return sent, without, nil
}

func or(s, none string) string {
	if s == "" {
		return none
	}
	return s
}

// People are the names in a list parted by commas or semicolons.
func People(text string) []string {
	var list []string
	for _, name := range strings.FieldsFunc(text, func(r rune) bool { return r == ',' || r == ';' || r == '\n' }) {
		if name = strings.TrimSpace(name); name != "" && !slices.Contains(list, name) {
			list = append(list, name)
		}
	}
	return list
}

// dayOf is a day as minutes write it: ISO 8601, or with the name of the month; 0 for none.
func dayOf(text string) calendar.Date {
	if d, err := calendar.ParseDate(text); err == nil {
		return d
	}
	if t, err := time.Parse("2 Jan 2006", text); err == nil {
		return calendar.On(t.Year(), int(t.Month()), t.Day())
	}
	return 0
}
