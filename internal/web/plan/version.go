package plan

import (
	"cmp"
	"fmt"
	"html/template"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/kept"
	"turret/internal/app/plan"
	"turret/internal/app/say"
	"turret/internal/chart"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

type versionsView struct {
	Page      page.Page
	Headline  []page.Spoken
	Others    []page.Link
	Pair      []page.Picker // the two versions compared
	Chart     template.HTML
	Rows      []planChange
	Baselines []BaselineRow
	May       bool
	Action    string
	Problem   string
	Typed     kept.BaselineFact
	Empty     string
	Shown     string
}

type planChange struct {
	Code, Name, What, Was, Is, Start, Finish, Longer, Links string
	Tone                                                    string
}

// BaselineRow is a baseline that was set.
type BaselineRow struct{ Name, Reason, Change, Who, At, Href string }

// mostChanges is how many rows a comparison draws and lists.
const mostChanges = 400

func (s *pages) versions(c fiber.Ctx) error { return s.showVersions(c, nil, kept.BaselineFact{}) }

func (s *pages) showVersions(c fiber.Ctx, problem error, typed kept.BaselineFact) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	cmp, err := s.Office.Plan.Compare(c.Context(), r.Figures, p.Code, r.Asked.Get("was"), r.Asked.Get("is"))
	if err != nil {
		return err
	}
	v := versionsView{Page: r.Page("Versions of the plan of "+p.Code, "Timeline"), Action: r.To(page.ProjectPath(p.Code) + "/baseline"),
		Typed:  typed,
		Others: []page.Link{{Text: "Plan", Href: r.To(page.ProjectPath(p.Code) + "/plan")}}}
	r.Of(&v.Page, p, page.PlanTab)
	kinds, err := s.Office.Edit.Editable(c.Context(), p.Code)
	if err != nil {
		return err
	}
	for _, k := range kinds {
		v.May = v.May || k == record.Activities && r.Figures.Closed == nil
	}
	if problem != nil {
		v.Problem = page.Sentence(problem.Error())
		c.Status(fiber.StatusUnprocessableEntity)
	}
	v.fill(r, p, cmp)
	return r.Answer("versions", &v.Page, &v)
}

func (v *versionsView) fill(r *page.Request, p *measure.Project, c *plan.Comparison) {
	if len(c.Versions) == 0 {
		v.Empty = "No schedule of this project has been loaded yet, so there is nothing to compare."
		v.Headline = []page.Spoken{{Text: p.Name + " has no plan yet."}}
		return
	}
	v.Pair = []page.Picker{versionPicker("From", "was", c.Versions, c.Was), versionPicker("to", "is", c.Versions, c.Is)}
	for _, x := range c.Versions {
		if b := x.Baseline; b != nil {
			v.Baselines = append(v.Baselines, BaselineRow{b.Name, b.Reason, b.Change, b.Who, say.Day(b.At),
				r.Here("was", x.Key, "is", "")})
		}
	}
	moved := c.Count(func(x *schedule.Change) bool { return x.Moved })
	v.Headline = []page.Spoken{{Text: fmt.Sprintf("%s moved, %d stretched, %d added, %d removed, %d linked otherwise.",
		write.Count(moved, "activity", "activities"),
		c.Count(func(x *schedule.Change) bool { return x.Stretched }), c.Count(func(x *schedule.Change) bool { return x.Added }),
		c.Count(func(x *schedule.Change) bool { return x.Removed }), c.Count(func(x *schedule.Change) bool { return x.Relinked }))}}
	for i := range c.Changes {
		if i == mostChanges {
			v.Shown = fmt.Sprintf("The first %d of %d changes are listed.", mostChanges, len(c.Changes))
			break
		}
		v.Rows = append(v.Rows, planChangeOf(&c.Changes[i]))
	}
	v.draw(r, c)
}

