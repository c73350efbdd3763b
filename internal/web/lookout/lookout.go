package lookout

import (
	"bytes"
	"fmt"
	"html/template"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/lookout"
	"turret/internal/app/saved"
	"turret/internal/chart"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/web/page"
	"turret/internal/web/project"
)

// lookoutView is the first screen.
type lookoutView struct {
	Pager    page.Pager
	Page     page.Page
	Headline []page.Spoken
	Notice   *noticeView
	Panels   []panelView
	Arrange  string
	views    []saved.View // saved tables, once they were asked for
	Plot     template.HTML
	PlotData []template.HTML
	Quiet    int // projects on track that are drawn and not listed
	Filters  []page.Picker
	Filtered bool
	Clear    string
	Keep     []page.Pair
	Heads    []page.Head
	Rows     []template.HTML
	Total    *total
	Begin    []beginStep // of an office that begins
	Empty    string
	CSV      string
}

type plotRow struct{ Code, Name, Href, Finish, Cost, Status string }

// row is a project in the table.
type row struct {
	Code, Name, Lead, Href string
	Overall                page.Mark
	OverallHref            string
	Declared, Predicted    *page.Mark
	Dimensions             []project.DimensionView
	CostBar, FinishBar     template.HTML
	Cost, Finish           page.Figure
	NextDate, NextName     string
	NextState              string
	Why                    string
	Quiet                  bool
}

type total struct {
	Text   string
	Cost   page.Figure
	Finish string
}

func filterOf(r *page.Request) lookout.Filter {
	q := r.Asked
	return lookout.Filter{Programme: q.Get("programme"), Lead: q.Get("lead"), Status: q.Get("status"), Sort: q.Get("sort"),
		Reverse: q.Get("dir") == "down"}
}

// looked reads an address and gathers its scope through a filter.
func (s *pages) looked(c fiber.Ctx, filter func(*page.Request) lookout.Filter) (*page.Request, *lookout.Lookout, error) {
	r, err := s.Read(c)
	if err != nil {
		return nil, nil, err
	}
	l, err := lookout.Of(r.Figures, r.Scope, filter(r))
	return r, l, err
}

func (s *pages) lookout(c fiber.Ctx) error {
	if done, err := s.Shown(c); done || err != nil {
		return err
	}
	r, l, err := s.looked(c, filterOf)
	if err != nil {
		return err
	}
	v := lookoutView{Page: r.Page("Lookout", "Lookout"), Begin: beginning(r)}
	if err := r.GroupTrace(&v.Page, l); err != nil {
		return err
	}
	v.Headline = r.Headline(l.Headline, func(key measure.Key) string {
		return r.Here("trace", key.String(), "at", "", "code", "", "milestone", "", "of",
			"")
	})
	if err := v.panels(r, l); err != nil {
		return err
	}
	if err := r.Answer("lookout", &v.Page, &v); err != nil {
		return err
	}
	page.KeepShown(r, &v.Page)
	return nil
}

// plot draws the projects that have both deviations; the others are named below it.
func (v *lookoutView) plot(r *page.Request, l *lookout.Lookout) error {
	sights := chart.Sights(l.Open, func(code string) string { return r.Project(code) })
	if len(sights) == 0 {
		return nil
	}
	v.Plot = template.HTML(chart.Sighting(sights, r.Figures.Env.Tolerances, 290, 470).SVG()) // the scene escapes texts
	for _, x := range sights {
		if len(sights) > chart.MostSights && x.Status < health.Watch {
			v.Quiet++
			continue
		}
		p, err := r.Figures.Project(x.Code)
		if err != nil {
			return err
		}
		html, err := r.Kept("lookout:sight", p, page.Scales{}, func() any {
			return plotRow{x.Code, p.Name, x.Href, write.Percent(x.Finish, 1), write.Percent(x.Cost, 1), x.Status.String()}
		})
		if err != nil {
			return err
		}
		v.PlotData = append(v.PlotData, html)
	}
	return nil
}

