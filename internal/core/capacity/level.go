package capacity

import (
	"cmp"
	"slices"

	"turret/internal/core/calendar"
)

// Task is work that may be done later without anything else moving: within its free float. A task whose float is 0 stays where it is.
type Task struct {
	Float    int32              // working days that it can wait
	Calendar *calendar.Calendar // of the activity, which the days are counted by; that of the organisation where nil
	Wants    []int32            // indexes of the assignments that move with it
}

// Levelled is a way of putting tasks off so that overloads shrink.
type Levelled struct {
	Shifts        []int32 // of each task, in working days
	Before, After int64   // hours wanted beyond those that are there, by role and day, in units of an hour (Unit)
	Exact         bool    // no way is better; else the tasks were put off one by one, those with the least float first
}

// mostTried bounds how many ways are tried before tasks are put off one by one.
const mostTried = 2_000_000

// Level puts tasks off within their free float so that the hours that roles are wanted beyond what is there become the fewest on the days
// from first to last; of equal ways the one that waits the fewest days, then the earlier task less. One role is solved exactly, by trying
// all ways but those that cannot be better, as long as these are not too many; several, or too many ways, task by task. Its time is
// bounded by the ways tried, two million, times the days of an assignment. The same input gives the same shifts.
func Level(env *Env, s *Staff, tasks []Task, first, last calendar.Date) Levelled {
	l := newLeveller(env, s, tasks, first, last)
	out := Levelled{Shifts: make([]int32, len(tasks)), Before: l.overload(make([]int32, len(tasks)))}
	if len(l.roles) == 1 {
		if best, ok := l.try(); ok {
			out.Shifts, out.Exact = best, true
			out.After = l.overload(best)
			return out
		}
	}
	out.Shifts = l.greedy()
	out.After = l.overload(out.Shifts)
	return out
}

// leveller holds what is there and wanted by role and day, and what each task wants by how long it waits.
type leveller struct {
	env         *Env
	first, last calendar.Date
	roles       map[string]int // index of each role, from 1
	there       []int64        // hours by role and day
	base        []int64        // wanted by what does not move
	wants       [][][]demand   // by task and shift
	days        int            // from first to last
	tried       int            // ways so far
}

// demand is what is wanted of a role on one day.
type demand struct {
	at    int32 // role times days plus day
	units int64 // of an hour
}

// newLeveller counts what stays, and what each task would want at each of its shifts. Only roles that a task wants are looked at.
func newLeveller(env *Env, s *Staff, tasks []Task, first, last calendar.Date) *leveller {
	l := &leveller{env: env, first: first, last: last, roles: map[string]int{}, days: int(last-first) + 1}
	moves := make([]bool, len(s.Assigned))
	role := func(a *Assignment) string {
		if a.Person >= 0 {
			return s.People[a.Person].Role
		}
		return a.Role
	}
	for _, t := range tasks {
		for _, i := range t.Wants {
			moves[i] = true
			if r := role(&s.Assigned[i]); l.roles[r] == 0 {
				l.roles[r] = len(l.roles) + 1
			}
		}
	}
	l.there, l.base = make([]int64, len(l.roles)*l.days), make([]int64, len(l.roles)*l.days)
	l.available(s)
	for i := range s.Assigned {
		if a := &s.Assigned[i]; !moves[i] && l.roles[role(a)] > 0 {
			for _, d := range l.of(s, a, l.roles[role(a)]-1, 0, nil) {
				l.base[d.at] += d.units
			}
		}
	}
	for _, t := range tasks {
		by := make([][]demand, t.Float+1)
		for shift := range by {
			for _, i := range t.Wants {
				a := &s.Assigned[i]
				by[shift] = append(by[shift], l.of(s, a, l.roles[role(a)]-1, shift, t.Calendar)...)
			}
		}
		l.wants = append(l.wants, by)
	}
	return l
}

