package lookout

import (
	"cmp"

	"turret/internal/app/lookout"
	"turret/internal/app/people"
	"turret/internal/core/capacity"
	"turret/internal/core/health"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// gapMonths is how far ahead roles are looked at.
const gapMonths = 6

// fillGaps shows the roles that have too few people, each in the month in which most are missing.
func fillGaps(r *page.Request, _ *lookoutView, _ *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
	m := r.AsOf.Month()
	s, err := people.SheetOf(r.Context(), r.Figures, people.Ask{By: capacity.ByRole, From: m, To: m + gapMonths - 1})
	if err != nil {
		return err
	}
	x.Href = r.To("/people/roles")
	lines := s.Lines()
	for i := range lines {
		if row, ok := gapOf(r, s, &lines[i]); ok {
			x.Records = append(x.Records, row)
		}
	}
	if len(x.Records) == 0 {
		x.Empty = "Every role has enough people for half a year."
	}
	return nil
}

// gapOf is the worst month of a role; false where none is short of people.
func gapOf(r *page.Request, s *people.Sheet, l *people.Line) (recordRow, bool) {
	worst := l.Shortest()
	if worst < 0 {
		return recordRow{}, false
	}
	span := s.Spans[worst]
	return recordRow{Title: cmp.Or(l.Name, "people without a role"), Href: r.To("/people/roles", "cell", l.Name+"|"+span.Name),
		Of: span.First.Month().Name(), OfHref: r.To("/people/roles"), Worth: page.FTE(l.Cells[worst].Gap().N),
		Mark: &page.Mark{SVG: page.Pennant(health.Act, 13, false), Label: "too few people"}}, true
}

// fillOverloads shows who is overloaded in the weeks to come, those with the most such weeks first, to those who plan with people.
func fillOverloads(r *page.Request, _ *lookoutView, _ *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
	if people.MayName(r.Context()) != nil {
		x.Empty = "People are shown by name to those who plan with them."
		return nil
	}
	m := (r.AsOf + 1).Month()
	s, err := people.SheetOf(r.Context(), r.Figures, people.Ask{By: capacity.ByPerson, Weeks: true, From: m, To: m + gapMonths - 1})
	if err != nil {
		return err
	}
	x.Href = r.To("/people/load")
	for _, o := range people.Overloads(s, r.Figures.Settings.LoadLimits()) {
		if len(x.Records) == mostOverloads {
			break
		}
		x.Records = append(x.Records, recordRow{Title: o.Person.Name, Href: r.To("/people/load", "cell",
			o.Person.Code+"|"+s.Spans[o.First].Name),
			Of: "from " + s.Spans[o.First].First.Human(), OfHref: r.To("/people/load"), Worth: write.Count(o.Weeks, "week", "weeks"),
			Mark: &page.Mark{SVG: page.Pennant(health.Act, 13, false), Label: "overloaded"}})
	}
	if len(x.Records) == 0 {
		x.Empty = "Nobody is overloaded for half a year."
	}
	return nil
}

// mostOverloads is how many people are shown.
const mostOverloads = 10
