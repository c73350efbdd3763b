// Package money holds the pages of money: the portfolio, tables, years, funding, changes, and the grid of a project.
package money

import (
	"embed"
	"fmt"
	"html/template"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/money"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/curve"
	"turret/internal/core/measure"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of money: the portfolio, tables, years, funding, changes, and the grid of a project.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/money", s.money)
	s.App.Get("/money/projects", s.moneyTable)
	s.App.Get("/money/burn", s.burn)
	s.App.Get("/money/year", s.year)
	s.App.Get("/money/funding", s.funding)
	s.App.Get("/money/changes", s.changes)
	s.App.Post("/money/changes", s.requestChange)
	s.App.Post("/money/changes/decide", s.decideChange)
	s.App.Get("/money/revenue", s.revenue)
	s.App.Get("/money/download/:file", s.moneyFile)
	s.App.Get("/projects/:code/money", s.projectMoney)
	s.App.Get("/projects/:code/money/data.json", s.projectMoneyData)
	s.App.Get("/projects/:code/money/spread.json", s.spread)
	s.App.Post("/projects/:code/money", s.saveMoney)
	s.App.Get("/projects/:code/money/download/:file", s.projectMoneyFile)
	s.App.Get("/projects/:code/money/versions", s.moneyVersions)
	s.App.Post("/projects/:code/money/name", s.nameMoney)
	s.App.Get("/projects/:code/money/activities", s.accounts)
}

// readMoney understands an address of the section; those from whom costs are kept may not.
func (s *pages) readMoney(c fiber.Ctx) (*page.Request, *assess.Scope, error) {
	r, err := s.Read(c)
	if err != nil {
		return nil, nil, err
	}
	if r.Figures.NoMoney {
		return nil, nil, fmt.Errorf("costs: %w", access.ErrForbidden)
	}
	states, err := assess.States(r.Asked.Get("status"))
	if err != nil {
		return nil, nil, err
	}
	scope, err := r.Figures.Scope(r.Scope, states...)
	return r, scope, err
}

// moneyFrame fills in what the pages of the section share.
func moneyFrame(r *page.Request, title, current string) page.SectionFrame {
	v := page.SectionFrame{Page: r.Page(title, "Money"), Tabs: page.MoneyTabs(r, current)}
	v.MoneyFilters(r)
	return v
}

type moneyView struct {
	page.SectionFrame
	Curve      template.HTML
	Facts      []page.Fact
	Deviations []deviationRow
	Months     []monthRow
	Left       []string
	Empty      string
}

type deviationRow struct {
	Code, Name, Href string
	Budget, Estimate page.Figure
	Variance, Share  page.Figure
	Rate             page.Figure
	Bar              template.HTML
	Why              string
}

type monthRow struct{ Month, Budget, Actual, Forecast, Sum string }

// mostDeviations is how many deviations the overview lists.
const mostDeviations = 10

func (s *pages) money(c fiber.Ctx) error {
	r, scope, err := s.readMoney(c)
	if err != nil {
		return err
	}
	v := moneyView{SectionFrame: moneyFrame(r, "Money", "Overview")}
	if err := r.ScopeTrace(&v.Page, scope); err != nil {
		return err
	}
	g := r.Figures.Roll(scope.Projects)
	v.Headline = moneyHeadline(r, g)
	sums := curve.New(scope.Projects, r.Figures.Env)
	if sums.Projects == 0 {
		v.Empty = "No project here has a budget, a forecast or a posting. They come with the files budget, forecast and actuals."
		return r.Answer("money", &v.Page, &v)
	}
	// the scene escapes texts
	v.Curve = template.HTML(chart.Curve(sums, chart.CurveOptions{W: page.StripWidth, H: 392, AsOf: r.AsOf,
		Currency: r.Figures.Env.Currency,
		Href: func(m calendar.Month) string {
			return r.Here("trace", "month", "month", m.String(), "at", "", "of", "")
		}}).SVG())
	v.Facts = moneyFacts(r, g)
	for _, d := range money.Deviations(r.Figures, scope, mostDeviations) {
		v.Deviations = append(v.Deviations, deviationRowOf(r, d))
	}
	v.months(r, sums)
	for _, m := range sums.Left {
		v.Left = append(v.Left, m.Project.Code+": "+strings.ReplaceAll(m.Reason, "\n", "; "))
	}
	return r.Answer("money", &v.Page, &v)
}

