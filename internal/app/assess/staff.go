package assess

import (
	"context"
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

// StaffOf is everything that the hours of people are counted from, of some projects: those that are cancelled never count, and proposals
// only
// where they are asked for. The hours that were booked are read besides.
func StaffOf(ctx context.Context, a *Assessment, projects []*measure.Project, proposals bool) (*capacity.Staff, error) {
	s := &capacity.Staff{People: a.People}
	at := make(map[int64]int32, len(projects))
	for _, p := range projects {
		index := int32(a.Index(p.Code))
		at[p.ID] = index
		if p.Status == "cancelled" || p.Status == "proposed" && !proposals {
			continue
		}
		for i := range p.Shares {
			x := p.Shares[i].Assignment
			x.Project = index
			s.Assigned = append(s.Assigned, x)
		}
	}
	var only []int64
	if len(projects) < len(a.All) {
		for id := range at {
			only = append(only, id)
		}
		slices.Sort(only)
		if len(only) == 0 {
			return s, nil
		}
	}
	err := a.Reading.Bookings(ctx, only, func(id int64, b *kept.Booked) {
		if index, ok := at[id]; ok {
			s.Booked = append(s.Booked, capacity.Booking{Person: personAt(a, b.Person), Project: index, Date: b.Date, Hours: b.Hours,
				Billable: b.Billable})
		}
	})
	return s, err
}
