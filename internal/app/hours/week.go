package hours

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/measure"
)

// Day is a day of a sheet.
type Day struct {
	Date      calendar.Date
	Available int64  // hours that the person has, in ten-thousandths
	Away      string // why there are fewer than usual; empty where there are not
	Locked    bool   // its period is closed
	Here      bool   // the person works here on it
}

// Line is a row of a sheet with the project that it is of.
type Line struct {
	Project string
	Row
	Elsewhere bool // it came by a file or a feed, and is read only
}

// Week is the sheet of a person and a week.
type Week struct {
	Person   *capacity.Person
	Monday   calendar.Date
	Days     [7]Day
	Parts    []Part
	Lines    []Line
	Projects []string        // that hours may be written on
	Promised []string        // those of them that the person is assigned to in the week
	May      bool            // the one who asks may write
	Adrift   map[string]bool // projects whose approved hours do not stand: their load was withdrawn

	posted map[slot]int64 // what stands of this sheet
}

// slot is where hours stand in a week.
type slot struct {
	project string
	Work
	day int
}

// PersonOf is the person that whoever asks is; nil for none.
func PersonOf(a *assess.Assessment, actor *access.Actor) *capacity.Person {
	for i := range a.People {
		if p := &a.People[i]; actor.Name != "" && a.Settings.OwnerOf(p.Name) == actor.Name {
			return p
		}
	}
	return nil
}

// Person finds somebody by code.
func Person(a *assess.Assessment, code string) (*capacity.Person, error) {
	for i := range a.People {
		if a.People[i].Code == code {
			return &a.People[i], nil
		}
	}
	return nil, fmt.Errorf("person %q: %w", fault.Clip(code, 40), fault.ErrNotFound)
}

// worksOn are the projects that somebody is assigned to, by index.
func worksOn(a *assess.Assessment, person string) map[int]bool {
	on := map[int]bool{}
	for i, p := range a.All {
		for k := range p.Shares {
			if at := p.Shares[k].Person; at >= 0 && a.People[at].Code == person {
				on[i] = true
			}
		}
	}
	return on
}

// wants reports whether a project wants a person on a day of the week that begins on a Monday.
func wants(a *assess.Assessment, project, person string, monday calendar.Date) bool {
	for _, x := range a.All[a.Index(project)].Shares {
		if x.Person >= 0 && a.People[x.Person].Code == person && x.From <= monday+6 && x.To >= monday {
			return true
		}
	}
	return false
}

// Concerns reports whether the one who asks has to do with the hours of somebody: they are their own, or those of people whom they plan
// with.
func Concerns(a *assess.Assessment, actor *access.Actor, p *capacity.Person) bool {
	if actor.Name != "" && a.Settings.OwnerOf(p.Name) == actor.Name || actor.May(access.Send) && actor.Everything() {
		return true
	}
	if !actor.May(access.Send) {
		return false
	}
	for i := range worksOn(a, p.Code) {
		if a.Sees(i) {
			return true
		}
	}
	return false
}

// bookable are the projects that hours of somebody may be written on by the one who asks: open ones that they see, or the person is
// assigned to.
func bookable(a *assess.Assessment, person string) []string {
	on := worksOn(a, person)
	var list []string
	for i, p := range a.All {
		if p.Status == measure.Open && (on[i] || a.Sees(i)) {
			list = append(list, p.Code)
		}
	}
	slices.SortFunc(list, func(x, y string) int { // those that the person works on before the others
		first := func(code string) int {
			if on[a.Index(code)] {
				return 0
			}
			return 1
		}
		return cmp.Or(first(x)-first(y), cmp.Compare(x, y))
	})
	return list
}

// Week is the sheet of a person in the week that begins on a Monday; that of a stranger is an error wrapping access.ErrForbidden.
func (o *Office) Week(ctx context.Context, a *assess.Assessment, person string, monday calendar.Date) (*Week, error) {
	actor, err := access.Permit(ctx, access.Book)
	if err != nil {
		return nil, err
	}
	p, err := Person(a, person)
	if err != nil {
		return nil, err
	}
	if !Concerns(a, actor, p) {
		return nil, fmt.Errorf("hours of somebody else: %w", access.ErrForbidden)
	}
	w := &Week{Person: p, Monday: monday, Projects: bookable(a, person), May: true, Adrift: map[string]bool{}, posted: map[slot]int64{}}
	for _, code := range w.Projects {
		if wants(a, code, person, monday) {
			w.Promised = append(w.Promised, code)
		}
	}
	if w.Parts, err = o.store.WeekParts(ctx, person, monday, monday); err != nil {
		return nil, err
	}
	if err := o.days(ctx, a, w); err != nil {
		return nil, err
	}
	return w, o.lines(ctx, w)
}

