package judge

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/letter"
	"turret/internal/core/calendar"
	"turret/internal/core/compare"
	"turret/internal/core/measure"
)

// AccuracyLine is how the forecasts of some projects turned out, by how long before they were made.
type AccuracyLine struct {
	Code, Name string
	Project    *measure.Project // nil for a lead or programme
	Sums       []compare.AccuracySum
}

// AccuracyTable is how past forecasts turned out: by project, lead and programme.
type AccuracyTable struct {
	Periods                    []calendar.Period // of the forecasts, latest first
	Projects, Leads, Programme []AccuracyLine
	Whole                      AccuracyLine
}

// before are how many periods back forecasts are looked at: about a month, a quarter, half a year and a year.
func before(c calendar.Cycle) []calendar.Period {
	switch c {
	case calendar.Months:
		return []calendar.Period{1, 3, 6, 12}
	case calendar.Weeks:
		return []calendar.Period{4, 13, 26, 52}
	}
	return []calendar.Period{1, 3, 6, 13}
}

// Accuracy compares the forecasts of closed periods with how projects ended, or stand now. Projects without any are left out.
func (o *Office) Accuracy(ctx context.Context, a *assess.Assessment, s *assess.Scope) (*AccuracyTable, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	t := &AccuracyTable{}
	for _, n := range before(a.Env.Cycle) {
		t.Periods = append(t.Periods, a.Env.Period()-n)
	}
	by := map[string]map[string][]*measure.Project{"lead": {}, "programme": {}}
	names := map[string]string{}
	var all []*measure.Project
	for _, p := range s.Projects {
		if len(p.Past) == 0 {
			continue
		}
		all = append(all, p)
		x := t.line(p.Code, p.Name, []*measure.Project{p})
		x.Project = p
		t.Projects = append(t.Projects, x)
		by["lead"][letter.OrNobody(p.Lead)] = append(by["lead"][letter.OrNobody(p.Lead)], p)
		if n := a.Programme(p); n != nil {
			by["programme"][n.Code] = append(by["programme"][n.Code], p)
			names[n.Code] = n.Name
		}
	}
	for lead, list := range by["lead"] {
		t.Leads = append(t.Leads, t.line("", lead, list))
	}
	for code, list := range by["programme"] {
		t.Programme = append(t.Programme, t.line(code, names[code], list))
	}
	slices.SortFunc(t.Leads, func(x, y AccuracyLine) int { return cmp.Compare(x.Name, y.Name) })
	slices.SortFunc(t.Programme, func(x, y AccuracyLine) int { return cmp.Compare(x.Code, y.Code) })
	t.Whole = t.line("", "Together", all)
	return t, nil
}

func (t *AccuracyTable) line(code, name string, projects []*measure.Project) AccuracyLine {
	x := AccuracyLine{Code: code, Name: name}
	for _, m := range t.Periods {
		x.Sums = append(x.Sums, compare.SumAccuracy(projects, m))
	}
	return x
}
