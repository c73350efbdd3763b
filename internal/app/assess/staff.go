package assess

import (
	"context"
	"maps"
	"slices"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// CapacityOf is what hours of people are counted by.
func CapacityOf(a *Assessment) *capacity.Env {
	return &capacity.Env{Standard: a.Settings.DayHours(), Calendar: a.Env.Calendar, AsOf: a.Env.AsOf}
}

// readPeople fills in who works here, with their calendars and absences.
func readPeople(ctx context.Context, a *Assessment, s kept.Reading) error {
	a.People = make([]capacity.Person, 0, len(a.Masters.People))
	a.personAt = make(map[string]int32, len(a.Masters.People))
	for i := range a.Masters.People {
		p := &a.Masters.People[i]
		a.personAt[p.Code] = int32(i)
		a.People = append(a.People, capacity.Person{Code: p.Code, Name: p.Name, Role: p.Role, Team: p.Team, Centre: p.Centre, From: p.From,
			To:    p.To,
			Hours: p.HoursPerDay, Target: p.Target, Calendar: a.Calendars[p.Calendar], Ref: p.Ref}) // none: that of the organisation
	}
	if len(a.People) == 0 {
		return nil
	}
	f, err := s.Rows(ctx, record.Absences, kept.Selection{})
	if err != nil {
		return err
	}
	for i := range f.Len() {
		if at, ok := a.personAt[f.Cell(i, "person")]; ok {
			a.People[at].Absences = append(a.People[at].Absences, f.Absence(i))
		}
	}
	return nil
}

// personAt is the index of a person by code; capacity.Nobody where there is none.
func personAt(a *Assessment, code string) int32 {
	if at, ok := a.personAt[code]; ok {
		return at
	}
	return capacity.Nobody
}

// readAssignments fills in what projects want of people, and what checks need to know of it. Those of all projects are read, since
// somebody is as busy as all of them make them.
func readAssignments(ctx context.Context, a *Assessment, s kept.Reading, only []int64, at func(int64, func(*measure.Project))) error {
	f, err := s.Rows(ctx, record.Assignments, kept.Selection{})
	if err != nil {
		return err
	}
	ids, by := a.Masters.Holders(), map[int64][]capacity.Assignment{}
	codes := map[fact.Ref]string{}
	for i := range f.Len() {
		id := ids[f.OwnerOf(i)]
		x := f.Assignment(i)
		if x.Person = personAt(a, f.Cell(i, "person")); x.Person == capacity.Nobody {
			codes[x.Ref] = f.Cell(i, "person")
		}
		by[id] = append(by[id], x)
	}
	env := CapacityOf(a)
	runs := overloads(a, env, by)
	for id, list := range by {
		if only != nil && !slices.Contains(only, id) {
			continue
		}
		at(id, func(p *measure.Project) {
			p.Shares = capacity.Shares(env, &capacity.Staff{People: a.People, Assigned: list})
			p.Audit.Staffing = staffingOf(a, list, codes, runs)
		})
	}
	return nil
}

// overloadAhead is for how many days from the as-of date on overloads are looked for.
const overloadAhead = 26 * 7

// run is a stretch of weeks.
type run struct {
	weeks       int
	first, last calendar.Date
}

// overloads are the stretches of weeks in which people are overloaded, by person. Weeks in which nothing is there of somebody are none.
func overloads(a *Assessment, env *capacity.Env, by map[int64][]capacity.Assignment) map[int32][]run {
	staff := &capacity.Staff{People: a.People}
	for i := range a.Masters.Projects {
		if p := &a.Masters.Projects[i]; p.Status != measure.Cancelled && p.Status != measure.Proposed {
			for _, x := range by[p.ID] {
				if x.Person >= 0 && x.To > a.Env.AsOf && x.From <= a.Env.AsOf+overloadAhead {
					staff.Assigned = append(staff.Assigned, x)
				}
			}
		}
	}
	if len(staff.Assigned) == 0 {
		return nil
	}
	list := map[int32][]run{}
	limits := a.Settings.LoadLimits()
	spans := capacity.Weeks(a.Env.AsOf+1, min(a.Env.AsOf+overloadAhead, calendar.MaxDate))
	for _, r := range capacity.Table(env, staff, capacity.ByPerson, spans) {
		if r.Name == "" || r.Available == 0 || limits.Of(&r.Cell) != capacity.Over {
			continue
		}
		who, span := personAt(a, r.Name), &spans[r.Span]
		runs := list[who]
		if n := len(runs); n > 0 && runs[n-1].last+1 == span.First {
			runs[n-1].weeks++
			runs[n-1].last = span.Last
			continue
		}
		list[who] = append(runs, run{1, span.First, span.Last})
	}
	return list
}

// staffingOf is what checks need of a project's assignments.
func staffingOf(a *Assessment, list []capacity.Assignment, codes map[fact.Ref]string, runs map[int32][]run) (s check.Staffing) {
	at := map[int32]int{}
	for i := range list {
		x := &list[i]
		row := check.Assigned{From: x.From, To: x.To, Ref: x.Ref, Activity: x.Activity, Who: codes[x.Ref], Unknown: codes[x.Ref] != ""}
		if x.Person < 0 {
			s.Assigned = append(s.Assigned, row)
			continue
		}
		p := &a.People[x.Person]
		row.Who, row.Here, row.Gone = p.Code, p.From, p.To
		s.Assigned = append(s.Assigned, row)
		k, ok := at[x.Person]
		if !ok {
			k = len(s.Named)
			at[x.Person] = k
			s.Named = append(s.Named, check.Loaded{Who: p.Code, Ref: x.Ref})
		}
		for _, r := range runs[x.Person] {
			if l := &s.Named[k]; x.From <= r.last && x.To >= r.first && r.weeks > l.Weeks {
				l.Weeks, l.First, l.Ref = r.weeks, r.first, x.Ref
			}
		}
	}
	return s
}

// StaffOf is what the hours of people are counted from, of some projects: those that are cancelled want nobody, and proposals only where
// they are asked for.
func StaffOf(a *Assessment, projects []*measure.Project, proposals bool) *capacity.Staff {
	s := &capacity.Staff{People: a.People}
	for _, p := range projects {
		if p.Status == measure.Cancelled || p.Status == measure.Proposed && !proposals {
			continue
		}
		index := int32(a.Index(p.Code))
		for i := range p.Shares {
			x := p.Shares[i].Assignment
			x.Project = index
			s.Assigned = append(s.Assigned, x)
		}
	}
	return s
}

// ReadBooked adds the hours that were booked on some projects, also on those that are cancelled by now.
func ReadBooked(ctx context.Context, a *Assessment, s *capacity.Staff, projects []*measure.Project) error {
	at := make(map[int64]int32, len(projects))
	for _, p := range projects {
		at[p.ID] = int32(a.Index(p.Code))
	}
	var only []int64
	if len(projects) < len(a.All) {
		if only = slices.Sorted(maps.Keys(at)); len(only) == 0 {
			return nil
		}
	}
	return a.Reading.Bookings(ctx, only, func(id int64, b *cost.Booking) {
		if index, ok := at[id]; ok {
			s.Booked = append(s.Booked, capacity.Booking{Person: personAt(a, b.Person), Project: index, Date: b.Date, Hours: b.Hours,
				Billable: b.Billable})
		}
	})
}
