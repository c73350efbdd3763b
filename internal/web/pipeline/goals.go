package pipeline

import (
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/pipeline"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// goalsView tells how goals are served, by what runs and by what is proposed.
type goalsView struct {
	page.SectionFrame
	Rows  []goalRow
	Idle  []page.Link
	Money bool
	Empty string
	Add   string
}

type goalRow struct {
	Code, Name, Owner    string
	Weight, Share, Money string
	Bar, Mark            int // shares of the money and of the weight, of 100
	Projects, Proposals  string
	Short                bool
	More                 []goalProject
}

type goalProject struct{ Name, Href, Rating, Statement string }

// statesAsked are the states of projects that an address asks for; nil for those that are open or proposed.
func statesAsked(r *page.Request) ([]measure.State, error) {
	text := r.Asked.Get("status")
	if text == "" {
		return nil, nil
	}
	return assess.States(text)
}

func (s *pages) goals(c fiber.Ctx) error {
	r, scope, p, err := s.read(c)
	if err != nil {
		return err
	}
	v := goalsView{SectionFrame: frame(r, "Goals"), Money: !r.Figures.NoMoney,
		Empty: "No goals are known. They come with the file goals, and what projects do for them with contributions."}
	v.Filters = []page.Picker{page.Choose("Projects", "status", r.Asked.Get("status"), "", "open and proposed", "open", "open", "proposed",
		"proposed")}
	v.Carry(r)
	states, err := statesAsked(r)
	if err != nil {
		return err
	}
	served := pipeline.Serve(r.Figures, p, scope, states...)
	for i := range served.Goals {
		v.Rows = append(v.Rows, goalOf(r, &served.Goals[i]))
	}
	byCode(served.Idle)
	for _, x := range served.Idle[:min(len(served.Idle), mostIdle)] {
		v.Idle = append(v.Idle, page.Link{Text: named(x), Href: r.Project(x.Code)})
	}
	v.Headline = []page.Spoken{{Text: goalsHeadline(served)}}
	return r.Answer("pipeline-goals", &v.Page, &v)
}

// mostIdle bounds how many projects are named that serve no goal.
const mostIdle = 60

func goalOf(r *page.Request, g *pipeline.Served) goalRow {
	row := goalRow{Code: g.Code, Name: g.Name, Owner: g.Owner, Weight: write.Percent(g.Weighs.Float(), 1),
		Projects: strconv.Itoa(len(g.By)),
		Mark:     int(100 * g.Weighs.Float())}
	proposals := 0
	for _, x := range g.By {
		if x.Project.Status == measure.Proposed {
			proposals++
		}
		row.More = append(row.More, goalProject{named(x.Project), r.Project(x.Project.Code), money.Plain(x.Rating, 4), x.Statement})
	}
	row.Proposals = strconv.Itoa(proposals)
	if !r.Figures.NoMoney {
		row.Money, row.Share = g.Money.Short(r.Figures.Env.Currency), "–"
		if g.Share.Given() {
			row.Share, row.Bar = write.Percent(g.Share.Float(), 1), max(0, min(100, int(100*g.Share.Float())))
			row.Short = g.Share.Cmp(g.Weighs) < 0
		}
	}
	return row
}

func goalsHeadline(s *pipeline.Serving) string {
	if len(s.Goals) == 0 {
		return "No goals are known."
	}
	unserved, worst := 0, -1
	for i := range s.Goals {
		g := &s.Goals[i]
		if len(g.By) == 0 {
			unserved++
		}
		if g.Share.Given() && (worst < 0 || g.Share.Minus(g.Weighs).Cmp(s.Goals[worst].Share.Minus(s.Goals[worst].Weighs)) < 0) {
			worst = i
		}
	}
	text := write.Count(len(s.Goals), "goal is", "goals are") + " served by " + write.Count(s.Serving, "project", "projects")
	if worst >= 0 && s.Goals[worst].Share.Cmp(s.Goals[worst].Weighs) < 0 {
		g := &s.Goals[worst]
		text += "; " + g.Name + " weighs " + write.Percent(g.Weighs.Float(), 1) + " and has " + write.Percent(g.Share.Float(), 1) +
			" of the money"
	}
	if unserved > 0 {
		text += "; " + write.Count(unserved, "goal has", "goals have") + " nothing"
	}
	return text + "; " + write.Count(len(s.Idle), "project serves", "projects serve") + " none."
}
