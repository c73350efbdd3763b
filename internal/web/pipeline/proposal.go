package pipeline

import (
	"cmp"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/pipeline"
	"turret/internal/core/capacity"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

// oneView is a proposal as it is read before it is decided.
type oneView struct {
	page.SectionFrame
	Asked, Decision, Why string
	Purpose              []string // paragraphs
	Years                []yearRow
	Roles                []roleRow
	Models               []modelView
	Goals                []goalLine
	Keeps                []string // requirements in words
	Money                bool
	Decide, Edit         string // addresses; empty where the one who asks may not
	RateEdit, GoalEdit   string
}

type yearRow struct{ Name, Amount string }

type roleRow struct{ Role, Hours string }

type modelView struct {
	Code, Says, Href string
	Rows             []weighed
}

// weighed is a rating in a model.
type weighed struct{ Name, Weight, Rating, From, Anchors string }

type goalLine struct{ Name, Rating, Statement string }

func (s *pages) proposal(c fiber.Ctx) error {
	r, x, err := s.OfProject(c)
	if err != nil {
		return err
	}
	p, err := pipeline.Read(c.Context(), r.Figures)
	if err != nil {
		return err
	}
	scope, err := r.Figures.Scope("")
	if err != nil {
		return err
	}
	v := oneView{SectionFrame: page.SectionFrame{Page: r.Page(named(x), "Pipeline")}, Money: !r.Figures.NoMoney}
	r.Of(&v.Page, x, page.ProposalTab)
	v.says(r, p.Proposals[x.Code], x)
	v.wants(r, x)
	for i := range p.Models {
		ranking, err := pipeline.RankOf(c.Context(), r.Figures, p, scope, p.Models[i].Code)
		if err != nil {
			return err
		}
		for k := range ranking.Rows {
			if ranking.Rows[k].Code == x.Code {
				v.Models = append(v.Models, modelOfOne(r, ranking, &ranking.Rows[k]))
			}
		}
	}
	v.goals(p, x)
	for _, q := range p.Requirements[x.Code] {
		v.Keeps = append(v.Keeps, strings.TrimSpace(q.Kind+" "+q.Other))
	}
	if mayJudge(r) {
		v.Decide = r.To("/pipeline/proposals", "pick", x.Code) + "#decide"
		v.Edit = r.To(page.EditPath(record.Proposals, x.Code))
		v.GoalEdit = r.To(page.EditPath(record.Contributions, x.Code))
	}
	return r.Answer("pipeline-proposal", &v.Page, &v)
}

func (v *oneView) says(r *page.Request, d *pipeline.Proposal, x *measure.Project) {
	text := x.Name
	switch b := x.Value(measure.BAC); {
	case r.Figures.NoMoney:
	case b.Known:
		text += " asks for " + b.Amount().Short(r.Figures.Env.Currency)
	default:
		text += " names no cost"
	}
	if when := span(x.PlannedStart, x.PlannedFinish); when != "" {
		text += ", " + when
	}
	v.Decision = "none yet"
	if d != nil {
		v.Decision, v.Why = d.Says(), d.Reason
		v.Asked = d.AskedBy
		if d.AskedOn != 0 {
			v.Asked = write.Joined(", ", v.Asked, "on "+d.AskedOn.Human())
		}
		for _, line := range strings.Split(d.Purpose, "\n") {
			if line = strings.TrimSpace(line); line != "" {
				v.Purpose = append(v.Purpose, line)
			}
		}
	}
	v.Headline = []page.Spoken{{Text: text + ". Decision: " + v.Decision + "."}}
}

// wants tells what is asked for in money and people.
func (v *oneView) wants(r *page.Request, x *measure.Project) {
	if !r.Figures.NoMoney {
		for _, y := range pipeline.YearsOf(r.Figures, x) {
			v.Years = append(v.Years, yearRow{y.Name, y.Amount.Human(r.Figures.Env.Currency)})
		}
	}
	for _, h := range pipeline.RolesOf(r.Figures, x) {
		v.Roles = append(v.Roles, roleRow{cmp.Or(h.Role, "no role"), write.Decimal(capacity.Hours(h.Want)/100, 0) + " h"})
	}
}

func modelOfOne(r *page.Request, ranking *pipeline.Ranking, x *pipeline.Ranked) modelView {
	m := modelView{Code: ranking.Model.Code, Href: r.To("/pipeline/ranking", "model", ranking.Model.Code)}
	m.Says = "not rated"
	if x.Scored {
		m.Says = "score " + pipeline.Points(x.Score) + ", rank " + numbered(x.Rank)
		if x.Low != x.High {
			m.Says += ", between " + numbered(x.Low) + " and " + numbered(x.High) + " where weights differ by a fifth"
		} else {
			m.Says += ", steady where weights differ by a fifth"
		}
	}
	for k := range ranking.Model.Criteria {
		c := &ranking.Model.Criteria[k]
		w := weighed{Name: c.Name, Weight: money.Plain(c.Weight, 4), Rating: ratingHuman(x.Ratings[k]), Anchors: c.Anchors}
		switch {
		case x.Typed[k]:
			w.From = "typed"
		case x.Ratings[k].Given():
			w.From = c.Measure.String()
		}
		m.Rows = append(m.Rows, w)
	}
	return m
}

func (v *oneView) goals(p *pipeline.Pipeline, x *measure.Project) {
	for _, c := range p.Contributions[x.Code] {
		v.Goals = append(v.Goals, goalLine{goalName(p, c.Goal), money.Plain(c.Rating, 4) + " of 5", c.Statement})
	}
}

func goalName(p *pipeline.Pipeline, code string) string {
	for _, g := range p.Goals {
		if g.Code == code {
			return g.Name
		}
	}
	return code
}
