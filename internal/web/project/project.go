// Package project holds the pages of the list of projects, and the page of one.
package project

import (
	"embed"
	"fmt"
	"html/template"
	"strings"

	"turret/internal/app/assess"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/forecast"
	"turret/internal/app/say"
	"turret/internal/chart"
	"turret/internal/core/breakdown"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of the list of projects, and the page of one.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/projects", s.projects)
	s.App.Get("/projects/:code", s.project)
	s.App.Get("/projects/:code/risks", s.tabRecords(page.RiskTab))
	s.App.Get("/projects/:code/people", s.tabRecords(page.PeopleTab))
	s.App.Get("/projects/:code/records", s.allRecords)
	s.App.Get("/projects/:code/records/:kind", s.kindRecords)
	s.App.Get("/find", s.find)
}

// projectView is the page of one project.
type projectView struct {
	Page       page.Page
	Overall    page.Mark
	Declared   *page.Mark
	Ahead      *aheadPart
	Headline   []page.Spoken
	Dimensions []DimensionView
	About      string
	Facts      []page.Fact
	Ways       []page.WayRow
	Strip      template.HTML
	Milestones []milestoneRow
	Costs      []costRow
	CostTotal  costRow
	Problem    string
	NoMoney    bool
	Said       []said
	Commentary string
	SaidFrom   string
	Known      *aboutView
}

// DimensionView is a status of a project.
type DimensionView struct {
	Mark page.Mark
	Name string
	Href string
}

type milestoneRow struct {
	Code, Name, Level, State string
	Mark                     page.Mark
	Baseline, Date           string
	Days                     page.Figure
}

type costRow struct {
	Name  string
	Cells []page.Figure
}

type said struct {
	Name               string
	Declared, Computed page.Mark
	Differs            string
}

func (s *pages) project(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	v := projectView{Page: r.Page(p.Code+" "+p.Name, "Projects")}
	if err := r.ProjectTrace(&v.Page, p.Code); err != nil {
		return err
	}
	r.Of(&v.Page, p, page.SummaryTab)
	v.NoMoney = r.Figures.NoMoney
	h := &p.Health
	v.Overall = page.Mark{SVG: page.Pennant(h.Overall, 27, false), Label: write.Capital(page.OverallWords(h)) + page.Because(h.Reason())}
	if d := p.Value(measure.DeclaredHealth); d.Known && d.Status() != h.Overall {
		v.Declared = &page.Mark{SVG: page.Pennant(d.Status(), 22, true), Label: "Declared " + d.Status().String()}
	}
	v.Ahead = aheadOf(r, p)
	v.Headline = r.Headline(say.Headline(p, r.Figures.Env),
		func(key measure.Key) string {
			return r.Here("trace", key.String(), "at", "", "code", "", "milestone", "", "of", "")
		})
	v.dimensions(r, p)
	v.facts(r, p)
	v.Ways = page.WaysOf(p, r.Figures.Env)
	drawn := chart.Strip(p, r.Figures.Env, page.StripWidth, milestonesAhead(r, p))
	v.Strip = template.HTML(drawn.SVG()) // the scene escapes texts
	v.milestones(r, p)
	v.costs(r, p)
	v.said(p)
	if v.Known, err = s.about(r, p); err != nil {
		return err
	}
	return r.Answer("project", &v.Page, &v)
}

// aheadPart is what is predicted of a project at completion.
type aheadPart struct {
	Mark              page.Mark
	Says, Based, Href string
}

// aheadOf tells what is predicted; nil where nothing is, or it is still being learned.
func aheadOf(r *page.Request, p *measure.Project) *aheadPart {
	f := page.ForesightOf(r)
	x := f.Of(p)
	if x == nil || x.Prediction == nil {
		return nil
	}
	return &aheadPart{Mark: page.Foreseen(x, 22), Based: forecast.LearnedSays(f.Learned),
		Says: write.Capital(x.Sentence()),
		Href: r.To(page.ProjectPath(p.Code) + "/outlook")}
}

