package assess

import (
	"html/template"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/say"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

type projectAssessView struct {
	page.SectionFrame
	Code, Name string
	Dimensions []judgedDimension
	History    []judgedPeriod
	Set        []setRow
	May        bool
	Problem    string
	Typed      struct{ Reason, Until string }
	On, Status page.Picker
	Findings   string
	Score      page.Figure
	CheckHref  string
	Closed     string
	Ways       []page.WayRow
}

type judgedDimension struct {
	Name     string
	Cell     Cell
	Status   string
	Triggers []judgedTrigger
	Lacks    string
}

type judgedTrigger struct {
	Sentence, Limits, Level, Tone string
	Href                          string
	Muted                         string
	Bar                           template.HTML
}

type judgedPeriod struct {
	Month string
	Mark  page.Mark
	CPI   string
}

type setRow struct {
	ID                          int64
	On, Status, Reason, Who     string
	From, Until, Ended, EndedBy string
	Holds                       bool
}

func (s *pages) projectAssess(c fiber.Ctx) error { return s.showProjectAssess(c, nil) }

func (s *pages) showProjectAssess(c fiber.Ctx, fault error) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	v := projectAssessView{SectionFrame: Frame(r, "Assessment of "+p.Code, "Projects"), Code: p.Code, Name: p.Name,
		May: access.ActorOf(c.Context()).May(access.Judge) && r.Figures.Closed == nil}
	r.Of(&v.Page, p, page.AssessTab)
	v.Tabs = nil // those of the project stand there
	if r.Figures.Closed != nil {
		v.Closed = r.Figures.Closed.Span.Name() + " is closed: its statuses stay as they are."
	}
	if err := r.ProjectTrace(&v.Page, p.Code); err != nil {
		return err
	}
	v.Headline = judgedHeadline(r, p)
	for _, d := range append(health.Dimensions(), health.Overall) {
		v.Dimensions = append(v.Dimensions, judged(r, p, d))
	}
	for i := range p.Past {
		x := &p.Past[i]
		st := x.Value(measure.OverallHealth).Status()
		v.History = append(v.History, judgedPeriod{x.Period.Brief(), page.Mark{SVG: page.Pennant(st, 12, false), Label: st.String()},
			x.Value(measure.CPI).Human(measure.Index, "")})
	}
	v.History = append(v.History, judgedPeriod{r.Period().Brief(), page.Mark{SVG: page.Pennant(p.Health.Overall, 12, false),
		Label: p.Health.Overall.String()},
		p.Value(measure.CPI).Human(measure.Index, "")})
	facts, err := s.Office.Judge.Overrides(c.Context(), p.Code)
	if err != nil {
		return err
	}
	for i := range facts {
		v.Set = append(v.Set, setRowOf(&facts[i], r.AsOf))
	}
	v.Score, v.CheckHref = r.Figure(p, measure.DataScore, ""), r.To("/check", "scope", p.Code)
	v.Findings = write.Count(int(p.Value(measure.Errors).N), "error", "errors") + ", " + write.Count(int(p.Value(measure.Warnings).N),
		"warning",
		"warnings")
	v.Ways = page.WaysOf(p, r.Figures.Env)
	v.form(r, fault)
	if fault != nil {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	return r.Answer("project-assess", &v.Page, &v)
}

func (v *projectAssessView) form(r *page.Request, fault error) {
	pairs := []string{"overall", "overall"}
	for _, d := range health.Dimensions() {
		pairs = append(pairs, d.String(), d.String())
	}
	on, status := "overall", "watch"
	v.Typed.Until = (r.Period() + 1).Last().String()
	if fault != nil {
		v.Problem = page.Sentence(fault.Error())
		on, status = strings.Clone(r.FormValue("on")), strings.Clone(r.FormValue("status"))
		v.Typed.Reason, v.Typed.Until = strings.Clone(r.FormValue("reason")), strings.Clone(r.FormValue("until"))
	}
	v.On = page.Choose("Set", "on", on, pairs...)
	v.Status = page.Choose("to", "status", status, "on track", "on track", "watch", "watch", "act", "act")
}

func setRowOf(f *kept.OverrideFact, asOf calendar.Date) setRow {
	x := setRow{ID: f.ID, On: f.On.String(), Status: f.Status.String(), Reason: f.Reason, Who: f.Who, From: f.Since.Human(),
		Until: f.Until.Human(),
		Holds: f.EndedAt.IsZero() && f.Since <= asOf && asOf <= f.Until}
	switch {
	case !f.EndedAt.IsZero():
		x.Ended = "taken back by " + f.EndedBy + " on " + say.Day(f.EndedAt)
	case asOf > f.Until:
		x.Ended = "lapsed"
	case asOf < f.Since:
		x.Ended = "not yet then"
	}
	return x
}

func judgedHeadline(r *page.Request, p *measure.Project) []page.Spoken {
	h := &p.Health
	list := []page.Spoken{{Text: p.Name + " is "}, {Text: "at " + h.Overall.String(), Tone: "tone-" + chart.Class(h.Overall),
		Href: r.Here("trace", measure.OverallHealth.String()), Trace: measure.OverallHealth}}
	if h.Overall == health.OnTrack || h.Overall == health.NotAssessed {
		list[1].Text = h.Overall.String()
	}
	if o := h.Set(health.Overall); o != nil {
		list = append(list, page.Spoken{Text: ", set by " + o.Who + " until " + o.Until.Human() + "; computed " +
			h.Computed[health.Overall].String()})
	}
	if reason := h.Reason(); reason != "" {
		list = append(list, page.Spoken{Text: ": " + strings.ToLower(reason[:1]) + reason[1:]})
	}
	list = append(list, page.Spoken{Text: "."})
	if h.Wakes != 0 {
		list = append(list, page.Spoken{Text: " Ratios are muted until " + h.Wakes.Human() + "."})
	}
	return list
}

func judged(r *page.Request, p *measure.Project, d health.Dimension) judgedDimension {
	x := judgedDimension{Name: d.String(), Cell: CellOf(r, p, d), Status: p.Health.InForce(d).String()}
	x.Cell.Href = r.Here("trace", d.String()+"_health", "at", "")
	if d == health.Overall {
		x.Lacks = "the worst of the dimensions"
		if r.Figures.Env.Tolerances.Weights != [5]float64{} {
			x.Lacks = "the dimensions, as the settings weigh them"
		}
		return x
	}
	for _, t := range p.Health.Triggers {
		if t.Dimension != d {
			continue
		}
		y := judgedTrigger{Sentence: t.Sentence, Limits: t.Kind.Rule().Says(t.Limit), Level: t.Level.String(), Tone: "tone-" +
			chart.Class(t.Level), Bar: page.Room(t)}
		if key := measure.OfTrigger(t.Kind); key != measure.None {
			y.Href = r.Here("trace", key.String(), "at", "")
		}
		if t.Muted {
			y.Muted = "early, does not count until " + p.Health.Wakes.Human()
		}
		x.Triggers = append(x.Triggers, y)
	}
	if len(x.Triggers) == 0 {
		x.Lacks = map[health.Dimension]string{health.Schedule: "no dates were sent", health.Cost: "no budget and forecast were sent",
			health.Scope: "no activities or backlog were sent",
			health.Risk:  "no risks or issues were sent", health.Benefit: "no benefits were sent"}[d]
	}
	return x
}

func (s *pages) setStatus(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	on, ok := health.ParseDimension(c.FormValue("on"))
	status, ok2 := health.ParseStatus(c.FormValue("status"))
	until, err := calendar.ParseDate(strings.Clone(c.FormValue("until")))
	switch {
	case !ok || !ok2:
		return fiber.NewError(fiber.StatusUnprocessableEntity, "A dimension, or overall, is set to on track, watch or act.")
	case err != nil:
		return s.showProjectAssess(c, &fault.FieldError{Field: "until", Value: c.FormValue("until"), Expected: "a day as YYYY-MM-DD"})
	}
	err = s.Office.Judge.SetStatus(c.Context(), r.Figures, p.Code, health.Override{On: on, Status: status,
		Reason: strings.Clone(c.FormValue("reason")), Until: until})
	return page.AnsweredWith(c, err, write.Capital(on.String())+" of "+p.Code+" is set to "+status.String()+" until "+until.Human()+".",
		r.To(page.ProjectPath(p.Code)+"/assess"),
		func(refused error) error { return s.showProjectAssess(c, refused) })
}

func (s *pages) endStatus(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	id, err := strconv.ParseInt(c.FormValue("id"), 10, 64)
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	if err := s.Office.Judge.EndStatus(c.Context(), r.Figures, p.Code, id); err != nil {
		return err
	}
	page.Tell(c, "The status that was set is taken back; the computed one counts again.")
	return page.Go(c, r.To(page.ProjectPath(p.Code)+"/assess"))
}