// available adds up what people have, by role and day.
func (l *leveller) available(s *Staff) {
	for i := range s.People {
		p := &s.People[i]
		at := l.roles[p.Role]
		if at == 0 {
			continue
		}
		c, hours := l.env.calendarOf(p), l.env.hours(p)
		for d := l.first; d <= l.last; d++ {
			if c.Working(d) && p.here(d) {
				l.there[(at-1)*l.days+int(d-l.first)] += max(hours-p.away(d, hours), 0) * dayUnit
			}
		}
	}
}

// of is what an assignment wants by day, put off by some working days of a calendar.
func (l *leveller) of(s *Staff, a *Assignment, role, shift int, by *calendar.Calendar) []demand {
	c, hours := l.env.Calendar, l.env.Standard
	if a.Person >= 0 {
		c, hours = l.env.calendarOf(&s.People[a.Person]), l.env.hours(&s.People[a.Person])
	}
	from, to := a.From, a.To
	if shift > 0 {
		if by == nil {
			by = l.env.Calendar
		}
		from, to = by.Add(from, shift), by.Add(to, shift)
	}
	var list []demand
	for d := max(from, l.first); d <= min(to, l.last); d++ {
		if c.Working(d) {
			list = append(list, demand{int32(role*l.days + int(d-l.first)), a.Percent * hours})
		}
	}
	return list
}

// overload is what is wanted beyond what is there, with tasks put off.
func (l *leveller) overload(shifts []int32) int64 {
	all := slices.Clone(l.base)
	for t, shift := range shifts {
		for _, d := range l.wants[t][shift] {
			all[d.at] += d.units
		}
	}
	sum := int64(0)
	for i, wanted := range all {
		sum += max(wanted-l.there[i], 0)
	}
	return sum
}

// put adds a task to what is wanted, and returns how much the overload grows; sign -1 takes it away again.
func (l *leveller) put(all []int64, list []demand, sign int64) int64 {
	grown := int64(0)
	for _, d := range list {
		was := max(all[d.at]-l.there[d.at], 0)
		all[d.at] += sign * d.units
		grown += max(all[d.at]-l.there[d.at], 0) - was
	}
	return grown
}

// try tries all ways but those that cannot be better: what is wanted beyond only grows with each task. False where there are too many.
func (l *leveller) try() ([]int32, bool) {
	all := slices.Clone(l.base)
	start := int64(0)
	for i := range all {
		start += max(all[i]-l.there[i], 0)
	}
	now := make([]int32, len(l.wants))
	var best []int32
	bestOver, bestDays := int64(-1), int32(0)
	var step func(t int, over int64, days int32) bool
	step = func(t int, over int64, days int32) bool {
		if l.tried++; l.tried > mostTried {
			return false
		}
		if best != nil && (over > bestOver || over == bestOver && days >= bestDays) {
			return true
		}
		if t == len(now) {
			best, bestOver, bestDays = slices.Clone(now), over, days
			return true
		}
		for shift := range l.wants[t] {
			now[t] = int32(shift)
			grown := l.put(all, l.wants[t][shift], 1)
			ok := step(t+1, over+grown, days+int32(shift))
			l.put(all, l.wants[t][shift], -1)
			if !ok {
				return false
			}
		}
		now[t] = 0
		return true
	}
	return best, step(0, start, 0) && best != nil
}

// greedy puts tasks off one by one, those with the least float first, each so that the overload becomes the least, and as little as that
// takes.
func (l *leveller) greedy() []int32 {
	shifts := make([]int32, len(l.wants))
	all := slices.Clone(l.base)
	for t := range l.wants {
		l.put(all, l.wants[t][0], 1)
	}
	order := make([]int, len(l.wants))
	for t := range order {
		order[t] = t
	}
	slices.SortStableFunc(order, func(x, y int) int { return cmp.Compare(len(l.wants[x]), len(l.wants[y])) })
	for _, t := range order {
		l.put(all, l.wants[t][0], -1)
		least, at := int64(0), 0
		for shift := range l.wants[t] {
			grown := l.put(all, l.wants[t][shift], 1)
			l.put(all, l.wants[t][shift], -1)
			if shift == 0 || grown < least {
				least, at = grown, shift
			}
		}
		shifts[t] = int32(at)
		l.put(all, l.wants[t][at], 1)
	}
	return shifts
}