func versionPicker(label, name string, list []plan.Version, chosen plan.Version) page.Picker {
	p := page.Picker{Label: label, Name: name}
	there := false
	for _, x := range list {
		p.Options = append(p.Options, page.Option{Value: x.Key, Text: x.Text, Selected: x.Key == chosen.Key})
		there = there || x.Key == chosen.Key
	}
	if !there && chosen.Key != "" {
		p.Options = append([]page.Option{{Value: chosen.Key, Text: chosen.Text, Selected: true}}, p.Options...)
	}
	if newest := fmt.Sprintf("b%d", list[0].Load.ID); chosen.Key != newest && list[0].Baseline == nil {
		p.Options = append(p.Options, page.Option{Value: newest, Text: "Baseline dates in the present plan", Selected: false})
	}
	return p
}

func planChangeOf(c *schedule.Change) planChange {
	x := planChange{Code: c.Code, Name: c.Name, Was: spanText(c.Was), Is: spanText(c.Is)}
	var what []string
	for _, w := range []struct {
		is   bool
		text string
	}{{c.Added, "added"}, {c.Removed, "removed"}, {c.Moved, "moved"}, {c.Stretched, "stretched"}, {c.Relinked, "linked otherwise"},
		{c.Changed, "described otherwise"}} {
		if w.is {
			what = append(what, w.text)
		}
	}
	x.What = strings.Join(what, ", ")
	if !c.Added && !c.Removed {
		x.Start, x.Finish, x.Longer = write.Signed(int64(c.StartDays)), write.Signed(int64(c.FinishDays)),
			write.Signed(int64(c.Longer))
	}
	if c.FinishDays > 0 {
		x.Tone = "tone-watch"
	}
	if c.Relinked {
		x.Links = cmp.Or(c.LinksWas, "nothing") + " → " + cmp.Or(c.LinksIs, "nothing")
	}
	return x
}

func spanText(s schedule.Span) string {
	switch {
	case s.Finish == 0 && s.Start == 0:
		return "–"
	case s.Start == 0 || s.Start == s.Finish:
		return s.Finish.Human()
	}
	return s.Start.Human() + " to " + s.Finish.Human()
}

// draw puts both versions on one drawing: the newer as bars, the older as a thin ghost above.
func (v *versionsView) draw(r *page.Request, c *plan.Comparison) {
	changed := map[string]*schedule.Change{}
	for i := range c.Changes {
		changed[c.Changes[i].Code] = &c.Changes[i]
	}
	var rows []chart.TimelineRow
	for i := range c.After {
		a := &c.After[i]
		x := changed[a.Code]
		if x == nil || x.Removed || a.Kind == schedule.Summary || len(rows) == 120 {
			continue
		}
		row := chart.TimelineRow{Name: a.Name, Soft: a.Code, Title: a.Code + " " + a.Name + ": " + planChangeOf(x).What}
		if a.Kind == schedule.Milestone {
			row.Flags = []chart.TimelineFlag{{Date: x.Is.Finish, Baseline: x.Was.Finish, Title: row.Title,
				Status: chart.StateStatus(stateOf(x))}}
		} else {
			row.Bar, row.Was = schedule.Bar{Start: x.Is.Start, Finish: x.Is.Finish}, schedule.Bar{Start: x.Was.Start, Finish: x.Was.Finish}
		}
		rows = append(rows, row)
	}
	if len(rows) == 0 {
		return
	}
	opt := chart.TimelineOptions{W: page.StripWidth, Names: 260, AsOf: r.AsOf, Calendar: r.Figures.Env.Calendar}
	v.Chart = template.HTML(chart.Timeline("Two versions of the plan", rows, nil, opt).SVG()) // the scene escapes texts
}

func stateOf(c *schedule.Change) schedule.State {
	if c.FinishDays > 0 {
		return schedule.Slipping
	}
	return schedule.OnPlan
}

func (s *pages) setBaseline(c fiber.Ctx) error {
	code, err := page.Decoded(c, "code")
	if err != nil {
		return err
	}
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	b := kept.BaselineFact{Name: strings.Clone(c.FormValue("name")), Reason: strings.Clone(c.FormValue("reason")),
		Change: strings.Clone(c.FormValue("change"))}
	err = s.Office.Plan.SetBaseline(c.Context(), r.Figures, code, b)
	return page.AnsweredWith(c, err, "The baseline “"+b.Name+"” is set"+r.InPeriod()+".", page.ProjectPath(code)+"/versions",
		func(refused error) error { return s.showVersions(c, refused, b) })
}
