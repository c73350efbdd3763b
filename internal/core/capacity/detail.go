package capacity

import (
	"cmp"
	"slices"
	"strings"

	"turret/internal/core/calendar"
)

// Has is what one person has of the days asked for. Available and Away add up to the hours of its days.
type Has struct {
	Person    int32
	Days      int   // working days on which the person is here
	Available int64 // units of an hour, less what they are away
	Away      int64 // units that absences take of those days
}

// Wants is what one assignment asks for on the days asked for.
type Wants struct {
	Assignment int32 // index among the assignments
	Days       int   // working days of its calendar
	Units      int64 // of an hour
}

// Detail is what a row of a table is made up of.
type Detail struct {
	Has   []Has
	Wants []Wants // most first
	Total Cell
}

// Explain tells what makes up the row of a name on some days: what each person has, and what each assignment wants. It adds up to the
// cell of the table.
func Explain(env *Env, s *Staff, by By, name string, first, last calendar.Date) Detail {
	var d Detail
	for i := range s.People {
		p := &s.People[i]
		if by.Of(p) != name {
			continue
		}
		h := has(env, p, first, last)
		h.Person = int32(i)
		d.Total.Available += h.Available
		if h.Days > 0 {
			d.Has = append(d.Has, h)
		}
	}
	for i := range s.Assigned {
		a := &s.Assigned[i]
		if s.RowOf(a, by) != name {
			continue
		}
		days, units := env.wanted(s, a, first, last)
		if days == 0 || units == 0 {
			continue
		}
		d.Wants = append(d.Wants, Wants{int32(i), days, units})
		if d.Total.Demand += units; a.Person < 0 {
			d.Total.Unstaffed += units
		}
	}
	slices.SortStableFunc(d.Wants, func(a, b Wants) int { return cmp.Compare(b.Units, a.Units) })
	return d
}

// RowOf is the name of the row that an assignment counts in.
func (s *Staff) RowOf(a *Assignment, by By) string {
	if a.Person >= 0 {
		return by.Of(&s.People[a.Person])
	}
	return by.unnamed(a.Role)
}

// wanted are the working days that an assignment has among some days, and the units of an hour that it wants on them. Days of a calendar
// on which the person is absent, or not here, are wanted all the same.
func (e *Env) wanted(s *Staff, a *Assignment, first, last calendar.Date) (days int, units int64) {
	c, hours := e.Calendar, e.Standard
	if a.Person >= 0 {
		c, hours = e.calendarOf(&s.People[a.Person]), e.hours(&s.People[a.Person])
	}
	days = c.Count(max(first, a.From), min(last, a.To))
	return days, int64(days) * a.Percent * hours
}

// has walks over the days of a person.
func has(env *Env, p *Person, first, last calendar.Date) Has {
	var h Has
	c, hours := env.calendarOf(p), env.hours(p)
	for d := first; d <= last; d++ {
		if !c.Working(d) || !p.here(d) {
			continue
		}
		h.Days++
		left := max(hours-p.away(d, hours), 0)
		h.Available += left * dayUnit
		h.Away += (hours - left) * dayUnit
	}
	return h
}

// away are the hours of a day that absences take of a person, in ten-thousandths; all of them on a day that one takes whole.
func (p *Person) away(d calendar.Date, hours int64) int64 {
	n := int64(0)
	for i := range p.Absences {
		switch x := &p.Absences[i]; {
		case d < x.From || d > x.To:
		case !x.Hours.Given:
			return hours
		default:
			n += x.Hours.N
		}
	}
	return n
}

// Spare is somebody with the hours that they have free on some days, below zero where more is wanted of them than they have.
type Spare struct {
	Person   int32
	SameRole bool  // else they are of the team alone
	Units    int64 // free hours, below zero where more is wanted than there is
	Out      bool  // they have no hours at all on those days
}

// WhoCould lists who could take work of a role on some days: those of the role by free hours, most first, then those of the team besides;
// ties by code.
func WhoCould(env *Env, s *Staff, role, team string, first, last calendar.Date) []Spare {
	wanted := make([]int64, len(s.People))
	for i := range s.Assigned {
		if a := &s.Assigned[i]; a.Person >= 0 {
			_, units := env.wanted(s, a, first, last)
			wanted[a.Person] += units
		}
	}
	var list []Spare
	for i := range s.People {
		p := &s.People[i]
		same := p.Role == role && role != ""
		if !same && (team == "" || p.Team != team) {
			continue
		}
		h := has(env, p, first, last)
		list = append(list, Spare{int32(i), same, h.Available - wanted[i], h.Available == 0})
	}
	slices.SortFunc(list, func(a, b Spare) int {
		if a.SameRole != b.SameRole {
			if a.SameRole {
				return -1
			}
			return 1
		}
		return cmp.Or(cmp.Compare(b.Units, a.Units), strings.Compare(s.People[a.Person].Code, s.People[b.Person].Code))
	})
	return list
}

// Share is what one assignment of a project wants up to the as-of date and after it, in units of an hour. The two add up to what it wants
// in all, whichever day they are parted on.
type Share struct {
	Assignment
	Who         string // code of the person, else the role
	Past, Ahead int64  // units of an hour
}

// Shares are the parts that assignments have in the work of their project, in their order.
func Shares(env *Env, s *Staff) []Share {
	list := make([]Share, len(s.Assigned))
	for i := range s.Assigned {
		a := &s.Assigned[i]
		x := &list[i]
		x.Assignment, x.Who = *a, a.Role
		if a.Person >= 0 {
			x.Who = s.People[a.Person].Code
		}
		_, x.Past = env.wanted(s, a, 1, env.AsOf)
		_, x.Ahead = env.wanted(s, a, env.AsOf+1, calendar.MaxDate)
	}
	return list
}
