package people

import (
	"slices"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/people"
	"turret/internal/core/capacity"
	"turret/internal/core/fact"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// load is the map of how busy people, or teams, are.
func (s *pages) load(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	by := capacity.ByPerson
	if r.Asked.Get("by") == "team" {
		by = capacity.ByTeam
	}
	q, err := queryOf(r, by, true)
	if err != nil {
		return err
	}
	sheet, err := people.SheetOf(c.Context(), r.Figures, q.Ask)
	if err != nil {
		return err
	}
	v := frame(r, "Load", q)
	v.Kind, v.By = "load", "Person"
	if by == capacity.ByTeam {
		v.By = "Team"
	}
	v.choices(r, sheet, q)
	v.heads(sheet)
	lines, err := scoped(r, sheet, sheet.Lines())
	if err != nil {
		return err
	}
	lines = slices.DeleteFunc(lines, func(l people.Line) bool { return !wanted(&l, q) })
	limits := r.Figures.Settings.LoadLimits()
	v.fill(r, sheet, lines, func(l *people.Line, x *capacity.Cell) cell {
		if l.Name == "" && x.Available == 0 {
			return nobodyCell(x)
		}
		return loadCell(x, limits)
	})
	v.Headline = []page.Spoken{{Text: loadHeadline(sheet, lines, limits)}}
	v.Key = []keyed{{"load-0", "free"}, {"load-2", "half"}, {"load-4", "full from " + share(limits.Full)},
		{"load-over", "over " + share(limits.Over)}, {"load-away", "not here"}}
	v.Empty = emptyOf(r)
	if v.Detail, err = detailOf(r, sheet); err != nil {
		return err
	}
	return r.Answer("load-map", &v.Page, &v)
}

// choices are the filters by role and team.
func (v *view) choices(r *page.Request, s *people.Sheet, q *query) {
	roles, teams := map[string]bool{}, map[string]bool{}
	for i := range s.Staff.People {
		p := &s.Staff.People[i]
		roles[p.Role], teams[p.Team] = true, true
	}
	names := func(set map[string]bool) (list []string) {
		for n := range set {
			if n != "" {
				list = append(list, n)
			}
		}
		slices.Sort(list)
		return list
	}
	v.Filters = append(v.Filters, page.Choose("Of", "by", r.Asked.Get("by"), "", "people", "team", "teams"))
	if s.By == capacity.ByPerson {
		v.Filters = append(v.Filters, page.Choices("Role", "role", q.role, names(roles), "all"),
			page.Choices("Team", "team", q.team, names(teams), "all"))
	}
}

func wanted(l *people.Line, q *query) bool {
	if q.role == "" && q.team == "" || q.By != capacity.ByPerson {
		return true
	}
	return l.Person != nil && (q.role == "" || l.Person.Role == q.role) && (q.team == "" || l.Person.Team == q.team)
}

// loadCell is how busy somebody is: the darker, the fuller; hatched where it is over.
func loadCell(x *capacity.Cell, limits capacity.Limits) cell {
	c := cell{Text: bare(x), Title: hours(x.Demand) + " wanted of " + hours(x.Available)}
	if x.Unstaffed > 0 {
		c.Title += ", " + hours(x.Unstaffed) + " of nobody named"
	}
	switch load := x.Load(); {
	case limits.Of(x) == capacity.Over:
		c.Class = "load-over"
	case x.Available == 0:
		c.Class, c.Text, c.Title = "load-away", "", "not here"
	case limits.Of(x) == capacity.Full:
		c.Class = "load-4"
	case x.Demand == 0:
		c.Class, c.Text = "load-0", ""
	case load.Cmp(fact.Of(1, 3)) < 0:
		c.Class = "load-1"
	case load.Cmp(fact.Of(2, 3)) < 0:
		c.Class = "load-2"
	default:
		c.Class = "load-3"
	}
	return c
}

// nobodyCell is what is wanted without anybody being named: hours, since there are none to hold them against.
func nobodyCell(x *capacity.Cell) cell {
	if x.Demand == 0 {
		return cell{Class: "load-away", Title: "nothing is wanted"}
	}
	return cell{Text: hours(x.Demand), Class: "load-over", Title: hours(x.Demand) + " wanted, of nobody named"}
}

func share(hundredths int64) string { return page.Share(float64(hundredths)/10_000) + " %" }

// loadHeadline says who is over, and how many are not wanted for anything.
func loadHeadline(s *people.Sheet, lines []people.Line, limits capacity.Limits) string {
	b := people.BusyOf(lines, limits)
	if b.All == 0 {
		return "Nobody is named by these projects or filters from " + s.From.Name() + " to " + s.To.Name() + "."
	}
	one, many := "person", "people"
	if s.By == capacity.ByTeam {
		one, many = "team", "teams"
	}
	return write.Count(b.All, one, many) + " from " + s.From.Name() + " to " + s.To.Name() + ": " + write.Count(b.Over, "is", "are") +
		" overloaded at some time, and nothing is wanted of " + write.Whole(b.Idle) + "."
}

func emptyOf(r *page.Request) string {
	if len(r.Figures.People) == 0 {
		return "No people are known yet. They come with the files people, absences and assignments."
	}
	return "Nobody answers these filters."
}
