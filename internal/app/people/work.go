package people

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/app/assess"
	"turret/internal/core/calendar"
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
	t := &works{a: a, at: map[workKey]int{}}
	for _, p := range projects {
		if p.Status == measure.Cancelled {
			continue // what was planned counts no more; what was worked stands below
		}
		for i := range p.Shares {
			x := &p.Shares[i]
			w := t.of(p, x.Person, x.Role)
			w.Planned, w.ToGo = w.Planned+x.Past, w.ToGo+x.Ahead
		}
	}
	return t.booked(ctx, projects, 0, a.Env.AsOf)
}

// WorkIn is planned against actual hours on the days from first to last.
func WorkIn(ctx context.Context, a *assess.Assessment, projects []*measure.Project, first, last calendar.Date) ([]Work, error) {
	t := &works{a: a, at: map[workKey]int{}}
	env := assess.CapacityOf(a)
	for _, p := range projects {
		if p.Status == measure.Cancelled {
			continue
		}
		staff := &capacity.Staff{People: a.People}
		for i := range p.Shares {
			x := p.Shares[i].Assignment
			if x.From, x.To = max(x.From, first), min(x.To, last); x.From <= x.To {
				staff.Assigned = append(staff.Assigned, x)
			}
		}
		for _, x := range capacity.Shares(env, staff) {
			t.of(p, x.Person, x.Role).Planned += x.Past + x.Ahead
		}
	}
	return t.booked(ctx, projects, first, last)
}

// works gathers work by project and person.
type works struct {
	a    *assess.Assessment
	at   map[workKey]int
	list []Work
}

type workKey struct {
	project *measure.Project
	person  int32
	role    string
}

func (t *works) of(p *measure.Project, person int32, role string) *Work {
	k := workKey{p, person, role}
	i, ok := t.at[k]
	if !ok {
		i = len(t.list)
		t.at[k] = i
		w := Work{Project: p, Name: role}
		if person >= 0 {
			w.Person = &t.a.People[person]
			w.Name = w.Person.Name
		}
		t.list = append(t.list, w)
	}
	return &t.list[i]
}

// booked adds what was booked on some days, and puts the list in order: by project, those with the most hours first.
func (t *works) booked(ctx context.Context, projects []*measure.Project, first, last calendar.Date) ([]Work, error) {
	if err := MayName(ctx); err != nil {
		return nil, err
	}
	staff := &capacity.Staff{}
	if err := assess.ReadBooked(ctx, t.a, staff, projects); err != nil {
		return nil, err
	}
	for _, b := range staff.Booked {
		if b.Date >= first && b.Date <= last {
			t.of(t.a.Of(b.Project), b.Person, "").Worked += b.Hours * (capacity.Unit / cost.HourUnits)
		}
	}
	list := slices.DeleteFunc(t.list, func(w Work) bool { return w.Planned == 0 && w.Worked == 0 && w.ToGo == 0 })
	slices.SortStableFunc(list, func(x, y Work) int {
		return cmp.Or(cmp.Compare(x.Project.Code, y.Project.Code), cmp.Compare(y.Worked+y.Planned+y.ToGo, x.Worked+x.Planned+x.ToGo),
			cmp.Compare(x.Name, y.Name))
	})
	return list, nil
}
