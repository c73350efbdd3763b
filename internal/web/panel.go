package web

import (
	"errors"
	"html/template"
	"net/url"
	"strconv"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/lookout"
	"turret/internal/app/plan"
	"turret/internal/app/publish"
	"turret/internal/app/report"
	"turret/internal/app/saved"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/prose"
)

func (s *Server) lookoutRoutes() {
	s.app.Get("/", s.lookout)
	s.app.Get("/lookout.csv", s.table)
	s.app.Get("/lookout/arrange", s.arrange)
	s.app.Post("/lookout/arrange", s.saveArranged)
	s.app.Post("/lookout/notice", s.saveNotice)
}

// panelView is a part of Lookout as it is shown.
type panelView struct {
	Kind, Title, Wide string
	Href              string // leads to all of it
	Empty             string
	Waits             []waitRow
	Text              template.HTML
	Who               string
	Facts             []fact
	Chart             template.HTML
	Decisions         []decisionRow
	Milestones        []milestoneLine
	Heads             []string
	Rows              []denseRow
	More              string
}

type waitRow struct{ Text, Href string }

type decisionRow struct {
	Mark             mark
	Code, Name, Href string
	What, Says       string
	Amount, Days     string
}

type noticeView struct {
	Text template.HTML
	Who  string
}

// what a panel shows at most of a list.
const mostInPanel = 12

// panels fills in the parts of Lookout that the one who asks has chosen.
func (v *lookoutView) panels(r *request, l *lookout.Lookout) error {
	list, _, err := r.s.Office.Lookout.Panels(r.Context())
	if err != nil {
		return err
	}
	v.Arrange = r.to("/lookout/arrange")
	n, err := r.s.Office.Setting.Notice(r.Context(), r.s.Today())
	if err != nil {
		return err
	}
	if n != nil {
		v.Notice = &noticeView{prose.HTML(n.Text), n.Who}
	}
	for i := range list {
		p := &list[i]
		x := panelView{Kind: p.Kind, Wide: strings.ReplaceAll(p.Wide, " ", "-")}
		if sort := lookout.PanelSortOf(p.Kind); sort != nil {
			x.Title = sort.Name
		}
		fill := panelFills[p.Kind]
		if fill == nil {
			continue
		}
		if err := fill(r, v, l, p, &x); err != nil {
			return err
		}
		if x.Kind != "" {
			v.Panels = append(v.Panels, x)
		}
	}
	return nil
}

// panelFills fill in a panel by its kind; one that has nothing to say at all empties its kind.
var panelFills = map[string]func(*request, *lookoutView, *lookout.Lookout, *lookout.Panel, *panelView) error{
	"sighting": func(r *request, v *lookoutView, l *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
		if r.a.NoMoney {
			x.Kind = "" // it sets dates against costs
		}
		return v.plot(r, l)
	},
	"attention": func(r *request, v *lookoutView, l *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
		if r.a.NoMoney {
			x.Wide = "whole"
		}
		v.filters(r, l)
		return v.table(r, l)
	},
	"waits": fillWaits, "decisions": fillDecisions, "note": fillNote, "figures": fillFigures, "milestones": fillMilestones,
	"trend": fillTrend, lookout.TablePanel: fillTable,
	"text": func(_ *request, _ *lookoutView, _ *lookout.Lookout, p *lookout.Panel, x *panelView) error {
		x.Title, x.Text = "", prose.HTML(p.Say)
		if p.Say == "" {
			x.Empty = "Nothing is written here yet; arrange Lookout to do so."
		}
		return nil
	},
}

func fillWaits(r *request, _ *lookoutView, _ *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
	list, err := r.s.Office.Publish.Waits(r.Context(), r.a)
	for i := range list {
		x.Waits = append(x.Waits, r.waiting(&list[i]))
	}
	if len(list) == 0 {
		x.Empty = "Nothing waits for you."
	}
	return err
}

func (r *request) waiting(w *publish.Waiting) waitRow {
	switch w.What {
	case publish.WaitInputs:
		return waitRow{count(w.N, "input is still to come", "inputs are still to come"), r.to("/gather")}
	case publish.WaitErrors:
		return waitRow{count(w.N, "error in the data", "errors in the data"), r.to("/check")}
	case publish.WaitTexts:
		return waitRow{count(w.N, "project to explain", "projects to explain"), r.to("/explain")}
	case publish.WaitAnswer:
		return waitRow{w.Says + " asks about " + w.Of, r.explainPath(w.Of) + "#said"}
	case publish.WaitDecisions:
		return waitRow{count(w.N, "decision asked for", "decisions asked for"), r.to("/reports/compose", "composed", "1", "part",
			"decisions")}
	case publish.WaitClosing:
		return waitRow{"nothing stands in the way of closing " + r.period().Name(), r.to("/publish")}
	}
	return waitRow{w.Says + ", sent to you", "/sent/" + w.Of}
}

