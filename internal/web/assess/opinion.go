package assess

import (
	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/forecast"
	"turret/internal/app/judge"
	"turret/internal/app/say"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/way"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

type opinionView struct {
	page.SectionFrame
	Rows   []opinionRow
	Ahead  []foretold
	Based  string // what is predicted from
	Unsure string // why nothing is
	Empty  string
}

// foretold is a project of which worse is predicted than declared.
type foretold struct {
	Code, Name, Lead, Href        string
	Declared, Computed, Predicted page.Mark
	Evidence                      []string
}

type opinionRow struct {
	Way                            string // what would bring the computed status nearer to the declared one
	Code, Name, Lead, Href, Assess string
	About, Said, Steps             string
	Computed                       page.Figure
	Declared, Mark                 *page.Mark
	Stake                          string
	Evidence                       []string
	Stale                          bool
}

func (s *pages) opinion(c fiber.Ctx) error {
	r, scope, err := s.ReadOpen(c)
	if err != nil {
		return err
	}
	v := opinionView{SectionFrame: Frame(r, "Second opinion", "Second opinion")}
	about := r.Asked.Get("about")
	v.Filters = []page.Picker{page.Choose("About", "about", about, "", "all", "status", "status", "cost", "cost", "finish", "finish",
		"benefit", "benefit")}
	v.Filtered, v.Clear = about != "", r.Here("about", "")
	v.Carry(r)
	var stake money.Amount
	of := map[*measure.Project]bool{}
	for _, d := range judge.Disagreements(r.Figures, scope) {
		if r.Figures.NoMoney && (d.About == "cost" || d.About == "benefit") || about != "" && d.About != about {
			continue
		}
		p := d.Project
		of[p] = true
		x := opinionRow{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.Project(p.Code),
			Assess: r.To(page.ProjectPath(p.Code) + "/assess"),
			About:  d.About, Said: d.Said,
			Evidence: d.Evidence, Stale: d.Stale, Computed: page.Figure{Text: d.Computed, Title: "how it was computed",
				Href: r.Project(p.Code, "trace", d.Key.String())}}
		if d.About == "status" {
			x.Steps = write.Count(d.Steps, "step", "steps")
			if ways := way.Of(p, r.Figures.Env); len(ways) > 0 {
				x.Way = say.Way(&ways[0])
			}
			x.Declared = &page.Mark{SVG: page.Pennant(p.Declared.Overall, 13, true), Label: "declared"}
			x.Mark = &page.Mark{SVG: page.Pennant(p.Health.Computed[len(p.Health.Computed)-1], 13, false), Label: "computed"}
		}
		if !r.Figures.NoMoney {
			x.Stake = d.Stake.Short(r.Figures.Env.Currency)
			if d.About == "status" {
				stake += d.Stake
			}
		}
		v.Rows = append(v.Rows, x)
	}
	v.Headline = []page.Spoken{{Text: "Nothing is declared better than the figures are."}}
	if n := len(v.Rows); n > 0 {
		v.Headline = []page.Spoken{{Text: write.Count(n, "thing is", "things are") + " said better than the figures are, in " +
			write.Count(len(of), "project", "projects")}}
		if stake > 0 {
			v.Headline = append(v.Headline, page.Spoken{Text: "; " + stake.Short(r.Figures.Env.Currency) +
				" beyond tolerance are declared away"})
		}
		v.Headline = append(v.Headline, page.Spoken{Text: "."})
	} else {
		v.Empty = "Where a better status, a lower estimate, an earlier finish or more benefit is declared than the figures give, it " +
			"stands here with the evidence."
	}
	v.ahead(r, scope)
	return r.Answer("opinion", &v.Page, &v)
}

// ahead lists of which projects worse is predicted than declared.
func (v *opinionView) ahead(r *page.Request, scope *assess.Scope) {
	f := page.ForesightOf(r)
	if f.Outlooks == nil {
		v.Unsure = "What is predicted is being learned; it is here in a moment."
		return
	}
	list := f.Among(scope.Projects).Worse()
	for i := range list {
		x := &list[i]
		p := x.Project
		v.Ahead = append(v.Ahead, foretold{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.To(page.ProjectPath(p.Code) + "/outlook"),
			Declared:  page.Mark{SVG: page.Pennant(x.Declared, 13, true), Label: x.Declared.String()},
			Computed:  page.Mark{SVG: page.Pennant(x.Computed, 13, false), Label: x.Computed.String()},
			Predicted: page.Mark{SVG: page.Foreseen(x, 13).SVG, Label: x.Predicted().String()}, Evidence: x.Evidence()})
	}
	v.Based = forecast.LearnedSays(f.Learned)
}
