package people

import (
	"fmt"
	"net/url"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/people"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// personPart is what the plan of a person has besides those of projects.
type personPart struct {
	Rows  []personRow // of projects that whoever asks may not plan
	Weeks []planWeek  // of all projects together
	Away  []span
	Hours string // the week sheet

	code     string
	projects []page.Option // that a new row may be of
}

type personRow struct {
	Project, Work, From, To, Percent string
	Bar                              span
}

func (s *pages) person(c fiber.Ctx) error { return s.showPerson(c, nil, nil, nil) }

func (s *pages) showPerson(c fiber.Ctx, t *tried, refused error, notes []string) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	code, err := page.Decoded(c, "code")
	if err != nil {
		return err
	}
	g, refused, err := attempt(t, refused, func(rows [][]string) (*people.Agenda, error) {
		return s.Office.People.Agenda(c.Context(), r.Figures, code, rows)
	})
	if err != nil {
		return err
	}
	here := r.To("/people/of/" + url.PathEscape(code))
	v := staffingView{Page: r.Page(g.Person.Name, "People"), Action: here, Reset: here, Notes: notes, Tabs: page.PeopleTabs(r, ""),
		Tried: t != nil && refused == nil, May: r.Figures.Closed == nil && len(g.Mine) > 0, Person: &personPart{code: code,
			Hours: r.To("/hours", "person", code)}}
	v.MaySave, v.Page.Awaits = v.May && g.MaySave, ""
	v.over(g.Spans, r.AsOf)
	for _, p := range g.Mine {
		v.Person.projects = append(v.Person.projects, page.Option{Value: p.Code, Text: p.Code + " " + p.Name})
	}
	v.who(r)
	v.rows(r, g.Plan, t, refused)
	v.others(r, g)
	v.weeks(r, g)
	v.Headline = fmt.Sprintf("%s, %s, is wanted by %s and overloaded in %s to come.", g.Person.Name, orNone(g.Person.Role),
		write.Count(len(g.Assigned)+len(g.Others), "assignment", "assignments"), noWeek(g.Over(r.Figures, r.AsOf)))
	v.Empty = "Nothing is wanted of " + g.Person.Name + "."
	return v.answer(r, g.Plan, refused)
}

// others are what projects want that whoever asks may not plan.
func (v *staffingView) others(r *page.Request, g *people.Agenda) {
	for i := range g.Others {
		x := &g.Others[i]
		row := personRow{Work: x.Activity, From: x.From.Human(), To: x.To.Human(), Percent: page.Share(float64(x.Percent)/10_000) + " %"}
		row.Project, _ = projectOf(r, r.Figures, x.Project)
		row.Bar = v.bar(x.From, x.To, row.Project+", "+row.Percent+" from "+row.From+" to "+row.To)
		v.Person.Rows = append(v.Person.Rows, row)
	}
}

// weeks are those of all projects together, with the days away.
func (v *staffingView) weeks(r *page.Request, g *people.Agenda) {
	for k, x := range g.Weeks(r.Figures) {
		sp := &g.Spans[k]
		w := v.week(sp, loadCell(&x.Is, r.Figures.Settings.LoadLimits()).Class, fmt.Sprintf("week of %s: %s of %s", sp.First.Human(),
			hours(x.Is.Demand), hours(x.Is.Available)))
		w.Moved = x.Is.Demand != x.Was.Demand
		v.Person.Weeks = append(v.Person.Weeks, w)
	}
	for i := range g.Person.Absences {
		if x := &g.Person.Absences[i]; !x.Hours.Given {
			v.Person.Away = append(v.Person.Away, v.bar(x.From, x.To, "away, "+x.From.Human()+" to "+x.To.Human()))
		}
	}
}

// projectOf names the project of a row in the plan of a person, and leads to the plan of its people.
func (v *staffingView) projectOf(r *page.Request, code string) (text, href string) {
	if v.Person == nil {
		return code, ""
	}
	if p := r.Figures.ByCode[code]; p != nil {
		return p.Code + " " + p.Name, r.To("/people/plan/" + p.Code)
	}
	return code, ""
}

// projects are the choices of the project of a row: those that whoever asks may plan, where the row is new.
func (v *staffingView) projects(code string, isNew bool) []page.Option {
	if v.Person == nil {
		return nil
	}
	if !isNew {
		return []page.Option{{Value: code, Text: code, Selected: true}}
	}
	list := append([]page.Option{{Text: ""}}, v.Person.projects...)
	for i := range list {
		list[i].Selected = list[i].Value == code
	}
	return list
}

// savePerson tries what is typed of a person, or saves it.
func (s *pages) savePerson(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	code, err := page.Decoded(c, "code")
	if err != nil {
		return err
	}
	t, err := triedOf(c)
	if err != nil {
		return s.untried(c, err, s.showPerson)
	}
	if c.FormValue("save") == "" {
		return s.showPerson(c, t, nil, nil)
	}
	g, err := s.Office.People.Agenda(c.Context(), r.Figures, code, t.rows)
	if err != nil {
		return s.unsaved(c, t, err, s.showPerson)
	}
	receipt, err := s.Office.People.Save(c.Context(), t.edits(), t.reason)
	if err != nil {
		return s.unsaved(c, t, err, s.showPerson)
	}
	page.Tell(c, savedText(c, "The assignments of "+g.Person.Name, receipt, g.Plan))
	return page.Go(c, "/people/of/"+url.PathEscape(code))
}

func noWeek(n int) string {
	if n == 0 {
		return "no week"
	}
	return write.Count(n, "week", "weeks")
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
