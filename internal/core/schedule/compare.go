package schedule

import (
	"sort"

	"turret/internal/core/calendar"
)

// Basis says which dates of a schedule are meant.
type Basis uint8

// The bases: the dates as expected, with what has happened, or those of the baseline.
const (
	Expected Basis = iota
	Baseline
)

// Version is a schedule as it stood once. A version that was never dated by the network keeps the dates that were sent.
type Version struct {
	Activities []Activity
	Links      []Dependency  // of the project, both ends by code
	Basis      Basis         // which of its dates are compared
	AsOf       calendar.Date // day as of which dates follow that were not sent
}

// Change is how an activity differs between two versions. Was and Is are days, zero where it is not there or has none. The
// days count working days, positive when later or longer.
type Change struct {
	Code, Name                    string
	Kind                          Kind
	Added, Removed                bool   // it is in one of the versions only
	Moved, Stretched, Relinked    bool   // it lies elsewhere, is longer or shorter, waits for others
	Was, Is                       Span   // its days in both
	StartDays, FinishDays, Longer int    // by how many working days
	LinksWas, LinksIs             string // its predecessors, in the notation of Predecessor
	Changed                       bool   // something else of it: its name, level, owner or constraints
	Index                         int    // in the newer version; in the older one where it was removed
}

// Dates are the days of an activity in the version; a milestone has only the second.
func (v *Version) dates(a *Activity, org *calendar.Calendar) Span {
	if v.Basis == Baseline {
		return Span{a.BaselineStart, a.BaselineFinish}
	}
	s := Span{a.Start, a.Expected(org, v.AsOf)}
	if a.ActualStart != 0 {
		s.Start = a.ActualStart
	}
	return s
}

// Compare lists the activities in which two versions differ, in the order of the newer one, those removed last. Summaries are left out
// where they only follow what is below them. Activities are the same where their codes are; one whose code was changed is removed and
// added.
func Compare(was, is *Version, org *calendar.Calendar) []Change {
	before := make(map[string]int, len(was.Activities))
	for i := range was.Activities {
		before[was.Activities[i].Code] = i
	}
	linksWas, linksIs := into(was.Links), into(is.Links)
	var list []Change
	for i := range is.Activities {
		a := &is.Activities[i]
		at, ok := before[a.Code]
		delete(before, a.Code)
		c := Change{Code: a.Code, Name: a.Name, Kind: a.Kind, Added: !ok, Index: i, Is: is.dates(a, org)}
		if ok {
			c.against(&was.Activities[at], a, was, org)
			c.LinksWas, c.LinksIs = linksWas[a.Code], linksIs[a.Code]
			c.Relinked = c.LinksWas != c.LinksIs
		}
		if c.Added || c.Relinked || c.Changed || a.Kind != Summary && (c.Moved || c.Stretched) {
			list = append(list, c)
		}
	}
	for code, i := range before {
		a := &was.Activities[i]
		list = append(list, Change{Code: code, Name: a.Name, Kind: a.Kind, Removed: true, Index: i, Was: was.dates(a, org)})
	}
	sort.SliceStable(list, func(i, j int) bool {
		if list[i].Removed != list[j].Removed {
			return !list[i].Removed
		}
		return list[i].Index < list[j].Index
	})
	return list
}

// against says how an activity differs from what it was, in working days of its calendar of now.
func (c *Change) against(old, now *Activity, was *Version, org *calendar.Calendar) {
	c.Was = was.dates(old, org)
	days := now.days(org)
	if c.Was.Start != 0 && c.Is.Start != 0 {
		c.StartDays = days.Between(c.Was.Start, c.Is.Start)
	}
	if c.Was.Finish != 0 && c.Is.Finish != 0 {
		c.FinishDays = days.Between(c.Was.Finish, c.Is.Finish)
	}
	if now.Kind == Work && c.Was.Start != 0 && c.Is.Start != 0 && c.Was.Finish != 0 && c.Is.Finish != 0 {
		c.Longer = days.Count(c.Is.Start, c.Is.Finish) - days.Count(c.Was.Start, c.Was.Finish)
	}
	c.Moved = c.StartDays != 0 || c.FinishDays != 0 || (c.Was == Span{}) != (c.Is == Span{})
	c.Stretched = c.Longer != 0
	c.Changed = old.Name != now.Name || old.Kind != now.Kind || old.Level != now.Level || old.Owner != now.Owner ||
		old.Parent != now.Parent ||
		old.NotBefore != now.NotBefore || old.NotAfter != now.NotAfter
}

// into writes the predecessors of each activity of a project.
func into(links []Dependency) map[string]string {
	by := map[string][]Predecessor{}
	for i := range links {
		d := &links[i]
		p := Predecessor{Code: d.From, Type: d.Type, Lag: d.Lag}
		if d.Crosses() {
			p.Project = d.FromCode
		}
		by[d.To] = append(by[d.To], p)
	}
	text := make(map[string]string, len(by))
	for code, list := range by {
		text[code] = Predecessors(list)
	}
	return text
}
