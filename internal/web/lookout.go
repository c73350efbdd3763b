package web

import (
	"bytes"
	"fmt"
	"html/template"
	"math"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/lookout"
	"turret/internal/app/saved"
	"turret/internal/chart"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// lookoutView is the first screen.
type lookoutView struct {
	Page     page
	Headline []spoken
	Notice   *noticeView
	Panels   []panelView
	Arrange  string
	views    []saved.View // saved tables, once they were asked for
	Plot     template.HTML
	PlotData []template.HTML
	Filters  []picker
	Filtered bool
	Clear    string
	Keep     []pair
	Heads    []head
	Rows     []template.HTML
	Total    *total
	Empty    string
	CSV      string
}

type plotRow struct{ Code, Name, Href, Finish, Cost, Status string }

// head is the head of a column that sorts.
type head struct {
	Text, Href, Title, Class, Order string
}

// row is a project in the table.
type row struct {
	Code, Name, Lead, Href string
	Overall                mark
	OverallHref            string
	Declared               *mark
	Dimensions             []dimensionView
	CostBar, FinishBar     template.HTML
	Cost, Finish           figure
	NextDate, NextName     string
	NextState              string
	Why                    string
	Quiet                  bool
}

type total struct {
	Text   string
	Cost   figure
	Finish string
}

func filterOf(r *request) lookout.Filter {
	q := r.query
	return lookout.Filter{Programme: q.Get("programme"), Lead: q.Get("lead"), Status: q.Get("status"), Sort: q.Get("sort"),
		Reverse: q.Get("dir") == "down"}
}

// looked reads an address and gathers its scope through a filter.
func (s *Server) looked(c fiber.Ctx, filter func(*request) lookout.Filter) (*request, *lookout.Lookout, error) {
	r, err := s.read(c)
	if err != nil {
		return nil, nil, err
	}
	l, err := lookout.Of(r.a, r.scope, filter(r))
	return r, l, err
}

func (s *Server) lookout(c fiber.Ctx) error {
	r, l, err := s.looked(c, filterOf)
	if err != nil {
		return err
	}
	v := lookoutView{Page: r.page("Lookout", "Lookout")}
	v.Page.Picker = r.scopes("/")
	if err := r.groupTrace(&v.Page, l); err != nil {
		return err
	}
	v.Headline = r.headline(l.Headline, func(key string) string {
		return r.here("trace", key, "at", "", "code", "", "milestone", "", "of",
			"")
	})
	if err := v.panels(r, l); err != nil {
		return err
	}
	return r.render("lookout", &v.Page, &v)
}

// plot draws the projects that have both deviations; the others are named below it.
func (v *lookoutView) plot(r *request, l *lookout.Lookout) error {
	sights := chart.Sights(l.Open, func(code string) string { return r.project(code) })
	if len(sights) == 0 {
		return nil
	}
	v.Plot = template.HTML(chart.Sighting(sights, r.a.Env.Tolerances, 372, 372).SVG()) //nolint:gosec // the scene escapes texts
	for _, x := range sights {
		p, err := r.a.Project(x.Code)
		if err != nil {
			return err
		}
		html, err := r.kept("sight", p, scales{}, func() any {
			return plotRow{x.Code, p.Name, x.Href, health.Percent(x.Finish), health.Percent(x.Cost), x.Status.String()}
		})
		if err != nil {
			return err
		}
		v.PlotData = append(v.PlotData, html)
	}
	return nil
}

func (v *lookoutView) filters(r *request, l *lookout.Lookout) {
	f := l.Filter
	programme := picker{Label: "Programme", Name: "programme", Options: []option{{"", "all", f.Programme == ""}}}
	for _, n := range l.Programmes {
		programme.Options = append(programme.Options, option{n.Code, n.Name, n.Code == f.Programme})
	}
	lead := picker{Label: "Lead", Name: "lead", Options: []option{{"", "all", f.Lead == ""}}}
	for _, name := range l.Leads {
		lead.Options = append(lead.Options, option{name, name, name == f.Lead})
	}
	status := picker{Label: "Status", Name: "status", Options: []option{{"", "all", f.Status == ""}}}
	for _, s := range lookout.StatusFilters() {
		text := s
		if s == "disagree" {
			text = "declared better"
		}
		status.Options = append(status.Options, option{s, text, s == f.Status})
	}
	v.Filters = []picker{programme, lead, status}
	v.Filtered = f.Programme != "" || f.Lead != "" || f.Status != ""
	v.Clear = r.here("programme", "", "lead", "", "status", "", "trace", "")
	for _, name := range []string{"scope", "asof", "sort", "dir"} {
		if x := r.query.Get(name); x != "" {
			v.Keep = append(v.Keep, pair{name, x})
		}
	}
	v.CSV = strings.Replace(r.here("trace", "", "at", "", "of", ""), "/", "/lookout.csv", 1)
}

func (v *lookoutView) table(r *request, l *lookout.Lookout) error {
	v.Heads = heads(r, l.Filter)
	scale := newScales(l.Open)
	for _, p := range l.Shown {
		html, err := r.kept("row", p, scale, func() any { return r.row(p, scale) })
		if err != nil {
			return err
		}
		v.Rows = append(v.Rows, html)
	}
	switch {
	case len(l.Open) == 0 && len(r.a.Projects) == 0:
		v.Empty = "There are no projects yet. Turret takes them in from files: turret import --db FILE FOLDER reads every file " +
			"named after its kind, such as projects.csv, activities.csv and budget.csv."
	case len(l.Open) == 0:
		v.Empty = "No project is open in this scope."
	case len(l.Shown) == 0:
		v.Empty = "No open project answers these filters."
	default:
		v.Total = r.total(l)
	}
	return nil
}

// kept is a part of the page about one project, rendered once as long as the assessment lasts.
func (r *request) kept(part string, p *measure.Project, sc scales, view func() any) (template.HTML, error) {
	return r.s.rows.of(r.a, rowKey{part, p, r.marked, sc}, func() (template.HTML, error) {
		var b strings.Builder
		err := r.s.views.Render(&b, "lookout:"+part, view())
		return template.HTML(b.String()), err //nolint:gosec // the template escaped it
	})
}

func heads(r *request, f lookout.Filter) []head {
	var list []head
	for _, h := range []struct{ text, key, class, title string }{
		{"", "", "", ""},
		{"Project, lead", "project", "", "Sort by name"},
		{"S C S R B", "", "", "Schedule, cost, scope, risk, benefit"},
		{"Cost at completion, %", "vac_share", "", "Variance at completion over budget; left is over budget"},
		{"Finish, days", "finish_deviation", "", "Working days from baseline to expected finish; right is later"},
		{"Next", "next", "", "Sort by the date of the next milestone"},
		{"Why", "", "", ""},
	} {
		x := head{Text: h.text, Class: h.class, Title: h.title}
		if h.key != "" {
			dir := ""
			if f.Sort == h.key {
				x.Order = "ascending"
				if f.Reverse {
					x.Order = "descending"
				} else {
					dir = "down"
				}
			}
			x.Href = r.here("sort", h.key, "dir", dir, "trace", "", "at", "", "of", "")
			if f.Sort == h.key && f.Reverse {
				x.Href = r.here("sort", "", "dir", "", "trace", "", "at", "", "of", "")
			}
		}
		list = append(list, x)
	}
	return list
}

// scales fit the deviation bars of a table: to the largest but for a few outliers, at least twice the tolerance.
type scales struct{ cost, finish float64 }

func newScales(list []*measure.Project) scales {
	s := scales{0.12, 30}
	for _, p := range list {
		if v := p.Value("vac_share"); v.Known {
			s.cost = max(s.cost, min(0.4, math.Abs(v.Ratio)))
		}
		if v := p.Value("finish_deviation"); v.Known {
			s.finish = max(s.finish, min(120, math.Abs(float64(v.N))))
		}
	}
	return s
}

func (r *request) row(p *measure.Project, sc scales) row {
	h := &p.Health
	x := row{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.project(p.Code), Why: h.Reason(), Quiet: h.Overall < health.Watch}
	x.OverallHref = r.project(p.Code, "trace", "overall_health")
	x.Overall = mark{pennant(h.Overall, 16, false), standing(h) + because(x.Why)}
	if d := p.Value("declared_health"); d.Known && d.Status() != h.Overall {
		x.Declared = &mark{pennant(d.Status(), 14, true), "declared " + d.Status().String()}
	}
	for _, d := range health.Dimensions() {
		v := dimensionView{Mark: mark{pennant(h.By[d], 11, false), d.String() + ": " + h.By[d].String()},
			Href: r.project(p.Code, "trace", d.String()+"_health")}
		if h.Muted[d] != health.NotAssessed {
			v.Mark = mark{hatched(h.Muted[d], 11), d.String() + ": " + h.By[d].String() + "; early: " + h.Muted[d].String() + " from " +
				h.Wakes.Human() + " on if it stays so"}
		}
		x.Dimensions = append(x.Dimensions, v)
	}
	tol := p.Tolerances
	x.Cost, x.Finish = r.figure(p, "vac_share", percentSigned(p)), r.figure(p, "finish_deviation", "")
	if v := p.Value("vac_share"); v.Known {
		//nolint:gosec // numbers only
		x.CostBar = template.HTML(chart.DeviationBar(v.Ratio, sc.cost, tol.Of[health.CostShare].Watch, h.By[health.Cost]).SVG())
	}
	if v := p.Value("finish_deviation"); v.Known {
		limit := tol.Of[health.FinishShare].Watch * float64(p.Value("planned_duration").N)
		//nolint:gosec // numbers only
		x.FinishBar = template.HTML(chart.DeviationBar(float64(v.N), sc.finish, limit, h.By[health.Schedule]).SVG())
	}
	if e := lookout.Next(p); e.Activity >= 0 {
		x.NextName, x.NextState = p.Activities[e.Activity].Name, e.State.String()
		x.NextDate = "no date"
		if e.Date != 0 {
			x.NextDate = e.Date.Human()
		}
	}
	return x
}

// standing says what stands overall: as computed, or as a person set it.
func standing(h *health.Result) string {
	if o := h.Set(health.Overall); o != nil {
		return "set to " + h.Overall.String() + " by " + o.Who + " until " + o.Until.Human() + ", computed " +
			h.Computed[health.Overall].String()
	}
	return "computed " + h.Overall.String()
}

// hatched is the mark of a status that does not count yet.
func hatched(s health.Status, h float64) template.HTML {
	return template.HTML(chart.Hatched(s, h).SVG()) //nolint:gosec // drawn from a status alone
}

func because(why string) string {
	if why == "" {
		return ""
	}
	return ": " + why
}

func percentSigned(p *measure.Project) string {
	v := p.Value("vac_share")
	s := strings.TrimSuffix(health.Percent(v.Ratio), " %")
	if v.Ratio > 0 && s != "0.0" {
		return "+" + s
	}
	return strings.Replace(s, "−0.0", "0.0", 1)
}

// total is the roll-up of what the filter leaves.
func (r *request) total(l *lookout.Lookout) *total {
	g := l.Group
	if len(l.Shown) != len(l.Open) {
		g = measure.Roll(l.Shown, r.a.Env)
	}
	t := &total{Text: count(len(l.Shown), "project", "projects")}
	if v := g.Value("vac_share"); v.Known {
		t.Cost = figure{Text: health.Percent(v.Ratio), Title: "Together: variance over budget, from the sums",
			Href: r.here("trace", "vac_share", "of", "shown", "at", "")}
		if with := g.CountOf("vac_share"); with < len(l.Shown) {
			t.Text += fmt.Sprintf(", cost over %d of them", with)
		}
	}
	if v := g.Value("bac"); v.Known {
		t.Text += ", budget " + money.Amount(v.N).Short(r.a.Env.Currency)
	}
	return t
}

func count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// table sends what the table shows as CSV, with every measure.
func (s *Server) table(c fiber.Ctx) error {
	r, l, err := s.looked(c, filterOf)
	if err != nil {
		return err
	}
	var b bytes.Buffer
	if err := s.Reports.Table(&b, r.a, &assess.Scope{Code: r.scope, Projects: l.Shown}); err != nil {
		return err
	}
	return r.send("lookout", ".csv", "text/csv; charset=utf-8", b.Bytes())
}

func (r *request) send(name, ext, kind string, b []byte) error {
	r.Attachment(name + "-" + r.asOf.String() + ext)
	r.Set(fiber.HeaderContentType, kind)
	r.Set(fiber.HeaderCacheControl, "no-cache")
	return r.Send(b)
}
