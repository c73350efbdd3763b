// Package closing holds the page on which a project is closed.
package closing

import (
	"embed"
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/closing"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of closing a project.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/projects/:code/closing", s.project)
	s.App.Post("/projects/:code/closing", s.close)
}

// view is what must be done before a project is closed.
type view struct {
	page.SectionFrame
	Items   []item
	Hidden  bool
	Close   string // address; empty where the one who asks may not
	Left    int
	Reason  string
	Problem string
	Says    string
}

type item struct {
	Says, Mark, Tone string
	Left, Count      string
	To               string
}

// mostLeft is how many things of an item are named.
const mostLeft = 6

func (s *pages) project(c fiber.Ctx) error { return s.show(c, nil) }

func (s *pages) show(c fiber.Ctx, refused error) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	list, err := closing.Of(c.Context(), r.Figures, p)
	if err != nil {
		return err
	}
	v := view{SectionFrame: page.SectionFrame{Page: r.Page("Closing of "+p.Code, "Projects")}, Hidden: list.Hidden, Left: list.Left()}
	r.Of(&v.Page, p, page.CloseTab)
	v.Headline = []page.Spoken{{Text: headline(p, list)}}
	for i := range list.Items {
		v.Items = append(v.Items, itemOf(r, p, &list.Items[i]))
	}
	switch {
	case p.Status != measure.Open:
		v.Says = "Its history stays: what was declared, computed and published for it is learned from."
	case r.Figures.Closed == nil && s.Office.Closing.MayClose(c.Context(), p.Code):
		v.Close = r.To(page.ProjectPath(p.Code) + "/closing")
	}
	if refused != nil {
		c.Status(fiber.StatusUnprocessableEntity)
		v.Problem, v.Reason = page.RefusedText(refused), strings.Clone(c.FormValue("reason"))
	}
	return r.Answer("project-closing", &v.Page, &v)
}

func headline(p *measure.Project, l *closing.List) string {
	switch n := l.Left(); {
	case p.Status != measure.Open:
		return fmt.Sprintf("%s is %s.", p.Name, p.Status)
	case n == 0:
		return p.Name + " can be closed: nothing is left to be done."
	default:
		return fmt.Sprintf("Before %s is closed, %s left to be done.", p.Name, write.Count(n, "thing is", "things are"))
	}
}

func itemOf(r *page.Request, p *measure.Project, x *closing.Item) item {
	it := item{Says: x.Says, Mark: "✓", Tone: "tone-on-track", Left: strings.Join(x.Left[:min(len(x.Left), mostLeft)], "; "),
		To: placeOf(r, p, x.Part)}
	if len(x.Left) > 0 {
		it.Mark, it.Tone, it.Count = "–", "tone-watch", fmt.Sprint(len(x.Left))
	}
	if n := len(x.Left); n > mostLeft {
		it.Left += fmt.Sprintf("; and %d more", n-mostLeft)
	}
	return it
}

// placeOf is where a part is looked after.
func placeOf(r *page.Request, p *measure.Project, part closing.Part) string {
	path := page.ProjectPath(p.Code)
	switch part {
	case closing.Work:
		return r.To(path + "/plan")
	case closing.Accruals, closing.Commitments:
		return r.To(path+"/money", "rows", "commitment")
	case closing.Forecast:
		return r.To(path + "/money")
	case closing.Benefits:
		return r.To(path + "/benefits")
	case closing.People:
		return r.To(path + "/people")
	case closing.Lessons:
		return r.To(page.EditPath(record.Lessons, p.Code))
	}
	return r.To(path + "/risks")
}

func (s *pages) close(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	if _, err = s.Office.Closing.Close(c.Context(), r.Figures, p.Code, strings.Clone(c.FormValue("reason"))); err == nil {
		page.Tell(c, p.Code+" is closed. It was saved"+r.InPeriod()+page.Withdrawable(c)+".")
	}
	return page.Answered(c, err, page.ProjectPath(p.Code)+"/closing", func(refused error) error { return s.show(c, refused) })
}
