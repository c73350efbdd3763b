package web

import (
	"fmt"
	"html/template"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/fault"
	"turret/internal/app/say"
	"turret/internal/chart"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
)

func (s *Server) projectRoutes() {
	s.app.Get("/projects", s.projects)
	s.app.Get("/projects/:code", s.project)
	s.app.Get("/find", s.find)
}

// stripWidth fits the main column at 1280 pixels.
const stripWidth = 1216

// projectView is the page of one project.
type projectView struct {
	Page       page
	Overall    mark
	Declared   *mark
	Headline   []spoken
	Dimensions []dimensionView
	About      string
	Facts      []fact
	Strip      template.HTML
	Milestones []milestoneRow
	Costs      []costRow
	CostTotal  costRow
	Problem    string
	Edit       []link
	Plan       []link
	NoMoney    bool
	Said       []said
	Commentary string
	SaidFrom   string
}

type dimensionView struct {
	Mark mark
	Name string
	Href string
}

type fact struct {
	Name   string
	Figure figure
	Small  string
}

type milestoneRow struct {
	Code, Name, Level, State string
	Mark                     mark
	Baseline, Date           string
	Days                     figure
}

type costRow struct {
	Name  string
	Cells []figure
}

type said struct {
	Name               string
	Declared, Computed mark
	Differs            string
}

// ofProject reads an address that names a project in its path.
func (s *Server) ofProject(c fiber.Ctx) (*request, *measure.Project, error) {
	code, err := decoded(c, "code")
	if err != nil {
		return nil, nil, err
	}
	r, err := s.read(c)
	if err != nil {
		return nil, nil, err
	}
	p, err := r.a.Project(code)
	return r, p, err
}

func (s *Server) project(c fiber.Ctx) error {
	r, p, err := s.ofProject(c)
	if err != nil {
		return err
	}
	v := projectView{Page: r.page(p.Code+" "+p.Name, "Projects")}
	if err := r.projectTrace(&v.Page, p.Code); err != nil {
		return err
	}
	r.path(&v.Page, p)
	v.NoMoney = r.a.NoMoney
	kinds, err := s.Office.Edit.Editable(c.Context(), p.Code)
	if err != nil {
		return err
	}
	for _, k := range kinds {
		v.Edit = append(v.Edit, link{editTitle(k, p.Code), editPath(k, p.Code)})
	}
	v.Plan = []link{{"Assessment", r.to(projectPath(p.Code) + "/assess")}, {"Plan", projectPath(p.Code) + "/plan"},
		{"Versions and baselines", projectPath(p.Code) + "/versions"}}
	if !r.a.NoMoney {
		v.Plan = append(v.Plan, link{"Money", r.moneyOf(p.Code)}, link{"Cost curve", r.to("/money", "scope", p.Code, "status", "all")},
			link{"Earned value", r.to("/assess/earned", "scope", p.Code)})
	}
	h := &p.Health
	v.Overall = mark{pennant(h.Overall, 27, false), sentenceCase(standing(h)) + because(h.Reason())}
	if d := p.Value("declared_health"); d.Known && d.Status() != h.Overall {
		v.Declared = &mark{pennant(d.Status(), 22, true), "Declared " + d.Status().String()}
	}
	v.Headline = r.headline(say.Headline(p, r.a.Env),
		func(key string) string { return r.here("trace", key, "at", "", "code", "", "milestone", "", "of", "") })
	v.dimensions(r, p)
	v.facts(r, p)
	v.Strip = template.HTML(chart.Strip(p, r.a.Env, stripWidth).SVG()) //nolint:gosec // the scene escapes texts
	v.milestones(r, p)
	v.costs(r, p)
	v.said(p)
	return r.render("project", &v.Page, &v)
}

func sentenceCase(s string) string { return strings.TrimSuffix(sentence(s), ".") }

// path names the nodes above and offers the projects beside this one.
func (r *request) path(html *page, p *measure.Project) {
	for _, n := range r.a.Path(p.Parent) {
		html.Path = append(html.Path, link{n.Name, r.to("/", "scope", n.Code)})
	}
	pick := picker{Label: "Project", Name: "q", Action: "/find"}
	for _, other := range r.a.Projects {
		if other.Parent == p.Parent && (other.Status == p.Status || other == p) {
			pick.Options = append(pick.Options, option{other.Code, other.Code + " " + other.Name, other == p})
		}
	}
	html.Picker = pick
}

