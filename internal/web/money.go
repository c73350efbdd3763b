package web

import (
	"fmt"
	"html/template"
	"maps"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/money"
	"turret/internal/app/trace"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
)

func (s *Server) moneyRoutes() {
	s.app.Get("/money", s.money)
	s.app.Get("/money/projects", s.moneyTable)
	s.app.Get("/money/burn", s.burn)
	s.app.Get("/money/year", s.year)
	s.app.Get("/money/funding", s.funding)
	s.app.Get("/money/changes", s.changes)
	s.app.Post("/money/changes", s.requestChange)
	s.app.Post("/money/changes/decide", s.decideChange)
	s.app.Get("/money/revenue", s.revenue)
	s.app.Get("/money/download/:file", s.moneyFile)
	s.app.Get("/projects/:code/money", s.projectMoney)
	s.app.Get("/projects/:code/money/data.json", s.projectMoneyData)
	s.app.Get("/projects/:code/money/spread.json", s.spread)
	s.app.Post("/projects/:code/money", s.saveMoney)
	s.app.Get("/projects/:code/money/download/:file", s.projectMoneyFile)
	s.app.Get("/projects/:code/money/versions", s.moneyVersions)
	s.app.Post("/projects/:code/money/name", s.nameMoney)
}

// moneyTabs are the pages of the section.
var moneyTabs = [][2]string{{"Overview", "/money"}, {"Projects", "/money/projects"}, {"Burn", "/money/burn"}, {"Year", "/money/year"},
	{"Funding", "/money/funding"},
	{"Changes", "/money/changes"}, {"Revenue", "/money/revenue"}}

// readMoney understands an address of the section; those from whom costs are kept may not.
func (s *Server) readMoney(c fiber.Ctx) (*request, *assess.Scope, error) {
	r, err := s.read(c)
	if err != nil {
		return nil, nil, err
	}
	if r.a.NoMoney {
		return nil, nil, fmt.Errorf("costs: %w", access.ErrForbidden)
	}
	statuses := []string{"open"}
	switch st := r.query.Get("status"); st {
	case "":
	case "all":
		statuses = nil
	default:
		statuses = []string{st}
	}
	scope, err := r.a.Scope(r.scope, statuses...)
	return r, scope, err
}

// moneyFrame fills in what the pages of the section share.
func (r *request) moneyFrame(title, current string) sectionFrame {
	v := sectionFrame{Page: r.page(title, "Money")}
	for _, x := range moneyTabs {
		pairs := []string{}
		if st := r.query.Get("status"); st != "" {
			pairs = []string{"status", st}
		}
		v.Tabs = append(v.Tabs, tab{link{x[0], r.to(x[1], pairs...)}, x[0] == current})
	}
	v.Page.Picker = r.scopes(string(r.Request().URI().PathOriginal()))
	if p, err := r.a.Project(r.scope); err == nil {
		r.path(&v.Page, p)
		v.Page.Picker = picker{}
		v.Page.Path = append(v.Page.Path, link{p.Code + " " + p.Name, r.project(p.Code)})
	}
	v.filter(r)
	return v
}

// filter offers the currency and the statuses, and keeps the rest of the address.
func (v *sectionFrame) filter(r *request, more ...picker) {
	status := picker{Label: "Projects", Name: "status"}
	for _, x := range [][2]string{{"", "open"}, {"closed", "closed"}, {"all", "all"}} {
		status.Options = append(status.Options, option{x[0], x[1], x[0] == r.query.Get("status")})
	}
	v.Filters = append([]picker{status, r.currencies()}, more...)
	v.Keep = nil
	own := map[string]bool{"trace": true, "at": true, "of": true, "month": true}
	for _, p := range v.Filters {
		own[p.Name] = true
	}
	for _, name := range slices.Sorted(maps.Keys(r.query)) {
		if !own[name] {
			v.Keep = append(v.Keep, pair{name, r.query.Get(name)})
		}
	}
}

// currencies offers those that there are rates of.
func (r *request) currencies() picker {
	p := picker{Label: "in", Name: "currency"}
	for i, c := range r.a.Rates.Known() {
		value := string(c)
		if i == 0 {
			value = "" // the reporting one
		}
		p.Options = append(p.Options, option{value, string(c), c == r.a.Env.Currency})
	}
	return p
}

