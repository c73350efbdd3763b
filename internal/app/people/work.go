package people

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/app/assess"
	"turret/internal/core/capacity"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
)

// Work is what one person, or a role without one, was planned to do on a project and did, in units of an hour (capacity.Unit).
type Work struct {
	Project *measure.Project
	Person  *capacity.Person // nil where nobody is named, or nobody known
	Name    string
	Planned int64 // up to the as-of date
	Worked  int64 // booked up to it
	ToGo    int64 // planned after it
}

// Outlook is what the work comes to: what was done, and what is planned to go.
func (w *Work) Outlook() int64 { return w.Worked + w.ToGo }

// All is the whole plan.
func (w *Work) All() int64 { return w.Planned + w.ToGo }

// Over reports whether more was done than planned by more than a tenth.
func (w *Work) Over() bool { return w.Planned > 0 && w.Worked*10 > w.Planned*11 }

// Add puts other work to this one.
func (w *Work) Add(x *Work) {
	w.Planned, w.Worked, w.ToGo = w.Planned+x.Planned, w.Worked+x.Worked, w.ToGo+x.ToGo
}

// WorkOf is planned against actual hours of projects, by project and person; those without either are left out.
func WorkOf(ctx context.Context, a *assess.Assessment, projects []*measure.Project) ([]Work, error) {
	if err := MayName(ctx); err != nil {
		return nil, err
	}
	type key struct {
		project *measure.Project
		person  int32
		role    string
	}
	at := map[key]int{}
	var list []Work
	of := func(p *measure.Project, person int32, role string) *Work {
		k := key{p, person, role}
		i, ok := at[k]
		if !ok {
			i = len(list)
			at[k] = i
			w := Work{Project: p, Name: role}
			if person >= 0 {
				w.Person = &a.People[person]
				w.Name = w.Person.Name
			}
			list = append(list, w)
		}
		return &list[i]
	}
	for _, p := range projects {
		if p.Status == "cancelled" {
			continue // what was planned counts no more; what was worked stands below
		}
		for i := range p.Shares {
			x := &p.Shares[i]
			w := of(p, x.Person, x.Role)
			w.Planned, w.ToGo = w.Planned+x.Past, w.ToGo+x.Ahead
		}
	}
	staff := &capacity.Staff{}
	if err := assess.ReadBooked(ctx, a, staff, projects); err != nil {
		return nil, err
	}
	for _, b := range staff.Booked {
		if b.Date <= a.Env.AsOf {
			of(a.Of(b.Project), b.Person, "").Worked += b.Hours * (capacity.Unit / cost.HourUnits)
		}
	}
	list = slices.DeleteFunc(list, func(w Work) bool { return w.Planned == 0 && w.Worked == 0 && w.ToGo == 0 })
	slices.SortStableFunc(list, func(x, y Work) int {
		return cmp.Or(cmp.Compare(x.Project.Code, y.Project.Code), cmp.Compare(y.Worked+y.Planned+y.ToGo, x.Worked+x.Planned+x.ToGo),
			cmp.Compare(x.Name, y.Name))
	})
	return list, nil
}
