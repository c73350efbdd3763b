// Package pipeline holds the pages of what is proposed: proposals and what is decided of them, how they rank, which goals they serve, and
// what is
// best chosen.
package pipeline

import (
	"cmp"
	"embed"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/pipeline"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var files embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of the pipeline.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(files)
	s.App.Get("/pipeline", func(c fiber.Ctx) error { return page.Go(c, "/pipeline/proposals") })
	s.App.Get("/pipeline/proposals", s.proposals)
	s.App.Post("/pipeline/proposals", s.decide)
	s.App.Get("/pipeline/ranking", s.ranking)
	s.App.Post("/pipeline/ranking", s.rate)
	s.App.Get("/pipeline/goals", s.goals)
	s.App.Get("/pipeline/selection", s.selection)
	s.App.Get("/pipeline/plane", s.plane)
	s.App.Get("/pipeline/roadmap", s.roadmap)
	s.App.Get("/pipeline/new", s.fresh)
	s.App.Post("/pipeline/new", s.propose)
	s.App.Get("/pipeline/form", s.composed)
	s.App.Post("/pipeline/form", s.compose)
	t := &templatePages{s}
	s.App.Get(templatesPath, t.templates)
	s.App.Post(templatesPath, t.saveTemplate)
	s.App.Get("/projects/:code/proposal", s.proposal)
}

// read reads a page of the section: its scope, and what stands of the pipeline.
func (s *pages) read(c fiber.Ctx) (*page.Request, *assess.Scope, *pipeline.Pipeline, error) {
	r, err := s.Read(c)
	if err != nil {
		return nil, nil, nil, err
	}
	scope, err := r.Figures.Scope(r.Scope)
	if err != nil {
		return nil, nil, nil, err
	}
	p, err := pipeline.Read(c.Context(), r.Figures)
	return r, scope, p, err
}

func frame(r *page.Request, title string) page.SectionFrame {
	v := page.SectionFrame{Page: r.Page(title, "Pipeline"), Tabs: page.PipelineTabs(r, title)}
	v.Page.Awaits = ""
	return v
}

// proposedIn are the proposals of a scope.
func proposedIn(s *assess.Scope) []*measure.Project {
	return slices.DeleteFunc(slices.Clone(s.Projects), func(p *measure.Project) bool { return p.Status != measure.Proposed })
}

// modelOf is the model that an address asks for, else the first; nil where there is none.
func modelOf(r *page.Request, p *pipeline.Pipeline) (*pipeline.Model, error) {
	if code := r.Asked.Get("model"); code != "" {
		return p.Model(code)
	}
	if len(p.Models) == 0 {
		return nil, nil
	}
	return &p.Models[0], nil
}

// models offers the models where there are several.
func models(p *pipeline.Pipeline, now *pipeline.Model) []page.Picker {
	if len(p.Models) < 2 {
		return nil
	}
	var codes []string
	for i := range p.Models {
		codes = append(codes, p.Models[i].Code)
	}
	return []page.Picker{page.Choices("Model", "model", now.Code, codes, "")}
}

// mayJudge reports whether the one who asks decides of proposals in the period that is shown.
func mayJudge(r *page.Request) bool {
	return access.ActorOf(r.Context()).May(access.Judge) && r.Figures.Closed == nil
}

// named is a project as it is written in lists.
func named(p *measure.Project) string { return p.Code + " " + p.Name }

// spread says between which ranks a project stands over other weights.
func spread(x *pipeline.Ranked) string {
	if !x.Scored {
		return ""
	}
	if x.Low == x.High {
		return "steady"
	}
	return write.Whole(x.Low) + " to " + write.Whole(x.High)
}

func byCode(list []*measure.Project) {
	slices.SortFunc(list, func(x, y *measure.Project) int { return cmp.Compare(x.Code, y.Code) })
}

// listed writes names one after another.
func listed(list []string) string { return strings.Join(list, ", ") }

// rated says by how many criteria a project is rated, and marks it where those are not all.
func rated(x *pipeline.Ranked) (text, tone string) {
	n, all := x.Rated(), len(x.Ratings)
	if n < all {
		tone = "tone-watch"
	}
	return strconv.Itoa(n) + " of " + strconv.Itoa(all), tone
}