// moneyOf is the address of a project's grid of money.
func (r *request) moneyOf(code string) string { return r.to(projectPath(code) + "/money") }

// scopeTrace fills in the margin of a page about a scope: a measure, or a month of its money.
func (r *request) scopeTrace(p *page, s *assess.Scope) error {
	key := r.query.Get("trace")
	if key == "" {
		return nil
	}
	var t *trace.Trace
	one := len(s.Projects) == 1 && s.Projects[0].Code == r.scope
	m, err := calendar.ParseMonth(r.query.Get("month"))
	switch {
	case key == "month" && err != nil:
		return fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(r.query.Get("month"), 40)+"” is not a month; expected YYYY-MM.")
	case key == "month" && one:
		t, err = r.s.Office.Trace.TraceMonth(r.Context(), r.a, r.scope, m)
	case key == "month":
		t, err = r.s.Office.Trace.TraceMonthOf(r.Context(), r.a, s, m)
	case one:
		t, err = r.s.Office.Trace.Trace(r.Context(), r.a, r.scope, key)
	default:
		t, err = r.s.Office.Trace.TraceGroup(r.Context(), r.a, s, key)
	}
	if err != nil {
		return err
	}
	return r.trace(p, t)
}

// rolled is a figure of a scope with the address of its trace; money is written short, with the whole in its title.
func (r *request) rolled(g *measure.Group, key string) figure {
	d, _ := measure.Lookup(key)
	v := g.Value(key)
	f := figure{Text: v.Human(d.Unit, r.a.Env.Currency), Title: d.Name, Href: r.here("trace", key, "at", "", "month", "", "of", "")}
	if !v.Known {
		f.Title += ": " + v.Reason
	} else if d.Unit == measure.Money {
		f.Title += ": " + f.Text
		f.Text = v.Amount().Short(r.a.Env.Currency)
	}
	if n := g.CountOf(key); n < len(g.Projects) {
		f.Title += fmt.Sprintf(" (%d of %d projects)", n, len(g.Projects))
	}
	return f
}

// say is a piece of a headline that leads to a trace.
func (r *request) say(g *measure.Group, key, text string) spoken {
	f := r.rolled(g, key)
	if text == "" {
		text = f.Text
	}
	return spoken{Text: text, Href: f.Href, Trace: key}
}

type moneyView struct {
	sectionFrame
	Curve      template.HTML
	Facts      []fact
	Deviations []deviationRow
	Months     []monthRow
	Left       []string
	Empty      string
}

type deviationRow struct {
	Code, Name, Href string
	Budget, Estimate figure
	Variance, Share  figure
	Rate             figure
	Bar              template.HTML
	Why              string
}

type monthRow struct{ Month, Budget, Actual, Forecast, Sum string }

// mostDeviations is how many deviations the overview lists.
const mostDeviations = 10

func (s *Server) money(c fiber.Ctx) error {
	r, scope, err := s.readMoney(c)
	if err != nil {
		return err
	}
	v := moneyView{sectionFrame: r.moneyFrame("Money", "Overview")}
	if err := r.scopeTrace(&v.Page, scope); err != nil {
		return err
	}
	g := measure.Roll(scope.Projects, r.a.Env)
	v.Headline = r.moneyHeadline(g)
	curve := measure.NewCurve(scope.Projects, r.a.Env)
	if curve.Projects == 0 {
		v.Empty = "No project here has a budget, a forecast or a posting. They come with the files budget, forecast and actuals."
		return r.render("money", &v.Page, &v)
	}
	//nolint:gosec // the scene escapes texts
	v.Curve = template.HTML(chart.Curve(curve, chart.CurveOptions{W: stripWidth, H: 392, AsOf: r.asOf, Currency: r.a.Env.Currency,
		Href: func(m calendar.Month) string {
			return r.here("trace", "month", "month", m.String(), "at", "", "of", "")
		}}).SVG())
	v.Facts = r.moneyFacts(g)
	for _, d := range money.Deviations(r.a, scope, mostDeviations) {
		v.Deviations = append(v.Deviations, r.deviationRow(d))
	}
	v.months(r, curve)
	for _, m := range curve.Left {
		v.Left = append(v.Left, m.Project.Code+": "+strings.ReplaceAll(m.Reason, "\n", "; "))
	}
	return r.render("money", &v.Page, &v)
}

