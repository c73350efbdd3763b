package people

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/register"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// helpDays is how many working days are looked back on.
const helpDays = 7

// silentDays is after how many working days in which nothing of somebody moved they are silent, where they have something in work.
const silentDays = 2

// Help is how somebody's work stands over all projects: actions, issues, activities and backlog items that name them.
type Help struct {
	Person    *capacity.Person
	Given     int           // open
	InWork    int           // of these
	Done      [helpDays]int // by working day up to the as-of date, the earliest first
	Overdue   int
	Blocked   int           // waiting, on hold, or blocked
	Unplanned int           // of the given, what came after its iteration had begun
	Late      []string      // what is overdue or blocked, by name, the first of them
	Moved     calendar.Date // the last day on which something began, came or ended; 0 for none
	Silent    int           // working days since; 0 where they are not silent
	Away      string        // why they are not at work on the as-of date; empty where they are
}

// Wants reports whether somebody might need help. Those who are away are left in peace.
func (h *Help) Wants() bool { return h.Away == "" && (h.Overdue > 0 || h.Blocked > 0 || h.Silent > 0) }

// HelpDays are the last working days up to a day, ascending.
func HelpDays(c *calendar.Calendar, day calendar.Date) [helpDays]calendar.Date {
	var list [helpDays]calendar.Date
	for i := helpDays - 1; i >= 0; i-- {
		for day > 1 && !c.Working(day) {
			day--
		}
		list[i] = day
		day--
	}
	return list
}

// mostNamed is how many records are named of somebody.
const mostNamed = 3

// HelpOf tells how the work of people stands who have any: those whom the one who asks has to do with, of whom a project they see wants
// something. It is read to help, and seen by the person, those who plan with them and nobody else.
func HelpOf(ctx context.Context, a *assess.Assessment) ([]Help, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return nil, err
	}
	t := &helper{a: a, at: map[string]int{}, days: HelpDays(a.Env.Calendar, a.Env.AsOf)}
	for i := range a.People {
		p := &a.People[i]
		if name := a.Settings.OwnerOf(p.Name); actor.May(access.Send) || name == actor.Name {
			t.at[name] = len(t.list)
			t.list = append(t.list, Help{Person: p, Away: awayOn(p, a)})
		}
	}
	s := &assess.Scope{Projects: a.Projects, Nodes: a.Holders}
	for _, kind := range []record.Kind{record.Actions, record.Issues, record.Activities} {
		for _, l := range register.Lines(a, s, kind) {
			t.line(&l)
		}
	}
	t.backlogs()
	list := slices.DeleteFunc(t.list, func(h Help) bool { return h.Given == 0 && h.Done == [helpDays]int{} })
	for i := range list {
		list[i].quiet(a)
	}
	slices.SortStableFunc(list, func(x, y Help) int {
		return cmp.Or(trouble(&y)-trouble(&x), cmp.Compare(x.Person.Name, y.Person.Name))
	})
	return list, nil
}

// trouble is how much of somebody's work is in trouble; nothing of those who are left in peace.
func trouble(h *Help) int {
	if !h.Wants() {
		return 0
	}
	return 2*h.Blocked + 2*h.Overdue + h.Silent
}

type helper struct {
	a    *assess.Assessment
	at   map[string]int
	list []Help
	days [helpDays]calendar.Date
}

// of finds whose a record is; nil for those who are not told of.
func (t *helper) of(owner string) *Help {
	if i, ok := t.at[t.a.Settings.OwnerOf(owner)]; ok && owner != "" {
		return &t.list[i]
	}
	return nil
}

func (h *Help) moved(d, asOf calendar.Date) {
	if d <= asOf {
		h.Moved = max(h.Moved, d)
	}
}

// ended counts something that ended on a day.
func (t *helper) ended(h *Help, d calendar.Date) {
	if i := slices.Index(t.days[:], d); i >= 0 {
		h.Done[i]++
	}
	h.moved(d, t.a.Env.AsOf)
}

func (h *Help) name(text string) {
	if len(h.Late) < mostNamed {
		h.Late = append(h.Late, text)
	}
}

// line counts a record. What has not begun and is not due is given, and no more.
func (t *helper) line(l *register.Line) {
	h := t.of(l.Owner)
	if h == nil || !l.Holder.Node && l.Holder.Status != measure.Open {
		return
	}
	h.moved(l.Raised, t.a.Env.AsOf)
	if l.Work != nil {
		h.moved(l.Work.ActualStart, t.a.Env.AsOf)
	}
	if !l.Open {
		t.ended(h, l.Ended)
		return
	}
	h.Given++
	if l.InWork() {
		h.InWork++
	}
	if l.Late {
		h.Overdue++
		h.name(l.Holder.Code + " " + l.Title + ", overdue")
	} else if l.OnHold() {
		h.Blocked++
		h.name(l.Holder.Code + " " + l.Title + ", " + l.StateOf())
	}
}

// backlogs counts the items of backlogs.
func (t *helper) backlogs() {
	asOf := t.a.Env.AsOf
	for _, p := range t.a.Projects {
		if p.Status != measure.Open {
			continue
		}
		b := measure.BacklogOf(p)
		for i := range p.Items {
			x := &p.Items[i]
			h := t.of(x.Owner)
			if h == nil || !x.Here(asOf) {
				continue
			}
			h.moved(x.Added, asOf)
			if x.Done(asOf) {
				t.ended(h, x.Accepted)
				continue
			}
			h.Given++
			if b.Unplanned(x) {
				h.Unplanned++
			}
			if x.State == "doing" {
				h.InWork++
			}
			if x.Blocked != "" {
				h.Blocked++
				h.name(p.Code + " " + x.Title + ", blocked")
			}
		}
	}
}

// quiet tells whether somebody is silent.
func (h *Help) quiet(a *assess.Assessment) {
	if h.InWork == 0 || h.Moved == 0 {
		return
	}
	c := a.Env.Calendar
	if h.Person.Calendar != nil {
		c = h.Person.Calendar
	}
	if n := c.Count(h.Moved+1, a.Env.AsOf); n >= silentDays {
		h.Silent = n
	}
}

// awayOn says why somebody is not at work on the as-of date.
func awayOn(p *capacity.Person, a *assess.Assessment) string {
	day := a.Env.AsOf
	for !a.Env.Calendar.Working(day) && day > 1 {
		day--
	}
	switch {
	case p.From != 0 && day < p.From:
		return "not here yet"
	case p.To != 0 && day > p.To:
		return "not here any more"
	}
	for i := range p.Absences {
		if x := &p.Absences[i]; x.From <= day && day <= x.To && !x.Hours.Given {
			return cmp.Or(x.Reason, "away") + " until " + x.To.Human()
		}
	}
	return ""
}
