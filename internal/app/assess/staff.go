package assess

import (
	"context"
	"maps"
	"slices"

	"turret/internal/app/kept"
	"turret/internal/core/capacity"
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
		a.People = append(a.People, capacity.Person{Code: p.Code, Name: p.Name, Role: p.Role, Team: p.Team, From: p.From, To: p.To,
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

// readAssignments fills in what projects want of people.
func readAssignments(ctx context.Context, a *Assessment, s kept.Reading, only []int64, at func(int64, func(*measure.Project))) error {
	f, err := s.Rows(ctx, record.Assignments, kept.Selection{Projects: only})
	if err != nil {
		return err
	}
	ids, by := a.Masters.Holders(), map[int64][]capacity.Assignment{}
	for i := range f.Len() {
		id := ids[f.OwnerOf(i)]
		x := f.Assignment(i)
		x.Person = personAt(a, f.Cell(i, "person"))
		by[id] = append(by[id], x)
	}
	env := CapacityOf(a)
	for id, list := range by {
		at(id, func(p *measure.Project) {
			p.Shares = capacity.Shares(env, &capacity.Staff{People: a.People, Assigned: list})
		})
	}
	return nil
}

// StaffOf is what the hours of people are counted from, of some projects: those that are cancelled want nobody, and proposals only where
// they are asked for.
func StaffOf(a *Assessment, projects []*measure.Project, proposals bool) *capacity.Staff {
	s := &capacity.Staff{People: a.People}
	for _, p := range projects {
		if p.Status == "cancelled" || p.Status == "proposed" && !proposals {
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
	return a.Reading.Bookings(ctx, only, func(id int64, b *kept.Booked) {
		if index, ok := at[id]; ok {
			s.Booked = append(s.Booked, capacity.Booking{Person: personAt(a, b.Person), Project: index, Date: b.Date, Hours: b.Hours,
				Billable: b.Billable})
		}
	})
}