func (v *projectView) dimensions(r *request, p *measure.Project) {
	for _, d := range health.Dimensions() {
		st := p.Health.By[d]
		x := dimensionView{Name: d.String(), Mark: mark{pennant(st, 12, false), st.String()}}
		if key := d.String() + "_health"; st != health.NotAssessed || d <= health.Cost {
			x.Href = r.here("trace", key, "at", "", "code", "", "milestone", "", "of", "")
		}
		if h := &p.Health; h.Muted[d] != health.NotAssessed {
			x.Mark = mark{hatched(h.Muted[d], 12), st.String() + "; early: " + h.Muted[d].String() + " from " + h.Wakes.Human() +
				" on if it stays so"}
		}
		v.Dimensions = append(v.Dimensions, x)
	}
	var about []string
	for _, s := range [][2]string{{"Lead ", p.Lead}, {"sponsor ", p.Sponsor}, {"", p.Category}, {"stage: ", p.Stage}, {"", p.Status}} {
		if s[1] != "" {
			about = append(about, s[0]+s[1])
		}
	}
	v.About = strings.Join(about, " · ")
}

func (v *projectView) facts(r *request, p *measure.Project) {
	cur := r.a.Env.Currency
	short := func(key string) figure {
		f := r.figure(p, key, "")
		if x := p.Value(key); x.Known {
			f.Title += ": " + x.Amount().Human(cur)
			f.Text = x.Amount().Short(cur)
		}
		return f
	}
	plainText := func(key string) string {
		d, _ := measure.Lookup(key)
		return p.Value(key).Human(d.Unit, cur)
	}
	v.Facts = []fact{
		{"Budget", short("bac"), plainText("remaining_budget") + " left"},
		{"Actual to date", short("ac"), plainText("spent_share") + " spent"},
		{"Forecast to go", short("forecast_to_go"), ""},
		{"Estimate", short("eac"), "actual + forecast"},
		{"Variance", short("vac"), plainText("vac_share") + " of budget"},
		{"Expected finish", r.figure(p, "expected_finish", ""), "baseline " + plainText("baseline_finish")},
		{"Finish, days", r.figure(p, "finish_deviation", ""), plainText("finish_share") + " of duration"},
	}
	if v.NoMoney {
		v.Facts = v.Facts[5:] // the first five are costs
	}
	if x := p.Value("milestones_done"); x.Known {
		v.Facts = append(v.Facts, fact{"Milestones done", r.figure(p, "milestones_done", fmt.Sprintf("%d of %d", x.N, len(p.Events))),
			fmt.Sprintf("%d missed, %d slipping", p.Value("milestones_missed").N, p.Value("milestones_slipping").N)})
	}
}

func (v *projectView) milestones(r *request, p *measure.Project) {
	for _, e := range p.Events {
		a := &p.Activities[e.Activity]
		m := milestoneRow{Code: a.Code, Name: a.Name, State: e.State.String(), Baseline: a.BaselineFinish.Human(), Date: e.Date.Human(),
			Level: [...]string{"project", "programme", "portfolio"}[a.Level], Days: figure{Text: "–", Title: "no baseline or no date",
				Href: r.here("trace", "milestone", "milestone", a.Code, "at", "", "code", "")}}
		if e.Deviation.Given {
			m.Days.Text, m.Days.Title = measure.Signed(e.Deviation.N), schedule.Lateness(e.Deviation.N)
		}
		if e.State != schedule.Done && e.State != schedule.DoneLate {
			m.Mark = mark{pennant(chart.StateStatus(e.State), 12, false), e.State.String()}
		}
		v.Milestones = append(v.Milestones, m)
	}
}

// costColumns are the measures of the table of cost codes.
var costColumns = []string{"bac", "budget_to_date", "ac", "forecast_to_go", "eac", "vac"}