func (v *lookoutView) filters(r *page.Request, l *lookout.Lookout) {
	f := l.Filter
	programme := page.Picker{Label: "Programme", Name: "programme",
		Options: []page.Option{{Value: "", Text: "all", Selected: f.Programme == ""}}}
	for _, n := range l.Programmes {
		programme.Options = append(programme.Options, page.Option{Value: n.Code, Text: n.Name, Selected: n.Code == f.Programme})
	}
	lead := page.Picker{Label: "Lead", Name: "lead", Options: []page.Option{{Value: "", Text: "all", Selected: f.Lead == ""}}}
	for _, name := range l.Leads {
		lead.Options = append(lead.Options, page.Option{Value: name, Text: name, Selected: name == f.Lead})
	}
	status := page.Picker{Label: "Status", Name: "status", Options: []page.Option{{Value: "", Text: "all", Selected: f.Status == ""}}}
	for _, s := range lookout.StatusFilters() {
		text := s
		if s == "disagree" {
			text = "declared better"
		}
		status.Options = append(status.Options, page.Option{Value: s, Text: text, Selected: s == f.Status})
	}
	v.Filters = []page.Picker{programme, lead, status}
	v.Filtered = f.Programme != "" || f.Lead != "" || f.Status != ""
	v.Clear = r.Here("programme", "", "lead", "", "status", "", "trace", "")
	for _, name := range []string{"scope", "asof", "sort", "dir"} {
		if x := r.Asked.Get(name); x != "" {
			v.Keep = append(v.Keep, page.Pair{Name: name, Value: x})
		}
	}
	v.CSV = strings.Replace(r.Here("trace", "", "at", "", "of", ""), "/", "/lookout.csv", 1)
}

func (v *lookoutView) table(r *page.Request, l *lookout.Lookout) error {
	v.Heads = heads(r, l.Filter)
	scale := page.NewScales(l.Open)
	var shown []*measure.Project
	shown, v.Pager = page.CutTall(r, l.Shown)
	for _, p := range shown {
		html, err := r.Kept("lookout:row", p, scale, func() any { return rowOf(r, p, scale) })
		if err != nil {
			return err
		}
		v.Rows = append(v.Rows, html)
	}
	switch {
	case len(l.Open) == 0 && len(r.Figures.Projects) == 0:
		v.Empty = "There are no projects yet. Turret takes them in from files: turret import --db FILE FOLDER reads every file " +
			"named after its kind, such as projects.csv, activities.csv and budget.csv."
	case len(l.Open) == 0:
		v.Empty = "No project is open in this scope."
	case len(l.Shown) == 0:
		v.Empty = "No open project answers these filters."
	default:
		v.Total = totalOf(r, l)
	}
	return nil
}

func heads(r *page.Request, f lookout.Filter) []page.Head {
	var list []page.Head
	for _, h := range []struct{ text, key, class, title string }{
		{"", "", "", ""},
		{"Project, lead", "project", "", "Sort by name"},
		{"Cost, %", measure.VACShare.String(), "", "Variance at completion over budget; left is over budget"},
		{"Finish, days", measure.FinishDeviation.String(), "", "Working days from baseline to expected finish; right is later"},
		{"Next", "next", "", "Sort by the date of the next milestone"},
		{"Why", "", "", ""},
	} {
		x := page.Head{Text: h.text, Class: h.class, Title: h.title}
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
			x.Href = r.Here("sort", h.key, "dir", dir, "page", "", "trace", "", "at", "", "of", "")
			if f.Sort == h.key && f.Reverse {
				x.Href = r.Here("sort", "", "dir", "", "page", "", "trace", "", "at", "", "of", "")
			}
		}
		list = append(list, x)
	}
	var dims []string
	for _, d := range health.Dimensions() {
		dims = append(dims, write.Capital(d.String()))
	}
	return slices.Insert(list, 2, page.Head{Class: "dims", Words: dims})
}

