package people

import (
	"fmt"
	"net/url"
	"slices"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/people"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// levelView tells what putting work off within its free float would do.
type levelView struct {
	page.SectionFrame
	Rows     []levelRow
	Gains    string
	Costs    string
	How      string
	Rehearse string // its dates as a rehearsal
	Empty    string
}

type levelRow struct{ Project, Href, Work, Days, Float, Hours, From, To string }

func (s *pages) level(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	scope, err := r.Figures.Scope(r.Scope)
	if err != nil {
		return err
	}
	role := r.Asked.Get("role")
	l, err := people.LevelOf(c.Context(), r.Figures, scope.Projects, role)
	if err != nil {
		return err
	}
	v := levelView{SectionFrame: page.SectionFrame{Page: r.Page("Levelling", "People"), Tabs: page.PeopleTabs(r, "Levelling")}}
	v.Page.Awaits = ""
	roles := map[string]bool{}
	for i := range r.Figures.People {
		roles[r.Figures.People[i].Role] = true
	}
	var names []string
	for name := range roles {
		if name != "" {
			names = append(names, name)
		}
	}
	slices.Sort(names)
	v.Filters = append(v.Filters, page.Choices("Role", "role", role, names, "all"))
	v.Carry(r)
	v.fill(r, l)
	return r.Answer("people-level", &v.Page, &v)
}

func (v *levelView) fill(r *page.Request, l *people.Levelling) {
	head := "No work with people can wait without anything else moving."
	switch {
	case len(l.Waits) > 0:
		head = fmt.Sprintf("%s too many become %s, if %s.", hours(l.Before), hours(l.After),
			write.Count(len(l.Waits), "activity waits", "activities wait"))
	case l.Could > 0 && l.Before == 0:
		head = "Nobody is overloaded by work that can wait."
	case l.Could > 0:
		head = hours(l.Before) + " are too many, and waiting within the free float makes them no fewer."
	}
	v.Headline = []page.Spoken{{Text: head}}
	v.Empty = fmt.Sprintf("%s with people could wait, %s could not: without float, or critical. Only assignments that name their activity "+
		"are tried.", write.Count(l.Could, "activity", "activities"), write.Count(l.Bound, "other", "others"))
	if len(l.Waits) == 0 {
		return
	}
	days := int32(0)
	to := r.To("/timeline/rehearsal")
	q := url.Values{}
	for i := range l.Waits {
		w := &l.Waits[i]
		days += w.Days
		row := levelRow{Project: w.Project.Code, Href: r.To("/people/plan/" + w.Project.Code), Work: w.Activity.Code + " " +
			w.Activity.Name,
			Days: write.Count(int(w.Days), "day", "days"), Float: strconv.Itoa(int(w.Float)), Hours: hours(w.Units)}
		row.From = w.From.Human() + " to " + w.To.Human()
		row.To = w.After(w.From, &r.Figures.Env).Human() + " to " + w.After(w.To, &r.Figures.Env).Human()
		v.Rows = append(v.Rows, row)
		q.Add("move", url.Values{"project": {w.Project.Code}, "activity": {w.Activity.Code},
			"shift": {strconv.Itoa(int(w.Days))}}.Encode())
	}
	sep := "?"
	if len(to) > len("/timeline/rehearsal") {
		sep = "&"
	}
	v.Rehearse = to + sep + q.Encode()
	v.Gains = hours(l.Before-l.After) + " fewer are wanted of roles on days on which they are not there, from " + l.From.Human() + " to " +
		l.Till.Human() + "."
	v.Costs = write.Count(int(days), "working day", "working days") +
		" of waiting in all. No other activity and no finish moves, since each waits " +
		"within its free float; what is left of that is gone for later."
	v.How = "This is the best way there is: all were tried but those that could not be better."
	if !l.Exact {
		v.How = "This is a good way, found task by task, those with the least float first; another may be better."
	}
}
