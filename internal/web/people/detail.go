package people

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/fault"
	"turret/internal/app/people"
	"turret/internal/core/capacity"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// detail is what makes up a cell, beside the map.
type detail struct {
	Title, Span, Figure, Says string
	CloseHref                 string
	Wants                     []want
	Has                       []have
	Could                     []spare
	CouldSays                 string
	More, MoreHas             string
}

type want struct{ Project, Href, Who, Percent, Hours, When string }

type have struct{ Name, Hours, Away string }

type spare struct{ Name, Role, Hours, Tone string }

// mostListed is how many of each are listed.
const mostListed = 30

// mostCould is how many are named who could take something.
const mostCould = 10

// detailOf tells what makes up the cell that the address names; nil where it names none.
func detailOf(r *page.Request, s *people.Sheet) (*detail, error) {
	asked := r.Asked.Get("cell")
	if asked == "" {
		return nil, nil
	}
	name, spanName := asked, ""
	if i := strings.LastIndex(asked, "|"); i >= 0 {
		name, spanName = asked[:i], asked[i+1:]
	}
	at := slices.IndexFunc(s.Spans, func(x capacity.Span) bool { return x.Name == spanName })
	if at < 0 {
		return nil, fmt.Errorf("cell %q: %w", fault.Clip(asked, 60), fault.ErrNotFound)
	}
	span := s.Spans[at]
	d := capacity.Explain(s.Env, s.Staff, s.By, name, span.First, span.Last)
	x := &detail{Title: cmp.Or(name, "Nobody named"), Span: span.First.Human() + " to " + span.Last.Human(), Figure: percent(&d.Total),
		Says: hours(d.Total.Demand) + " wanted of " + hours(d.Total.Available) + " there", CloseHref: r.Here("cell", "")}
	if k := slices.IndexFunc(s.Rows, func(row capacity.Row) bool { return row.Name == name && row.Span == at }); s.Booked && k >= 0 {
		x.Says += fmt.Sprintf(", %s booked, %s billable", hours(s.Rows[k].Booked), ratio(s.Rows[k].BillableUtilisation()))
	}
	if s.By == capacity.ByPerson {
		for i := range s.Staff.People {
			if s.Staff.People[i].Code == name {
				x.Title = s.Staff.People[i].Name
			}
		}
	}
	x.wants(r, s, &d)
	x.haves(r, s, &d)
	if r.Figures.Settings.LoadLimits().Of(&d.Total) == capacity.Over && people.MayName(r.Context()) == nil {
		x.could(s, name, &span)
	}
	return x, nil
}

func (x *detail) wants(r *page.Request, s *people.Sheet, d *capacity.Detail) {
	for i, w := range d.Wants {
		if i == mostListed {
			x.More = write.Count(len(d.Wants)-i, "more asks", "more ask") + " for less."
			break
		}
		a := &s.Staff.Assigned[w.Assignment]
		project, href := projectOf(r, r.Figures, a.Project)
		line := want{Project: project, Href: href, Percent: page.Share(float64(a.Percent)/10_000) + " %", Hours: hours(w.Units),
			When: a.From.Human() + " to " + a.To.Human(), Who: "nobody named"}
		if a.Person >= 0 {
			line.Who = s.Staff.People[a.Person].Name
			if people.MayName(r.Context()) != nil {
				line.Who = "somebody named"
			}
		}
		if a.Activity != "" && href != "" {
			line.Project += ", " + a.Activity
		}
		x.Wants = append(x.Wants, line)
	}
}

func (x *detail) haves(r *page.Request, s *people.Sheet, d *capacity.Detail) {
	if people.MayName(r.Context()) != nil {
		return
	}
	for i, h := range d.Has {
		if i == mostListed {
			x.MoreHas = write.Count(len(d.Has)-i, "more person", "more people") + " besides."
			break
		}
		line := have{Name: s.Staff.People[h.Person].Name, Hours: hours(h.Available)}
		if h.Away > 0 {
			line.Away = hours(h.Away) + " away"
		}
		x.Has = append(x.Has, line)
	}
}

// could lists who could take what is too much.
func (x *detail) could(s *people.Sheet, name string, span *capacity.Span) {
	role, team := "", ""
	switch s.By {
	case capacity.ByPerson:
		for i := range s.Staff.People {
			if p := &s.Staff.People[i]; p.Code == name {
				role, team = p.Role, p.Team
			}
		}
	case capacity.ByRole:
		role = name
		for i := range s.Staff.People { // the team in which most of the role are
			if p := &s.Staff.People[i]; p.Role == role && team == "" {
				team = p.Team
			}
		}
	case capacity.ByTeam:
		team = name
	}
	if role == "" && team == "" {
		return
	}
	for _, c := range capacity.WhoCould(s.Env, s.Staff, role, team, span.First, span.Last) {
		p := &s.Staff.People[c.Person]
		if s.By == capacity.ByPerson && p.Code == name || c.Units <= 0 || c.Out {
			continue
		}
		if len(x.Could) == mostCould {
			break
		}
		x.Could = append(x.Could, spare{Name: p.Name, Role: p.Role, Hours: hours(c.Units)})
	}
	if len(x.Could) == 0 {
		x.CouldSays = "Nobody of the role or the team has hours free in these days."
	}
}