func (r *request) moneyHeadline(g *measure.Group) []spoken {
	list := []spoken{r.say(g, "ac", ""), {Text: " of "}, r.say(g, "bac", ""), {Text: " is spent"}}
	vac := g.Value("vac")
	if !vac.Known {
		return append(list, spoken{Text: "; without a forecast there is no estimate."})
	}
	word, tone := " under budget", ""
	text := vac.Amount().Short(r.a.Env.Currency)
	switch {
	case vac.N < 0:
		word, text, tone = " over budget", (-vac.Amount()).Short(r.a.Env.Currency), "tone-act"
	case vac.N == 0:
		return append(list, spoken{Text: "; the estimate is the budget."})
	}
	x := r.say(g, "vac", text+word)
	x.Tone = tone
	list = append(list, spoken{Text: "; the estimate is "}, x)
	if rate := g.Value("rate_variance"); rate.Known && rate.N < 0 {
		list = append(list, spoken{Text: ", exchange rates making "}, r.say(g, "rate_variance", (-rate.Amount()).Short(r.a.Env.Currency)))
	}
	return append(list, spoken{Text: "."})
}

func (r *request) moneyFacts(g *measure.Group) []fact {
	small := func(key, before, after string) string {
		d, _ := measure.Lookup(key)
		v := g.Value(key)
		if !v.Known {
			return ""
		}
		if d.Unit == measure.Money {
			return before + v.Amount().Short(r.a.Env.Currency) + after
		}
		return before + v.Human(d.Unit, r.a.Env.Currency) + after
	}
	return []fact{
		{"Budget", r.rolled(g, "bac"), small("budget_changes", "changes ", "")},
		{"Actual to date", r.rolled(g, "ac"), small("spent_share", "", " spent")},
		{"Ordered", r.rolled(g, "commitments"), small("committed_share", "", " with actual")},
		{"Forecast to go", r.rolled(g, "forecast_to_go"), ""},
		{"Estimate", r.rolled(g, "eac"), small("vac_share", "", " of budget")},
		{"Volume", r.rolled(g, "volume_variance"), "variance at plan rates"},
		{"Exchange rates", r.rolled(g, "rate_variance"), "the rest of it"},
		{"Contingency left", r.rolled(g, "contingency_left"), small("contingency_drawn", "drawn ", "")},
	}
}

// shortFigure is a project's figure, money written short.
func (r *request) shortFigure(p *measure.Project, key string) figure {
	d, _ := measure.Lookup(key)
	f := r.figure(p, key, "")
	if v := p.Value(key); v.Known && d.Unit == measure.Money {
		f.Title += ": " + v.Amount().Human(r.a.Env.Currency)
		f.Text = v.Amount().Short(r.a.Env.Currency)
		if v.N < 0 && d.Better == measure.Higher {
			f.Tone = "tone-act"
		}
	}
	return f
}

func (r *request) deviationRow(d money.Deviation) deviationRow {
	p := d.Project
	x := deviationRow{Code: p.Code, Name: p.Name, Href: r.moneyOf(p.Code), Budget: r.shortFigure(p, "bac"),
		Estimate: r.shortFigure(p, "eac"),
		Variance: r.shortFigure(p, "vac"), Share: r.figure(p, "vac_share", ""), Rate: r.shortFigure(p, "rate_variance"), Why: d.Why}
	x.Bar = r.usedBar(p)
	return x
}

// usedBar sets the budget used against the time used.
func (r *request) usedBar(p *measure.Project) template.HTML {
	spent, passed := p.Value("spent_share"), p.Value("time_passed")
	if !passed.Known {
		return ""
	}
	return template.HTML(chart.Used(spent.Ratio, passed.Ratio, spent.Known).SVG()) //nolint:gosec // drawn from numbers alone
}

func (v *moneyView) months(r *request, c *measure.Curve) {
	cur := r.a.Env.Currency
	for i := range c.Budget {
		v.Months = append(v.Months, monthRow{(c.First + calendar.Month(i)).Name(), c.Budget[i].Human(cur), c.Actual[i].Human(cur),
			c.ToGo[i].Human(cur), c.Sums[i].Estimate.Human(cur)})
	}
}