func fillDecisions(r *request, _ *lookoutView, l *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
	list := report.Decisions(r.a, l.Open)
	x.Href = r.to("/reports/compose", "composed", "1", "part", "decisions")
	for i := range list {
		if i == mostInPanel {
			x.More = count(len(list)-i, "more", "more")
			break
		}
		d := &list[i]
		status := d.Project.Health.Overall
		row := decisionRow{Mark: mark{pennant(status, 13, false), status.String()}, Code: d.Project.Code, Name: d.Project.Name,
			Href: r.project(d.Project.Code), What: string(d.What),
			Says: strings.TrimSpace(d.Code + " " + d.Title)}
		switch {
		case d.What == report.AtAct:
			row.Says = d.Says
		case d.Says != "":
			row.Says += ": " + d.Says
		}
		if c := d.Change; c != nil {
			if c.Problem == nil {
				row.Amount = c.Worth.Human(r.a.Env.Currency)
			}
			if c.Days.Given {
				row.Days = measure.Signed(c.Days.N)
			}
		}
		x.Decisions = append(x.Decisions, row)
	}
	if len(list) == 0 {
		x.Empty = "Nothing waits for a decision."
	}
	return nil
}

func fillNote(r *request, _ *lookoutView, _ *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
	if _, err := r.a.Project(r.scope); err == nil {
		x.Kind = ""
		return nil
	}
	now, _, err := r.s.Office.Explain.Note(r.Context(), r.a, r.scope)
	x.Text, x.Who = prose.HTML(now.Text), now.Who
	if now.Text == "" {
		x.Empty = "The office has not written to this period yet."
	}
	return err
}

func fillFigures(r *request, _ *lookoutView, l *lookout.Lookout, p *lookout.Panel, x *panelView) error {
	for _, k := range p.Measures() {
		d, ok := measure.Lookup(k)
		if !ok || r.a.NoMoney && d.IsCost() {
			continue
		}
		x.Facts = append(x.Facts, fact{Name: d.Name, Figure: r.rolled(l.Group, k)})
	}
	if x.Facts == nil {
		x.Empty = "Costs are not shown to you."
	}
	return nil
}

// nextMonth is how many days ahead milestones are shown.
const nextMonth = 30

func fillMilestones(r *request, _ *lookoutView, _ *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
	t, err := plan.TimelineOf(r.a, r.scope, plan.TimelineFilter{})
	if err != nil {
		return err
	}
	x.Href = r.to("/timeline/milestones")
	list := plan.Milestones(r.a, t)
	for i := range list {
		e := &list[i].Event
		if e.State == schedule.Done || e.State == schedule.DoneLate || e.Date > r.asOf+nextMonth {
			continue
		}
		if len(x.Milestones) == mostInPanel {
			x.More = "and more"
			break
		}
		x.Milestones = append(x.Milestones, r.milestoneLine(&list[i]))
	}
	if x.Milestones == nil {
		x.Empty = "No milestone is missed, or due within a month."
	}
	return nil
}

func fillTrend(r *request, _ *lookoutView, l *lookout.Lookout, p *lookout.Panel, x *panelView) error {
	keys := p.Measures()
	if len(keys) == 0 {
		x.Empty = "No measure is chosen."
		return nil
	}
	t, err := r.s.Office.Assess.Trend(r.Context(), r.a, l.Scope, keys[0], 12)
	if errors.Is(err, access.ErrForbidden) {
		x.Empty = "Costs are not shown to you."
		return nil
	}
	if err != nil {
		return err
	}
	x.Title, x.Href = t.Measure.Name, r.to("/assess/trends", "measure", keys[0])
	if x.Chart = r.trendLines(t, 600, 210); x.Chart == "" {
		x.Empty = "No earlier period is closed, or not all of it is yours to see."
	}
	return nil
}

func fillTable(r *request, v *lookoutView, _ *lookout.Lookout, p *lookout.Panel, x *panelView) error {
	if v.views == nil { // asked for once, however many tables there are
		views, err := r.s.Office.Saved.Views(r.Context())
		if err != nil {
			return err
		}
		v.views = append([]saved.View{}, views...)
	}
	views := v.views
	x.Kind = ""
	for i := range views {
		if strconv.FormatInt(views[i].ID, 10) != p.Of {
			continue
		}
		x.Kind, x.Title, x.Href = lookout.TablePanel, views[i].Name, "/assess/table?"+views[i].Query
		return r.fillView(views[i].Query, x)
	}
	return nil // taken away since
}

// fillView is a saved table as a panel.
func (r *request) fillView(query string, x *panelView) error {
	q, err := url.ParseQuery(query)
	if err != nil {
		return err
	}
	of := *r
	of.query = q
	asked := tableQuery(&of)
	scope, t, err := report.Table(r.a, q.Get("scope"), asked)
	var field *fault.FieldError
	if errors.Is(err, fault.ErrNotFound) || errors.As(err, &field) {
		x.Empty = sentence(err.Error())
		return nil
	}
	if err != nil {
		return err
	}
	for _, k := range t.Keys {
		d, _ := measure.Lookup(k)
		x.Heads = append(x.Heads, d.Name)
	}
	for i, p := range scope.Projects {
		if i == mostInPanel {
			x.More = count(len(scope.Projects)-i, "more", "more")
			break
		}
		row := denseRow{Code: p.Code, Name: p.Name, Href: r.project(p.Code)}
		for _, k := range t.Keys {
			row.Cells = append(row.Cells, denseCell{Figure: r.shortFigure(p, k)})
		}
		x.Rows = append(x.Rows, row)
	}
	if len(scope.Projects) == 0 {
		x.Empty = "No project answers it."
	}
	return nil
}

// rows lists the panels chosen, in their order, then those that could be.
// typedPanels is what a form asked for, also where it cannot be had.
