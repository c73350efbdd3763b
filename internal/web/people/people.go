// Package people holds the pages of what people have and what is wanted of them.
package people

import (
	"cmp"
	"embed"
	"net/url"
	"slices"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/people"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of people.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/people", func(c fiber.Ctx) error {
		if people.MayName(c.Context()) != nil {
			return page.Go(c, "/people/roles")
		}
		return page.Go(c, "/people/load")
	})
	s.App.Get("/people/load", s.load)
	s.App.Get("/people/roles", s.roles)
	s.App.Get("/people/utilisation", s.use)
	s.App.Get("/people/work", s.work)
	s.App.Get("/people/plan/:code", s.plan)
	s.App.Get("/people/of/:code", s.person)
	s.App.Post("/people/of/:code", s.savePerson)
	s.App.Post("/people/plan/:code", s.savePlan)
	s.App.Get("/people/level", s.level)
	s.App.Get("/people/help", s.help)
	s.App.Get("/people/asked", s.asked)
	s.App.Post("/people/asked", s.ask)
}

// view is a map of names by spans.
type view struct {
	page.SectionFrame
	Kind   string // what the cells tell: load, or gap
	By     string
	Spans  []spanHead
	Rows   []row
	Ends   []string // heads of what stands after the spans
	Detail *detail
	Empty  string
	More   string
	Key    []keyed
}

// spanHead is the head of a column: a month, or a week below its month.
type spanHead struct{ Name, Title string }

type row struct {
	Name, Title string
	Href        string // of the person
	Role        string
	Cells       []cell
	Total       string
	Ends        []string // what stands after the spans
}

type cell struct {
	Text, Title, Href, Class string
	Chosen                   bool
}

// keyed is a shade with what it means.
type keyed struct{ Class, Text string }

// query is what the address asks for.
type query struct {
	people.Ask
	months     int
	role, team string
}

// ahead are how many months may be looked at.
var ahead = []string{"3", "6", "12", "24"}

func queryOf(r *page.Request, by capacity.By, weeks bool) (*query, error) {
	q := &query{role: r.Asked.Get("role"), team: r.Asked.Get("team"), months: 6}
	q.Ask = people.Ask{By: by, Weeks: weeks, From: r.AsOf.Month(), Proposals: r.Asked.Get("proposals") == "yes"}
	switch r.Asked.Get("unit") {
	case "week":
		q.Weeks = true
	case "month":
		q.Weeks = false
	case "day":
		q.Weeks, q.Days = false, true
	}
	if n, err := strconv.Atoi(r.Asked.Get("ahead")); err == nil && slices.Contains(ahead, strconv.Itoa(n)) {
		q.months = n
	}
	if text := r.Asked.Get("from"); text != "" {
		m, err := calendar.ParseMonth(text)
		if err != nil {
			return nil, fiber.NewError(fiber.StatusBadRequest, "The first month is written as YYYY-MM.")
		}
		q.From = m
	}
	if q.Days {
		q.months = 3
	}
	q.To = q.From + calendar.Month(q.months) - 1
	return q, nil
}

// frame begins a page of the section with the filters that all have.
func frame(r *page.Request, name string, q *query) view {
	v := view{SectionFrame: page.SectionFrame{Page: r.Page(name, "People")}}
	v.Tabs = page.PeopleTabs(r, name)
	unit, proposals := "month", ""
	if q.Weeks {
		unit = "week"
	}
	if q.Days {
		unit = "day"
	}
	if q.Proposals {
		proposals = "yes"
	}
	v.Filters = append(v.Filters, page.Choose("By", "unit", unit, "day", "days of a quarter", "week", "weeks", "month", "months"),
		page.Choose("Over", "ahead", strconv.Itoa(q.months), "3", "3 months", "6", "6 months", "12", "12 months", "24", "24 months"),
		page.Choose("Proposals", "proposals", proposals, "", "left out", "yes", "counted"))
	v.Carry(r)
	v.Page.Awaits = ""
	for _, k := range []string{"unit", "ahead", "proposals", "role", "team", "by", "from"} {
		v.Filtered = v.Filtered || r.Asked.Get(k) != ""
	}
	v.Clear = r.Here("unit", "", "ahead", "", "proposals", "", "role", "", "team", "", "by", "", "from", "", "cell", "")
	return v
}