func (v *projectView) dimensions(r *page.Request, p *measure.Project) {
	for _, d := range health.Dimensions() {
		st := p.Health.By[d]
		x := DimensionView{Name: d.String(), Mark: page.Mark{SVG: page.Pennant(st, 12, false), Label: st.String()}}
		if key := d.String() + "_health"; st != health.NotAssessed || d <= health.Cost {
			x.Href = r.Here("trace", key, "at", "", "code", "", "milestone", "", "of", "")
		}
		if h := &p.Health; h.Muted[d] != health.NotAssessed {
			x.Mark = page.Mark{SVG: page.Hatched(h.Muted[d], 12), Label: st.String() + "; early: " + h.Muted[d].String() + " from " +
				h.Wakes.Human() +
				" on if it stays so"}
		}
		v.Dimensions = append(v.Dimensions, x)
	}
	var about []string
	for _, s := range [][2]string{{"Lead ", p.Lead}, {"sponsor ", p.Sponsor}, {"", p.Category}, {"stage: ", p.Stage}, {"",
		p.Status.String()}} {
		if s[1] != "" {
			about = append(about, s[0]+s[1])
		}
	}
	v.About = strings.Join(about, " · ")
}

func (v *projectView) facts(r *page.Request, p *measure.Project) {
	cur := r.Figures.Env.Currency
	short := func(key measure.Key) page.Figure {
		f := r.Figure(p, key, "")
		if x := p.Value(key); x.Known {
			f.Title += ": " + x.Amount().Human(cur)
			f.Text = x.Amount().Short(cur)
		}
		return f
	}
	plainText := func(key measure.Key) string {
		d := measure.Of(key)
		return p.Value(key).Human(d.Unit, cur)
	}
	v.Facts = []page.Fact{
		{Name: "Budget", Figure: short(measure.BAC), Small: plainText(measure.RemainingBudget) + " left"},
		{Name: "Actual to date", Figure: short(measure.AC), Small: plainText(measure.SpentShare) + " spent"},
		{Name: "Forecast to go", Figure: short(measure.ForecastToGo), Small: ""},
		{Name: "Estimate", Figure: short(measure.EAC), Small: "actual + forecast"},
		{Name: "Variance", Figure: short(measure.VAC), Small: plainText(measure.VACShare) + " of budget"},
		{Name: "Expected finish", Figure: r.Figure(p, measure.ExpectedFinish, ""), Small: "baseline " + plainText(measure.BaselineFinish)},
		{Name: "Finish, days", Figure: r.Figure(p, measure.FinishDeviation, ""), Small: plainText(measure.FinishShare) + " of duration"},
	}
	if v.NoMoney {
		v.Facts = v.Facts[5:] // the first five are costs
	}
	if x := p.Value(measure.MilestonesDone); x.Known {
		v.Facts = append(v.Facts,
			page.Fact{Name: "Milestones done", Figure: r.Figure(p, measure.MilestonesDone, fmt.Sprintf("%d of %d", x.N, len(p.Events))),
				Small: fmt.Sprintf("%d missed, %d slipping", p.Value(measure.MilestonesMissed).N, p.Value(measure.MilestonesSlipping).N)})
	}
}

func (v *projectView) milestones(r *page.Request, p *measure.Project) {
	for _, e := range p.Events {
		a := &p.Activities[e.Activity]
		m := milestoneRow{Code: a.Code, Name: a.Name, State: e.Word(), Baseline: a.BaselineFinish.Human(), Date: e.Date.Human(),
			Level: [...]string{"project", "programme", "portfolio"}[a.Level], Days: page.Figure{Text: "–", Title: "no baseline or no date",
				Href: r.Here("trace", "milestone", "milestone", a.Code, "at", "", "code", "")}}
		if e.Deviation.Given {
			m.Days.Text, m.Days.Title = write.Signed(e.Deviation.N), schedule.Lateness(e.Deviation.N)
		}
		if e.State != schedule.Done && e.State != schedule.DoneLate {
			m.Mark = page.Mark{SVG: page.Pennant(chart.StateStatus(e.State), 12, false), Label: e.Word()}
		}
		v.Milestones = append(v.Milestones, m)
	}
}