func moneyHeadline(r *page.Request, g *measure.Group) []page.Spoken {
	list := []page.Spoken{page.Say(r, g, measure.AC, ""), {Text: " of "}, page.Say(r, g, measure.BAC, ""), {Text: " is spent"}}
	vac := g.Value(measure.VAC)
	if !vac.Known {
		return append(list, page.Spoken{Text: "; without a forecast there is no estimate."})
	}
	word, tone := " under budget", ""
	text := vac.Amount().Short(r.Figures.Env.Currency)
	switch {
	case vac.N < 0:
		word, text, tone = " over budget", (-vac.Amount()).Short(r.Figures.Env.Currency), "tone-act"
	case vac.N == 0:
		return append(list, page.Spoken{Text: "; the estimate is the budget."})
	}
	x := page.Say(r, g, measure.VAC, text+word)
	x.Tone = tone
	list = append(list, page.Spoken{Text: "; the estimate is "}, x)
	if rate := g.Value(measure.RateVariance); rate.Known && rate.N < 0 {
		list = append(list, page.Spoken{Text: ", exchange rates making "},
			page.Say(r, g, measure.RateVariance, (-rate.Amount()).Short(r.Figures.Env.Currency)))
	}
	return append(list, page.Spoken{Text: "."})
}

func moneyFacts(r *page.Request, g *measure.Group) []page.Fact {
	small := func(key measure.Key, before, after string) string {
		d, v := measure.Of(key), g.Value(key)
		if !v.Known {
			return ""
		}
		if d.Unit == measure.Money {
			return before + v.Amount().Short(r.Figures.Env.Currency) + after
		}
		return before + v.Human(d.Unit, r.Figures.Env.Currency) + after
	}
	return []page.Fact{
		{Name: "Budget", Figure: page.Rolled(r, g, measure.BAC), Small: small(measure.BudgetChanges, "changes ", "")},
		{Name: "Actual to date", Figure: page.Rolled(r, g, measure.AC), Small: small(measure.SpentShare, "", " spent")},
		{Name: "Ordered", Figure: page.Rolled(r, g, measure.Commitments), Small: small(measure.CommittedShare, "", " with actual")},
		{Name: "Forecast to go", Figure: page.Rolled(r, g, measure.ForecastToGo), Small: ""},
		{Name: "Estimate", Figure: page.Rolled(r, g, measure.EAC), Small: small(measure.VACShare, "", " of budget")},
		{Name: "Volume", Figure: page.Rolled(r, g, measure.VolumeVariance), Small: "variance at plan rates"},
		{Name: "Exchange rates", Figure: page.Rolled(r, g, measure.RateVariance), Small: "the rest of it"},
		{Name: "Contingency left", Figure: page.Rolled(r, g, measure.ContingencyLeft), Small: small(measure.ContingencyDrawn, "drawn ",
			"")},
	}
}

func deviationRowOf(r *page.Request, d money.Deviation) deviationRow {
	p := d.Project
	x := deviationRow{Code: p.Code, Name: p.Name, Href: r.MoneyOf(p.Code), Budget: r.ShortFigure(p, measure.BAC),
		Estimate: r.ShortFigure(p, measure.EAC),
		Variance: r.ShortFigure(p, measure.VAC), Share: r.Figure(p, measure.VACShare, ""), Rate: r.ShortFigure(p, measure.RateVariance),
		Why: d.Why}
	x.Bar = usedBar(r, p)
	return x
}

// usedBar sets the budget used against the time used.
func usedBar(r *page.Request, p *measure.Project) template.HTML {
	spent, passed := p.Value(measure.SpentShare), p.Value(measure.TimePassed)
	if !passed.Known {
		return ""
	}
	return template.HTML(chart.Used(spent.Ratio, passed.Ratio, spent.Known).SVG()) // drawn from numbers alone
}

func (v *moneyView) months(r *page.Request, c *curve.Curve) {
	cur := r.Figures.Env.Currency
	for i := range c.Budget {
		v.Months = append(v.Months, monthRow{(c.First + calendar.Month(i)).Name(), c.Budget[i].Human(cur), c.Actual[i].Human(cur),
			c.ToGo[i].Human(cur), c.Sums[i].Estimate.Human(cur)})
	}
}
