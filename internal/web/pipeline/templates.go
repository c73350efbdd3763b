package pipeline

import (
	"cmp"
	"errors"
	"fmt"
	"html/template"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/pipeline"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

const templatesPath = "/pipeline/templates"

// templatePages are those of templates.
type templatePages struct{ *pages }

// templatesView lists what projects may begin with.
type templatesView struct {
	page.SectionFrame
	May      bool
	New      string
	Action   string
	Rows     []templateRow
	Projects []page.Option // that one may be made from
}

type templateRow struct {
	Name, Says, Href    string
	Count, Days, Begun  int // activities and milestones; working days; projects that began with it
	Roles, Cost, Inputs string
	Version             string
}

func (s *templatePages) templates(c fiber.Ctx) error {
	r, _, p, err := s.read(c)
	if err != nil {
		return err
	}
	switch {
	case r.Asked.Get("new") != "" || r.Asked.Get("from") != "" || r.Asked.Get("edit") != "":
		return s.editTemplate(c, r)
	case r.Asked.Get("name") != "":
		return s.template(c, r)
	}
	v := templatesView{SectionFrame: frame(r, "Templates"), May: access.ActorOf(c.Context()).MayWhole(access.Judge),
		New: r.To(templatesPath, "new", "1"), Action: r.To(templatesPath)}
	v.Carry(r)
	list, err := s.Office.Pipeline.Templates(c.Context())
	if err != nil {
		return err
	}
	begun := map[string]int{}
	for code, d := range p.Proposals {
		if x := r.Figures.ByCode[code]; x != nil && x.Status != measure.Proposed {
			begun[d.Template]++
		}
	}
	for i := range list {
		v.Rows = append(v.Rows, templateRowOf(r, &list[i], begun[list[i].Name]))
	}
	v.Projects = append(v.Projects, page.Option{Text: "a project"})
	for _, x := range withPlans(r.Figures.Projects) {
		v.Projects = append(v.Projects, page.Option{Value: x.Code, Text: x.Code + " " + x.Name})
	}
	own := len(list) - len(pipeline.Shipped())
	v.Headline = []page.Spoken{{Text: write.Count(len(list)-own, "template ships", "templates ship") + " with Turret, the office wrote " +
		write.Whole(own) + ". Any project with a plan may be taken for one besides."}}
	return r.Answer("pipeline-templates", &v.Page, &v)
}

// withPlans are the projects that may be taken for a template.
func withPlans(list []*measure.Project) (out []*measure.Project) {
	for _, p := range list {
		if len(p.Activities) > 0 && p.Status != measure.Cancelled {
			out = append(out, p)
		}
	}
	return out
}

func templateRowOf(r *page.Request, t *pipeline.Template, begun int) templateRow {
	row := templateRow{Name: t.Name, Says: t.Says, Href: r.To(templatesPath, "name", t.Name), Count: t.Count(), Days: t.Length(),
		Begun: begun,
		Roles: "none", Cost: "as proposed", Inputs: "as the office", Version: "ships"}
	roles := map[string]bool{}
	for i := range t.Steps {
		if t.Steps[i].Role != "" {
			roles[t.Steps[i].Role] = true
		}
	}
	if len(roles) > 0 {
		row.Roles = write.Whole(len(roles))
	}
	if t.Shares() {
		row.Cost = "laid out"
	}
	if len(t.Asked) > 0 {
		row.Inputs = write.Count(len(t.Asked), "input", "inputs")
	}
	if t.Who != "" {
		row.Version = t.Who + ", " + page.When(t.At)
	}
	return row
}

// templateView is a template to be read.
type templateView struct {
	page.SectionFrame
	Name, Says, Back string
	Gone             bool // taken away
	May              bool
	Edit, Like       string // to change it; to make one like it
	Action, Drew     string
	Drawn            template.HTML
	Steps            []stepRow
	Money, Roles     bool
	Risks            []pipeline.Doubt
	Besides          []string
	Versions         []versionRow
	Shown            int // the version that is shown; 0 for the one that stands
}

type stepRow struct {
	Code, Name, Kind, Begins, Days, After, Role, Cost string
	Phase                                             bool
}

type versionRow struct {
	N                  int
	Who, When, Reason  string
	Href               string
	Now, Shown         bool
	Activities, Length int
}

func (s *templatePages) template(c fiber.Ctx, r *page.Request) error {
	name := r.Asked.Get("name")
	t, err := s.Office.Pipeline.Template(c.Context(), name)
	gone := errors.Is(err, fault.ErrNotFound)
	if err != nil && !gone {
		return err
	}
	versions, wrong := s.Office.Pipeline.TemplateVersions(c.Context(), name)
	if wrong != nil {
		return wrong
	}
	shown, _ := strconv.Atoi(r.Asked.Get("version"))
	switch {
	case gone && len(versions) == 0:
		return err
	case gone && (shown < 1 || shown > len(versions)):
		shown = len(versions)
	case shown < 1 || shown > len(versions):
		shown = 0
	}
	if shown > 0 {
		t = &versions[shown-1]
	}
	v := templateView{SectionFrame: frame(r, "Templates"), Name: t.Name, Says: t.Says, Back: r.To(templatesPath), Risks: t.Risks,
		May: access.ActorOf(c.Context()).MayWhole(access.Judge) && len(versions) > 0, Action: r.To(templatesPath), Shown: shown,
		Gone: gone}
	if !gone {
		v.Edit = r.To(templatesPath, "name", t.Name, "edit", "1")
	}
	if access.ActorOf(c.Context()).MayWhole(access.Judge) && !gone {
		v.Like = r.To(templatesPath, "name", t.Name, "edit", "new")
	}
	v.Headline = []page.Spoken{{Text: fmt.Sprintf("%s: %s over %s", t.Name, write.Count(t.Count(), "activity or milestone",
		"activities and milestones"), write.Count(t.Length(), "working day", "working days"))}}
	v.draw(r, t)
	v.besides(t)
	for i := len(versions) - 1; i >= 0; i-- {
		x := &versions[i]
		v.Versions = append(v.Versions, versionRow{N: x.Version, Who: x.Who, When: page.When(x.At), Reason: x.Reason, Activities: x.Count(),
			Length: x.Length(), Href: r.To(templatesPath, "name", t.Name, "version", strconv.Itoa(x.Version)),
			Now: i == len(versions)-1 && !gone, Shown: x.Version == shown})
	}
	return r.Answer("pipeline-template", &v.Page, &v)
}

// draw draws a template as if it began after the as-of date.
func (v *templateView) draw(r *page.Request, t *pipeline.Template) {
	start, days := r.Figures.Env.AsOf+1, r.Figures.Env.Calendar
	for !days.Working(start) {
		start++
	}
	at := map[string]int{}
	var rows []chart.TimelineRow
	var ties []chart.TimelineTie
	for i := range t.Steps {
		s := &t.Steps[i]
		at[s.Code] = len(rows)
		row := chart.TimelineRow{Name: s.Name, Soft: s.Code, Heading: s.Summary()}
		if s.Parent != "" {
			row.Depth = 1
		}
		from, to := s.Span(start, days)
		switch {
		case s.Summary():
		case s.Dot():
			row.Flags = []chart.TimelineFlag{{Date: to, Title: s.Name + ", day " + strconv.Itoa(s.From+1)}}
		default:
			row.Bar = schedule.Bar{Start: from, Finish: to}
			row.Title = s.Name + ", " + write.Count(s.Days, "working day", "working days")
		}
		rows = append(rows, row)
		v.Steps = append(v.Steps, stepOf(s))
		v.Money, v.Roles = v.Money || s.Share > 0, v.Roles || s.Role != ""
	}
	for i := range t.Steps {
		for _, code := range t.Steps[i].After {
			ties = append(ties, tieOf(t, at[code], i, start, days))
		}
	}
	v.Drew = start.Human()
	drawn := chart.Timeline("The plan of "+t.Name, rows, ties, chart.TimelineOptions{W: 1180, Names: 260, AsOf: start, Calendar: days})
	v.Drawn = template.HTML(drawn.SVG()) // texts of a scene are escaped
}

func tieOf(t *pipeline.Template, from, to int, start calendar.Date, days *calendar.Calendar) chart.TimelineTie {
	_, left := t.Steps[from].Span(start, days)
	arrives, end := t.Steps[to].Span(start, days)
	if t.Steps[to].Dot() {
		arrives = end
	}
	return chart.TimelineTie{FromRow: from, ToRow: to, From: left, To: arrives,
		Title: t.Steps[to].Name + " waits for " + t.Steps[from].Name}
}

func stepOf(s *pipeline.Step) stepRow {
	row := stepRow{Code: s.Code, Name: s.Name, Kind: cmp.Or(s.Kind, "activity"), Phase: s.Summary()}
	if s.Summary() {
		row.Kind = "phase"
		return row
	}
	row.Begins, row.After = strconv.Itoa(s.From+1), joined(s.After)
	if !s.Dot() {
		row.Days = strconv.Itoa(s.Days)
	}
	if s.Role != "" {
		row.Role = fmt.Sprintf("%s, %d %%", s.Role, s.Percent)
	}
	if s.Share > 0 {
		row.Cost = money.Plain(s.Share, 2) + " % on " + s.CostCode
	}
	return row
}

// besides tells what a template sets that is no row.
func (v *templateView) besides(t *pipeline.Template) {
	if t.Category != "" {
		v.Besides = append(v.Besides, "The category is "+t.Category+" where a proposal has none, and so are its stages.")
	}
	if len(t.Asked) > 0 {
		v.Besides = append(v.Besides, "Asked for each period: "+inputsOf(t)+".")
	}
	if t.Limits != "" {
		v.Besides = append(v.Besides, "Tolerances are those of "+t.Limits+".")
	}
	if t.Report != nil {
		v.Besides = append(v.Besides, "Each project has a report of its own, made like "+t.Report.Name+".")
	}
}
