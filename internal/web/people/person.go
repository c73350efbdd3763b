package people

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/people"
	"turret/internal/app/say"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/web/page"
)

// personView is what somebody is wanted for, over all projects, on one axis.
type personView struct {
	page.SectionFrame
	axisView
	Rows  []personRow
	Weeks []planWeek
	Away  []span
	Hours string // the week sheet
	Empty string
}

type personRow struct {
	Project, Href, Work, From, To, Percent string
	Bar                                    span
}

func (s *pages) person(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	code, err := page.Decoded(c, "code")
	if err != nil {
		return err
	}
	g, err := people.AgendaOf(c.Context(), r.Figures, code)
	if err != nil {
		return err
	}
	v := personView{SectionFrame: page.SectionFrame{Page: r.Page(g.Person.Name, "People"), Tabs: page.PeopleTabs(r, "")},
		Hours: r.To("/hours", "person", code), Empty: "Nothing is wanted of " + g.Person.Name + "."}
	v.Page.Awaits = ""
	v.over(g.Spans, r.AsOf)
	limits := r.Figures.Settings.LoadLimits()
	for k := range g.Weeks {
		x, sp := &g.Weeks[k], &g.Spans[k]
		w := v.week(sp, loadCell(x, limits).Class, fmt.Sprintf("week of %s: %s of %s", sp.First.Human(), hours(x.Demand),
			hours(x.Available)))
		v.Weeks = append(v.Weeks, w)
	}
	for i := range g.Assigned {
		x := &g.Assigned[i]
		row := personRow{Work: x.Activity, From: x.From.Human(), To: x.To.Human(), Percent: page.Share(float64(x.Percent)/10_000) + " %"}
		row.Project, row.Href = projectOf(r, r.Figures, x.Project)
		row.Bar = v.bar(x.From, x.To, row.Project+", "+row.Percent+" from "+row.From+" to "+row.To)
		v.Rows = append(v.Rows, row)
	}
	for i := range g.Person.Absences {
		if x := &g.Person.Absences[i]; !x.Hours.Given {
			v.Away = append(v.Away, v.bar(x.From, x.To, "away, "+x.From.Human()+" to "+x.To.Human()))
		}
	}
	v.Headline = []page.Spoken{{Text: fmt.Sprintf("%s, %s, is wanted by %s and overloaded in %s to come.", g.Person.Name,
		orNone(g.Person.Role),
		say.Count(len(g.Assigned), "assignment", "assignments"), say.Count(g.Over(limits, r.AsOf), "week", "weeks"))}}
	return r.Answer("people-person", &v.Page, &v)
}

func orNone(role string) string {
	if role == "" {
		return "without a role"
	}
	return role
}

// axisView is a stretch of time that is drawn, in units of a day.
type axisView struct {
	Axis   axis
	Months []tick

	first, last calendar.Date
}

// over has the axis span some weeks.
func (v *axisView) over(spans []capacity.Span, asOf calendar.Date) {
	v.first, v.last = spans[0].First, spans[len(spans)-1].Last
	v.Axis = axis{Days: int(v.last-v.first) + 1, Today: v.at(asOf + 1), First: int(v.first)}
	for m := v.first.Month(); m <= v.last.Month(); m++ {
		if m.First() >= v.first {
			v.Months = append(v.Months, tick{X: v.at(m.First()), Text: m.Short(),
				Share: fmt.Sprintf("%.2f", 100*float64(v.at(m.First()))/float64(v.Axis.Days))})
		}
	}
}

// at is where a day stands, at the edge where it lies beyond.
func (v *axisView) at(d calendar.Date) int { return int(min(max(d, v.first), v.last+1) - v.first) }

// bar is a stretch of days, of no width where none of them is drawn.
func (v *axisView) bar(from, to calendar.Date, says string) span {
	return span{X: v.at(from), W: max(0, v.at(to+1)-v.at(from)), Says: says}
}

// week is the mark of a week by how full it is; one that is over is higher.
func (v *axisView) week(sp *capacity.Span, class, says string) planWeek {
	w := planWeek{X: v.at(sp.First), W: int(sp.Last-sp.First) + 1, Y: 22, H: 8, Class: class, Says: says}
	if class == "load-over" {
		w.Y, w.H = 18, 12
	}
	return w
}