// locks tells which days lie in periods that are closed.
func (o *Office) locks(ctx context.Context) (func(calendar.Date) bool, error) {
	periods, err := o.store.Periods(ctx)
	return func(d calendar.Date) bool {
		return slices.ContainsFunc(periods, func(p kept.Period) bool { return d >= p.Span.First() && d <= p.Span.Last() })
	}, err
}

// days fills in what the person has on each day.
func (o *Office) days(ctx context.Context, a *assess.Assessment, w *Week) error {
	locked, err := o.locks(ctx)
	if err != nil {
		return err
	}
	for i := range w.Days {
		d := w.Monday + calendar.Date(i)
		w.Days[i] = Day{Date: d, Locked: locked(d), Here: (w.Person.From == 0 || d >= w.Person.From) && (w.Person.To == 0 ||
			d <= w.Person.To)}
		if !w.Days[i].Here {
			w.Days[i].Away = "not here"
		}
		for k := range w.Person.Absences {
			if x := &w.Person.Absences[k]; x.From <= d && d <= x.To {
				w.Days[i].Away = cmp.Or(x.Reason, "away")
			}
		}
	}
	staff := &capacity.Staff{People: []capacity.Person{*w.Person}}
	spans := capacity.Days(w.Monday, w.Monday+6)
	for _, r := range capacity.Table(assess.CapacityOf(a), staff, capacity.ByPerson, spans) {
		w.Days[r.Span].Available = r.Available / (capacity.Unit / 10_000)
	}
	return nil
}

// lines fills in what was written, and what stands by other ways.
func (o *Office) lines(ctx context.Context, w *Week) error {
	other := map[slot]int64{}
	err := o.store.Worked(ctx, w.Person.Code, w.Monday, w.Monday+6, func(x *Worked) {
		at := slot{x.Project, x.Work, int(x.Date - w.Monday)}
		if x.FromSheet {
			w.posted[at] += x.Hours
		} else {
			other[at] += x.Hours
		}
	})
	if err != nil {
		return err
	}
	for i := range w.Parts {
		p := &w.Parts[i]
		for _, r := range p.Rows {
			w.Lines = append(w.Lines, Line{Project: p.Project, Row: r})
		}
		if p.State == Approved && len(difference(p, w.posted)) > 0 {
			w.Adrift[p.Project] = true
		}
	}
	w.Lines = append(w.Lines, elsewhere(other)...)
	return nil
}

// elsewhere are hours by day as rows, by project and activity.
func elsewhere(by map[slot]int64) []Line {
	at := map[slot]int{}
	var list []Line
	for k, h := range by {
		key := k
		key.day = 0
		i, ok := at[key]
		if !ok {
			i = len(list)
			at[key] = i
			list = append(list, Line{Project: k.project, Elsewhere: true, Row: Row{Work: k.Work}})
		}
		list[i].Hours[k.day] += h
	}
	slices.SortFunc(list, func(x, y Line) int {
		return cmp.Or(cmp.Compare(x.Project, y.Project), x.compare(y.Work))
	})
	return list
}

func compareBool(x, y bool) int {
	switch {
	case x == y:
		return 0
	case y:
		return -1
	}
	return 1
}

// slots are the hours of a part by where they stand.
func (p *Part) slots() map[slot]int64 {
	by := map[slot]int64{}
	for i := range p.Rows {
		r := &p.Rows[i]
		for d, h := range r.Hours {
			if h != 0 {
				by[slot{p.Project, r.Work, d}] += h
			}
		}
	}
	return by
}

// difference is what has to be booked so that what stands of a sheet becomes the part.
func difference(p *Part, posted map[slot]int64) map[slot]int64 {
	by := p.slots()
	for k, h := range posted {
		if k.project == p.Project {
			by[k] -= h
		}
	}
	for k, h := range by {
		if h == 0 {
			delete(by, k)
		}
	}
	return by
}
