package people

import (
	"cmp"
	"fmt"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/people"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// workView is planned against actual hours, by project and person.
type workView struct {
	page.SectionFrame
	Groups []workGroup
	More   string
	Empty  string
}

type workGroup struct {
	Name, Href string
	Rows       []workRow
	Sum        workRow
}

type workRow struct {
	Name, Role                                   string
	Planned, Worked, Differs, ToGo, Outlook, All string
	Over                                         bool
}

func (s *pages) work(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	scope, err := r.Figures.Scope(r.Scope)
	if err != nil {
		return err
	}
	list, err := people.WorkOf(c.Context(), r.Figures, scope.Projects)
	if err != nil {
		return err
	}
	v := workView{SectionFrame: page.SectionFrame{Page: r.Page("Planned and worked", "People"), Tabs: page.PeopleTabs(r,
		"Planned and worked")},
		Empty: "No hours are planned or booked on these projects. They come with the files assignments and timesheets, and by week sheets."}
	v.Page.Awaits = ""
	var all people.Work
	var sum people.Work
	over := 0
	for i := range list {
		w := &list[i]
		all.Add(w)
		if w.Over() {
			over++
		}
		if i == 0 || list[i-1].Project != w.Project {
			if len(v.Groups) == mostRows {
				v.More = "Only the first " + write.Whole(mostRows) + " projects are shown: narrow them by a scope."
				continue
			}
			sum = people.Work{}
			g := workGroup{Name: w.Project.Code + " " + w.Project.Name, Href: r.Project(w.Project.Code)}
			if w.Project.Status != measure.Open {
				g.Name += ", " + w.Project.Status.String()
			}
			v.Groups = append(v.Groups, g)
		}
		g := &v.Groups[len(v.Groups)-1]
		sum.Add(w)
		g.Rows = append(g.Rows, workRowOf(w))
		g.Sum = workRowOf(&sum)
	}
	v.Headline = []page.Spoken{{Text: fmt.Sprintf("%s were worked where %s were planned; %s are to go. Over plan by more than a tenth: %s.",
		hours(all.Worked), hours(all.Planned), hours(all.ToGo), write.Count(over, "person on a project", "people on projects"))}}
	return r.Answer("people-work", &v.Page, &v)
}

func workRowOf(w *people.Work) workRow {
	x := workRow{Name: cmp.Or(w.Name, "nobody known"), Planned: hours(w.Planned), Worked: hours(w.Worked),
		Differs: hours(w.Worked - w.Planned),
		ToGo:    hours(w.ToGo), Outlook: hours(w.Outlook()), All: hours(w.All()), Over: w.Over()}
	if w.Person != nil {
		x.Role = w.Person.Role
	} else if w.Name != "" {
		x.Role = "nobody named"
	}
	return x
}