// costColumns are the measures of the table of cost codes.
var costColumns = []measure.Key{measure.BAC, measure.BudgetToDate, measure.AC, measure.ForecastToGo, measure.EAC, measure.VAC}

func (v *projectView) costs(r *page.Request, p *measure.Project) {
	cur := r.Figures.Env.Currency
	line := func(name, code string, f breakdown.CodeLine) costRow {
		row := costRow{Name: name}
		for i, a := range []money.Amount{f.Budget, f.BudgetToDate, f.Actual, f.ForecastToGo, f.Estimate, f.Variance} {
			key := costColumns[i]
			d := measure.Of(key)
			x := page.Figure{Text: write.Decimal(int64(a), cur.Decimals()), Title: d.Name + ", " + name,
				Href: r.Here("trace", key.String(), "code", code, "at", "", "milestone", "")}
			if v := p.Value(key); !v.Known { // the parts of an undefined figure are no figures either
				x.Text, x.Title = "–", d.Name+": "+v.Reason
			} else if key == measure.VAC && a < 0 {
				x.Tone = "tone-act"
			}
			row.Cells = append(row.Cells, x)
		}
		return row
	}
	codes := map[int32]string{}
	for _, c := range r.Figures.Masters.CostCodes {
		codes[int32(c.ID)] = c.Code
	}
	for _, f := range breakdown.ByCode(p) {
		v.Costs = append(v.Costs, line(r.Figures.CodeName(f.Code), codes[f.Code], f))
	}
	v.CostTotal = line("Total", "", breakdown.CodeTotal(p))
	if err := p.Account.Problem(0, 1, 2); err != nil {
		v.Problem = strings.ReplaceAll(err.Error(), "\n", "; ") + ": what needs it is undefined."
	}
}

func (v *projectView) said(p *measure.Project) {
	d := p.Declared
	if d == nil {
		return
	}
	v.Commentary = d.Commentary
	add := func(name string, declared, computed health.Status) {
		s := said{Name: name, Declared: page.Mark{SVG: page.Pennant(declared, 12, true), Label: declared.String()},
			Computed: page.Mark{SVG: page.Pennant(computed, 12, false), Label: computed.String()}}
		if declared != health.NotAssessed && computed != health.NotAssessed && declared != computed {
			n := int(computed) - int(declared)
			s.Differs = write.Count(max(n, -n), "step", "steps") + map[bool]string{true: " better than computed",
				false: " worse than computed"}[n > 0]
		}
		v.Said = append(v.Said, s)
	}
	add("overall", d.Overall, p.Health.Computed[health.Overall])
	for _, dim := range health.Dimensions() {
		add(dim.String(), d.By[dim], p.Health.Computed[dim])
	}
	if d.Percent.Given {
		v.SaidFrom = "Reported complete: " + write.Percent(float64(d.Percent.N)/10000, 1) + "."
	}
}

// mostSimulated is up to how many activities the ranges of a project are asked for with its page; its outlook has those of any.
const mostSimulated = 500

// milestonesAhead are the days by which milestones of an open project may be done, by their codes. They are those of its outlook.
func milestonesAhead(r *page.Request, p *measure.Project) chart.Aheads {
	if p.Status != measure.Open || len(p.Activities) > mostSimulated {
		return nil
	}
	odds, err := r.Server.Office.Forecast.Odds(r.Context(), r.Figures, &assess.Scope{Projects: []*measure.Project{p}},
		forecast.Asked(p.Code), page.MostSimulating)
	if err != nil {
		return nil
	}
	ahead := chart.Aheads{}
	for at, x := range odds {
		ahead[at[1]] = chart.Ahead{Middle: x.Middle, Late: x.Late}
	}
	return ahead
}