func (v *projectView) costs(r *request, p *measure.Project) {
	cur := r.a.Env.Currency
	line := func(name, code string, f measure.CodeLine) costRow {
		row := costRow{Name: name}
		for i, a := range []money.Amount{f.Budget, f.BudgetToDate, f.Actual, f.ForecastToGo, f.Estimate, f.Variance} {
			key := costColumns[i]
			d, _ := measure.Lookup(key)
			x := figure{Text: strings.Replace(a.Human(cur), cur.Sign(), "", 1), Title: d.Name + ", " + name,
				Href: r.here("trace", key, "code", code, "at", "", "milestone", "")}
			if v := p.Value(key); !v.Known { // the parts of an undefined figure are no figures either
				x.Text, x.Title = "–", d.Name+": "+v.Reason
			} else if key == "vac" && a < 0 {
				x.Tone = "tone-act"
			}
			row.Cells = append(row.Cells, x)
		}
		return row
	}
	codes := map[int32]string{}
	for _, c := range r.a.Masters.CostCodes {
		codes[int32(c.ID)] = c.Code
	}
	for _, f := range measure.ByCode(p) {
		v.Costs = append(v.Costs, line(r.a.CodeName(f.Code), codes[f.Code], f))
	}
	v.CostTotal = line("Total", "", measure.CodeTotal(p))
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
		s := said{Name: name, Declared: mark{pennant(declared, 12, true), declared.String()},
			Computed: mark{pennant(computed, 12, false), computed.String()}}
		if declared != health.NotAssessed && computed != health.NotAssessed && declared != computed {
			n := int(computed) - int(declared)
			s.Differs = count(max(n, -n), "step", "steps") + map[bool]string{true: " better than computed",
				false: " worse than computed"}[n > 0]
		}
		v.Said = append(v.Said, s)
	}
	add("overall", d.Overall, p.Health.Computed[health.Overall])
	for _, dim := range health.Dimensions() {
		add(dim.String(), d.By[dim], p.Health.Computed[dim])
	}
	if d.Percent.Given {
		v.SaidFrom = "Reported complete: " + health.Percent(float64(d.Percent.N)/10000) + "."
	}
}

// projectsView lists all projects, whatever their status.
type projectsView struct {
	Page     page
	Headline string
	Query    string
	Filter   picker
	Keep     []pair
	Rows     []projectRow
	Empty    string
}

type projectRow struct {
	Code, Name, Href, Programme, Lead, Status string
	Mark                                      mark
	Budget, Estimate, Variance, Finish, Days  string
}

func (s *Server) projects(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	return r.list(strings.TrimSpace(r.query.Get("q")))
}

func (r *request) list(query string) error {
	status := r.query.Get("status")
	scope, err := r.a.Scope(r.scope)
	if err != nil {
		return err
	}
	v := projectsView{Page: r.page("Projects", "Projects"), Query: query,
		Filter: picker{Label: "Status", Name: "status", Options: []option{{"", "all", status == ""}}}}
	v.Page.Picker = r.scopes("/projects")
	v.Page.Search = query
	for _, x := range []string{"open", "proposed", "closed", "cancelled"} {
		v.Filter.Options = append(v.Filter.Options, option{x, x, x == status})
	}
	for _, name := range []string{"scope", "asof", "q"} {
		if x := r.query.Get(name); x != "" {
			v.Keep = append(v.Keep, pair{name, x})
		}
	}
	for _, p := range scope.Projects {
		if (status == "" || p.Status == status) && matches(p, query) {
			v.Rows = append(v.Rows, r.projectRow(p))
		}
	}
	v.Headline = count(len(v.Rows), "project", "projects")
	if status != "" {
		v.Headline = fmt.Sprintf("%d %s %s", len(v.Rows), status, map[bool]string{true: "project", false: "projects"}[len(v.Rows) == 1])
	}
	if query != "" {
		v.Headline += " with “" + fault.Clip(query, 60) + "” in code, name, lead or sponsor"
	}
	v.Headline += "."
	if len(v.Rows) == 0 {
		v.Empty = "No project answers this. Clear the search or the filter to see all."
	}
	return r.render("projects", &v.Page, &v)
}

func matches(p *measure.Project, query string) bool {
	q := strings.ToLower(query)
	for _, s := range []string{p.Code, p.Name, p.Lead, p.Sponsor} {
		if strings.Contains(strings.ToLower(s), q) {
			return true
		}
	}
	return false
}

func (r *request) projectRow(p *measure.Project) projectRow {
	cur := r.a.Env.Currency
	show := func(key string) string {
		if v := p.Value(key); v.Known {
			return v.Amount().Short(cur)
		}
		return "–"
	}
	x := projectRow{Code: p.Code, Name: p.Name, Href: r.project(p.Code), Lead: p.Lead, Status: p.Status,
		Mark:   mark{pennant(p.Health.Overall, 14, false), p.Health.Overall.String()},
		Budget: show("bac"), Estimate: show("eac"), Variance: p.Value("vac_share").Human(measure.Share, cur),
		Finish: p.Value("expected_finish").Human(measure.Day, cur), Days: p.Value("finish_deviation").Human(measure.Days, cur)}
	if n := r.a.Programme(p); n != nil {
		x.Programme = n.Name
	}
	return x
}

// find leads straight to a project named by its code, else lists what matches.
func (s *Server) find(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	q := strings.TrimSpace(r.query.Get("q"))
	for _, p := range r.a.Projects {
		if strings.EqualFold(p.Code, q) {
			return r.Redirect().Status(fiber.StatusSeeOther).To(r.project(p.Code))
		}
	}
	return r.list(q)
}
