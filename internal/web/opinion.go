package web

import (
	"github.com/gofiber/fiber/v3"

	"turret/internal/app/judge"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

type opinionView struct {
	sectionFrame
	Rows  []opinionRow
	Empty string
}

type opinionRow struct {
	Code, Name, Lead, Href, Assess string
	About, Said, Steps             string
	Computed                       figure
	Declared, Mark                 *mark
	Stake                          string
	Evidence                       []string
	Stale                          bool
}

func (s *Server) opinion(c fiber.Ctx) error {
	r, scope, err := s.readAssess(c)
	if err != nil {
		return err
	}
	v := opinionView{sectionFrame: r.assessFrame("Second opinion", "Second opinion")}
	about := r.query.Get("about")
	v.Filters = []picker{choose("About", "about", about, "", "all", "status", "status", "cost", "cost", "finish", "finish")}
	v.Filtered, v.Clear = about != "", r.here("about", "")
	v.keep(r)
	var stake money.Amount
	of := map[*measure.Project]bool{}
	for _, d := range judge.Disagreements(r.a, scope) {
		if r.a.NoMoney && d.About == "cost" || about != "" && d.About != about {
			continue
		}
		p := d.Project
		of[p] = true
		x := opinionRow{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.project(p.Code), Assess: r.to(projectPath(p.Code) + "/assess"),
			About: d.About, Said: d.Said,
			Evidence: d.Evidence, Stale: d.Stale, Computed: figure{Text: d.Computed, Title: "how it was computed",
				Href: r.project(p.Code, "trace", d.Key)}}
		if d.About == "status" {
			x.Steps = count(d.Steps, "step", "steps")
			x.Declared = &mark{pennant(p.Declared.Overall, 13, true), "declared"}
			x.Mark = &mark{pennant(p.Health.Computed[len(p.Health.Computed)-1], 13, false), "computed"}
		}
		if !r.a.NoMoney {
			x.Stake = d.Stake.Short(r.a.Env.Currency)
			if d.About == "status" {
				stake += d.Stake
			}
		}
		v.Rows = append(v.Rows, x)
	}
	v.Headline = []spoken{{Text: "Nothing is declared better than the figures are."}}
	if n := len(v.Rows); n > 0 {
		v.Headline = []spoken{{Text: count(n, "thing is", "things are") + " said better than the figures are, in " +
			count(len(of), "project", "projects")}}
		if stake > 0 {
			v.Headline = append(v.Headline, spoken{Text: "; " + stake.Short(r.a.Env.Currency) + " beyond tolerance are declared away"})
		}
		v.Headline = append(v.Headline, spoken{Text: "."})
	} else {
		v.Empty = "Where a lead declares a better status, a lower estimate or an earlier finish than the figures give, it stands here " +
			"with the evidence."
	}
	return r.render("opinion", &v.Page, &v)
}
