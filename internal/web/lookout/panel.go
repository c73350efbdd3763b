// Package lookout holds the pages of the first page, and what it is made of.
package lookout

import (
	"embed"
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
	"turret/internal/app/register"
	"turret/internal/app/report"
	"turret/internal/app/saved"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
	"turret/internal/prose"
	"turret/internal/record"
	"turret/internal/web/page"
	"turret/internal/web/table"
	"turret/internal/web/timeline"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of the first page, and what it is made of.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/", s.lookout)
	s.App.Get("/lookout.csv", s.table)
	s.App.Get("/lookout/arrange", s.arrange)
	s.App.Post("/lookout/arrange", s.saveArranged)
	s.App.Post("/lookout/notice", s.saveNotice)
}

// panelView is a part of Lookout as it is shown.
type panelView struct {
	Kind, Title, Wide string
	Href              string // leads to all of it
	Empty             string
	Waits             []waitRow
	Text              template.HTML
	Who               string
	Facts             []page.Fact
	Chart             template.HTML
	Decisions         []decisionRow
	Milestones        []timeline.MilestoneLine
	Records           []recordRow
	Heads             []string
	Rows              []page.MeasureRow
	More              string
}

type waitRow struct{ Text, Href string }

type decisionRow struct {
	Mark             page.Mark
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
func (v *lookoutView) panels(r *page.Request, l *lookout.Lookout) error {
	list, _, err := r.Server.Office.Lookout.Panels(r.Context())
	if err != nil {
		return err
	}
	v.Arrange = r.To("/lookout/arrange")
	n, err := r.Server.Office.Setting.Notice(r.Context(), r.Server.Today())
	if err != nil {
		return err
	}
	if n != nil {
		v.Notice = &noticeView{prose.HTML(n.Text), n.Who}
	}
	for i := range list {
		p := &list[i]
		x := panelView{Kind: p.Kind, Wide: strings.ReplaceAll(p.Wide, " ", "-")}
		if sort := lookout.PanelKindOf(p.Kind); sort != nil {
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
var panelFills = map[string]func(*page.Request, *lookoutView, *lookout.Lookout, *lookout.Panel, *panelView) error{
	"sighting": func(r *page.Request, v *lookoutView, l *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
		if r.Figures.NoMoney {
			x.Kind = "" // it sets dates against costs
		}
		return v.plot(r, l)
	},
	"attention": func(r *page.Request, v *lookoutView, l *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
		if r.Figures.NoMoney {
			x.Wide = "whole"
		}
		v.filters(r, l)
		return v.table(r, l)
	},
	"waits": fillWaits, "decisions": fillDecisions, "note": fillNote, "figures": fillFigures, "milestones": fillMilestones,
	"risks": fillRecords(record.Risks), "issues": fillRecords(record.Issues), "actions": fillRecords(record.Actions),
	"gaps": fillGaps, "overloads": fillOverloads, "ahead": fillAhead, "pipeline": fillPipeline,
	"trend": fillTrend, lookout.TablePanel: fillTable,
	"text": func(_ *page.Request, _ *lookoutView, _ *lookout.Lookout, p *lookout.Panel, x *panelView) error {
		x.Title, x.Text = "", prose.HTML(p.Say)
		if p.Say == "" {
			x.Empty = "Nothing is written here yet; arrange Lookout to do so."
		}
		return nil
	},
}

func fillWaits(r *page.Request, _ *lookoutView, _ *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
	list, err := r.Server.Office.Publish.Waits(r.Context(), r.Figures)
	for i := range list {
		x.Waits = append(x.Waits, waiting(r, &list[i]))
	}
	if len(list) == 0 {
		x.Empty = "Nothing waits for you."
	}
	return err
}

func waiting(r *page.Request, w *publish.Waiting) waitRow {
	switch w.What {
	case publish.WaitInputs:
		return waitRow{write.Count(w.N, "input is still to come", "inputs are still to come"), r.To("/gather")}
	case publish.WaitErrors:
		return waitRow{write.Count(w.N, "error in the data", "errors in the data"), r.To("/check")}
	case publish.WaitTexts:
		return waitRow{write.Count(w.N, "project to explain", "projects to explain"), r.To("/explain")}
	case publish.WaitAnswer:
		return waitRow{w.Says + " asks about " + w.Of, r.ExplainPath(w.Of) + "#said"}
	case publish.WaitDecisions:
		return waitRow{write.Count(w.N, "decision asked for", "decisions asked for"), r.To("/reports/compose", "composed", "1", "part",
			"decisions")}
	case publish.WaitClosing:
		return waitRow{"nothing stands in the way of closing " + r.Period().Name(), r.To("/publish")}
	}
	return waitRow{w.Says + ", sent to you", "/sent/" + w.Of}
}

func fillDecisions(r *page.Request, _ *lookoutView, l *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
	list := report.Decisions(r.Figures, l.Open)
	x.Href = r.To("/reports/compose", "composed", "1", "part", "decisions")
	for i := range list {
		if i == mostInPanel {
			x.More = write.Count(len(list)-i, "more", "more")
			break
		}
		d := &list[i]
		status := d.Project.Health.Overall
		row := decisionRow{Mark: page.Mark{SVG: page.Pennant(status, 13, false), Label: status.String()}, Code: d.Project.Code,
			Name: d.Project.Name,
			Href: r.Project(d.Project.Code), What: string(d.What),
			Says: strings.TrimSpace(d.Code + " " + d.Title)}
		switch {
		case d.What == report.AtAct:
			row.Says = d.Says
		case d.Says != "":
			row.Says += ": " + d.Says
		}
		if c := d.Change; c != nil {
			if c.Problem == nil {
				row.Amount = c.Worth.Human(r.Figures.Env.Currency)
			}
			if c.Days.Given {
				row.Days = write.Signed(c.Days.N)
			}
		}
		x.Decisions = append(x.Decisions, row)
	}
	if len(list) == 0 {
		x.Empty = "Nothing waits for a decision."
	}
	return nil
}

func fillNote(r *page.Request, _ *lookoutView, _ *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
	if _, err := r.Figures.Project(r.Scope); err == nil {
		x.Kind = ""
		return nil
	}
	now, _, err := r.Server.Office.Explain.Note(r.Context(), r.Figures, r.Scope)
	x.Text, x.Who = prose.HTML(now.Text), now.Who
	if now.Text == "" {
		x.Empty = "The office has not written to this period yet."
	}
	return err
}

func fillFigures(r *page.Request, _ *lookoutView, l *lookout.Lookout, p *lookout.Panel, x *panelView) error {
	for _, k := range p.Measures() {
		d, ok := measure.Lookup(k)
		if !ok || r.Figures.NoMoney && d.IsCost() {
			continue
		}
		x.Facts = append(x.Facts, page.Fact{Name: d.Name, Figure: page.Rolled(r, l.Group, d.Key)})
	}
	if x.Facts == nil {
		x.Empty = "Costs are not shown to you."
	}
	return nil
}

// nextMonth is how many days ahead milestones are shown.
const nextMonth = 30

func fillMilestones(r *page.Request, _ *lookoutView, _ *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
	t, err := plan.TimelineOf(r.Figures, r.Scope, plan.TimelineFilter{})
	if err != nil {
		return err
	}
	x.Href = r.To("/timeline/milestones")
	list := plan.Milestones(r.Figures, t)
	for i := range list {
		e := &list[i].Event
		if e.State == schedule.Done || e.State == schedule.DoneLate || e.Date > r.AsOf+nextMonth {
			continue
		}
		if len(x.Milestones) == mostInPanel {
			x.More = "and more"
			break
		}
		x.Milestones = append(x.Milestones, timeline.MilestoneOf(r, &list[i]))
	}
	if x.Milestones == nil {
		x.Empty = "No milestone is missed, or due within a month."
	}
	return nil
}

// recordRow is a risk, issue or action.
type recordRow struct {
	Mark                       *page.Mark
	Title, Href, Of, OfHref    string
	OfTitle, Owner, Due, Worth string
}

// fillRecords shows the open records of a kind that matter most.
func fillRecords(kind record.Kind) func(*page.Request, *lookoutView, *lookout.Lookout, *lookout.Panel, *panelView) error {
	return func(r *page.Request, _ *lookoutView, l *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
		list := register.Pick(register.Lines(r.Figures, l.Scope, kind), register.Filter{})
		register.ByUrgency(list)
		x.Href = r.To("/registers/" + string(kind))
		if kind == record.Actions {
			x.Href = r.To("/registers/actions", "view", "list")
		}
		for i := range list {
			if i == mostInPanel {
				x.More = write.Count(len(list)-i, "more", "more")
				break
			}
			x.Records = append(x.Records, recordOf(r, &list[i]))
		}
		if len(list) == 0 {
			x.Empty = "No " + kind.Noun(1) + " is open."
		}
		return nil
	}
}

func recordOf(r *page.Request, l *register.Line) recordRow {
	x := recordRow{Title: l.Code + " " + l.Title, Href: r.To(page.RecordPath(l.Kind, l.Holder.Code, l.Code)), Owner: l.Owner,
		Of: l.Holder.Code, OfTitle: l.Holder.Name, OfHref: r.Project(l.Holder.Code)}
	if l.Holder.Node {
		x.Of, x.OfHref = l.Holder.Name, r.To("/registers/"+string(l.Kind), "scope", l.Holder.Code)
	}
	if l.Due != 0 {
		x.Due = l.Due.Human()
	}
	if l.Late {
		x.Mark = &page.Mark{SVG: page.Pennant(health.Act, 13, false), Label: "past due"}
	}
	if l.Risk != nil {
		if n, ok := l.Before.Exposure(); ok {
			x.Worth = write.Whole(int(n)) + " of 25"
		}
	}
	return x
}

func fillTrend(r *page.Request, _ *lookoutView, l *lookout.Lookout, p *lookout.Panel, x *panelView) error {
	keys := p.Measures()
	if len(keys) == 0 {
		x.Empty = "No measure is chosen."
		return nil
	}
	t, err := r.Server.Office.Assess.Trend(r.Context(), r.Figures, l.Scope, measure.KeyOf(keys[0]), 12)
	if errors.Is(err, access.ErrForbidden) {
		x.Empty = "Costs are not shown to you."
		return nil
	}
	if err != nil {
		return err
	}
	x.Title, x.Href = t.Measure.Name, r.To("/assess/trends", "measure", keys[0])
	if x.Chart = page.TrendLines(r, t, 600, 210); x.Chart == "" {
		x.Empty = "No earlier period is closed, or not all of it is yours to see."
	}
	return nil
}

func fillTable(r *page.Request, v *lookoutView, _ *lookout.Lookout, p *lookout.Panel, x *panelView) error {
	if v.views == nil { // asked for once, however many tables there are
		views, err := r.Server.Office.Saved.Views(r.Context())
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
		return fillView(r, views[i].Query, x)
	}
	return nil // taken away since
}

// fillView is a saved table as a panel.
func fillView(r *page.Request, query string, x *panelView) error {
	q, err := url.ParseQuery(query)
	if err != nil {
		return err
	}
	of := *r
	of.Asked = q
	asked := table.Query(&of)
	scope, t, err := report.Table(r.Figures, q.Get("scope"), asked)
	var field *fault.FieldError
	if errors.Is(err, fault.ErrNotFound) || errors.As(err, &field) {
		x.Empty = page.Sentence(err.Error())
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
			x.More = write.Count(len(scope.Projects)-i, "more", "more")
			break
		}
		x.Rows = append(x.Rows, page.MeasureRowOf(r, p, t.Keys))
	}
	if len(scope.Projects) == 0 {
		x.Empty = "No project answers it."
	}
	return nil
}