func rowOf(r *page.Request, p *measure.Project, sc page.Scales) row {
	h := &p.Health
	x := row{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.Project(p.Code), Why: h.Reason(), Quiet: h.Overall < health.Watch}
	x.OverallHref = r.Project(p.Code, "trace", measure.OverallHealth.String())
	x.Overall = page.Mark{SVG: page.Pennant(h.Overall, 16, false), Label: page.OverallWords(h) + page.Because(x.Why)}
	if d := p.Value(measure.DeclaredHealth); d.Known && d.Status() != h.Overall {
		x.Declared = &page.Mark{SVG: page.Pennant(d.Status(), 14, true), Label: "declared " + d.Status().String()}
	}
	x.Predicted = page.ForesightOf(r).Mark(p, 14)
	for _, d := range health.Dimensions() {
		v := project.DimensionView{Mark: page.Mark{SVG: page.Pennant(h.By[d], 11, false), Label: d.String() + ": " + h.By[d].String()},
			Href: r.Project(p.Code, "trace", d.String()+"_health")}
		if h.Muted[d] != health.NotAssessed {
			v.Mark = page.Mark{SVG: page.Hatched(h.Muted[d], 11), Label: d.String() + ": " + h.By[d].String() + "; early: " +
				h.Muted[d].String() + " from " +
				h.Wakes.Human() + " on if it stays so"}
		}
		x.Dimensions = append(x.Dimensions, v)
	}
	tol := p.Tolerances
	x.Cost, x.Finish = r.Figure(p, measure.VACShare, write.SignedFloat(100*p.Value(measure.VACShare).Ratio, 1)), r.Figure(p,
		measure.FinishDeviation, "")
	if v := p.Value(measure.VACShare); v.Known {
		// numbers only
		x.CostBar = template.HTML(chart.DeviationBar(v.Ratio, sc.Cost, tol.Of[health.CostShare].Watch, h.Reached(health.CostShare)).SVG())
	}
	if v := p.Value(measure.FinishDeviation); v.Known {
		limit := tol.Of[health.FinishShare].Watch * float64(p.Value(measure.PlannedDuration).N)
		// numbers only
		x.FinishBar = template.HTML(chart.DeviationBar(float64(v.N), sc.Finish, limit, h.Reached(health.FinishShare)).SVG())
	}
	if e := lookout.Next(p); e.Activity >= 0 {
		x.NextName, x.NextState = p.Activities[e.Activity].Name, e.Word()
		x.NextDate = "no date"
		if e.Date != 0 {
			x.NextDate = e.Date.Human()
		}
	}
	return x
}

// totalOf is the roll-up of what the filter leaves.
func totalOf(r *page.Request, l *lookout.Lookout) *total {
	g := l.Group
	if len(l.Shown) != len(l.Open) {
		g = r.Figures.Roll(l.Shown)
	}
	t := &total{Text: write.Count(len(l.Shown), "project", "projects")}
	if v := g.Value(measure.VACShare); v.Known {
		t.Cost = page.Figure{Text: write.Percent(v.Ratio, 1), Title: "Together: variance over budget, from the sums",
			Href: r.Here("trace", measure.VACShare.String(), "of", "shown", "at", "")}
		if with := g.CountOf(measure.VACShare); with < len(l.Shown) {
			t.Text += fmt.Sprintf(", cost over %d of them", with)
		}
	}
	if v := g.Value(measure.BAC); v.Known {
		t.Text += ", budget " + money.Amount(v.N).Short(r.Figures.Env.Currency)
	}
	return t
}

// table sends what the table shows as CSV, with every measure.
func (s *pages) table(c fiber.Ctx) error {
	r, l, err := s.looked(c, filterOf)
	if err != nil {
		return err
	}
	var b bytes.Buffer
	if err := s.Reports.Table(&b, r.Figures, &assess.Scope{Code: r.Scope, Projects: l.Shown}); err != nil {
		return err
	}
	return Send(r, "lookout", ".csv", "text/csv; charset=utf-8", b.Bytes())
}

// Send sends a file named after the day it tells of.
func Send(r *page.Request, name, ext, kind string, b []byte) error {
	r.Attachment(name + "-" + r.AsOf.String() + ext)
	r.Set(fiber.HeaderContentType, kind)
	r.Set(fiber.HeaderCacheControl, page.NotShared)
	return r.Send(b)
}