// heads are those of the columns.
func (v *view) heads(s *people.Sheet) {
	before := calendar.Month(0)
	for _, x := range s.Spans {
		h := spanHead{x.First.Month().Short(), x.First.Month().Name()}
		if s.Weeks || s.Days {
			_, _, day := x.First.YMD()
			name := strconv.Itoa(day)
			if month := x.First.Month(); month != before {
				name, before = name+" "+month.Short(), month
			}
			h = spanHead{name, x.Name + ", " + x.First.Human() + " to " + x.Last.Human()}
			if s.Days {
				h.Title = x.First.Human()
			}
		}
		v.Spans = append(v.Spans, h)
	}
}

// mostRows is how many names are shown, and mostByDay how many day by day.
const (
	mostRows  = 100
	mostByDay = 25
)

// fill puts the lines of a sheet into rows, as long as they are wanted.
func (v *view) fill(r *page.Request, s *people.Sheet, lines []people.Line, show func(*people.Line, *capacity.Cell) cell) {
	most := mostRows
	if s.Days {
		most = mostByDay
	}
	for i := range lines {
		if i == most {
			v.More = write.Whole(len(lines)-most) + " more are not shown: narrow them by role or team."
			break
		}
		l := &lines[i]
		x := row{Name: cmp.Or(l.Name, "nobody named")}
		if l.Person != nil {
			x.Name, x.Title, x.Role = l.Person.Name, l.Person.Code+", "+cmp.Or(l.Person.Team, "no team"), l.Person.Role
			x.Href = r.To("/people/of/" + url.PathEscape(l.Person.Code))
		}
		for k := range l.Cells {
			c := show(l, &l.Cells[k])
			key := l.Name + "|" + s.Spans[k].Name
			c.Href, c.Chosen = r.Here("cell", key), r.Asked.Get("cell") == key
			c.Title = x.Name + ", " + s.Spans[k].Name + ": " + c.Title
			x.Cells = append(x.Cells, c)
		}
		x.Total = percent(&l.Total)
		v.Rows = append(v.Rows, x)
	}
}

// percent is the load of a cell; a dash where nothing is available.
func percent(c *capacity.Cell) string {
	if c.Load().Given() {
		return bare(c) + " %"
	}
	return bare(c)
}

// bare is the load of a cell in percent without the sign, for a map that has it above.
func bare(c *capacity.Cell) string {
	if load := c.Load(); load.Given() {
		return write.TrimmedFloat(100*load.Float(), 1)
	}
	if c.Demand > 0 {
		return "over"
	}
	return write.None
}

// hours are units of an hour as people read them.
func hours(units int64) string {
	return write.Trimmed(capacity.Hours(units), 2) + " h"
}

// scoped leaves the lines that the scope wants, all where there is none.
func scoped(r *page.Request, s *people.Sheet, lines []people.Line) ([]people.Line, error) {
	if r.Scope == "" {
		return lines, nil
	}
	scope, err := r.Figures.Scope(r.Scope)
	if err != nil {
		return nil, err
	}
	of := s.Of(r.Figures, scope.Projects)
	if s.By != capacity.ByRole {
		delete(of, "") // that row is of all projects, whoever wants it
	}
	return slices.DeleteFunc(lines, func(l people.Line) bool { return !of[l.Name] }), nil
}

// projectOf names the project of an assignment, with its address where the one who asks sees it.
func projectOf(r *page.Request, a *assess.Assessment, index int32) (name, href string) {
	if index < 0 || !a.Sees(int(index)) {
		return "another project", ""
	}
	p := a.Of(index)
	if people.MayName(r.Context()) != nil {
		return p.Code + " " + p.Name, r.Project(p.Code)
	}
	return p.Code + " " + p.Name, r.To("/people/plan/" + p.Code)
}
