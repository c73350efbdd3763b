package pipeline

import (
	"cmp"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/pipeline"
	"turret/internal/app/report"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

// spareRows are how many empty rows a form offers besides those that are filled.
const spareRows = 6

// templateForm is a template to be written by hand.
type templateForm struct {
	page.SectionFrame
	Action, Back, Problem                string
	Name, Says, Category, Former, Reason string
	Steps                                []stepField
	Risks                                []riskField
	Inputs                               []page.Option
	Limits, Reports                      []page.Option
	Roles, Codes, Categories             []string
}

type stepField struct {
	N                                     int
	Code, Name, Parent, Begins, Days      string
	After, Role, Percent, CostCode, Share string
	Kinds, Levels                         []page.Option
}

type riskField struct {
	N                                        int
	Title, Likelihood, Consequence, Response string
}

// written is a template as it is typed.
type written struct {
	pipeline.Template
	steps  []map[string]string
	risks  []pipeline.Doubt
	former string // the name that it was opened by; empty for a new one
	report string
}

var stepColumns = []string{"code", "name", "kind", "parent", "begins", "days", "after", "role", "percent", "cost_code", "share",
	"report_to"}

// columnWords are how refusals call columns of numbers.
var columnWords = map[string]string{"begins": "first day", "days": "working days", "percent": "percent"}

// editTemplate opens a template, a new one, or one made from a project.
func (s *templatePages) editTemplate(c fiber.Ctx, r *page.Request) error {
	w := &written{}
	switch {
	case r.Asked.Get("from") != "":
		t, err := s.Office.Pipeline.TemplateFrom(c.Context(), r.Figures, r.Asked.Get("from"))
		if page.Refused(err) != nil {
			return fiber.NewError(fiber.StatusBadRequest, page.RefusedText(err))
		}
		if err != nil {
			return err
		}
		w = typedOf(t)
	case r.Asked.Get("edit") != "":
		t, err := s.Office.Pipeline.Template(c.Context(), r.Asked.Get("name"))
		if err != nil {
			return err
		}
		if w = typedOf(t); t.Who != "" && r.Asked.Get("edit") != "new" {
			w.former = t.Name
		} else {
			w.Name = "" // one like it has a name of its own
		}
	}
	return s.showTemplateForm(c, r, w, nil)
}

// typedOf is a template as its form holds it.
func typedOf(t *pipeline.Template) *written {
	w := &written{Template: *t, risks: t.Risks}
	w.Reason = ""
	if t.Report != nil {
		w.report = t.Report.Name
	}
	for i := range t.Steps {
		x := &t.Steps[i]
		row := map[string]string{"code": x.Code, "name": x.Name, "kind": x.Kind, "parent": x.Parent, "after": joined(x.After),
			"role":      x.Role,
			"cost_code": x.CostCode, "report_to": x.Report}
		if !x.Summary() {
			row["begins"] = strconv.Itoa(x.From + 1)
		}
		if !x.Summary() && !x.Dot() {
			row["days"] = strconv.Itoa(x.Days)
		}
		if x.Percent > 0 {
			row["percent"] = strconv.Itoa(x.Percent)
		}
		if x.Share > 0 {
			row["share"] = money.Plain(x.Share, 2)
		}
		w.steps = append(w.steps, row)
	}
	return w
}

func joined(codes []string) string { return strings.Join(codes, ", ") }

func inputsOf(t *pipeline.Template) string {
	var names []string
	for _, kind := range t.Asked {
		names = append(names, write.Within(kind.Title()))
	}
	return joined(names)
}

func (s *templatePages) showTemplateForm(c fiber.Ctx, r *page.Request, w *written, refused error) error {
	if !access.ActorOf(c.Context()).MayWhole(access.Judge) {
		return fmt.Errorf("writing templates: %w", access.ErrForbidden)
	}
	v := templateForm{SectionFrame: frame(r, "Templates"), Action: r.To(templatesPath), Back: r.To(templatesPath), Name: w.Name,
		Says:     w.Says,
		Category: w.Category, Former: w.former, Reason: w.Reason}
	v.Headline = []page.Spoken{{Text: "What does a project begin with?"}}
	if refused != nil {
		c.Status(http.StatusUnprocessableEntity)
		v.Problem = page.RefusedText(refused)
	}
	for i := range len(w.steps) + spareRows {
		row := map[string]string{}
		if i < len(w.steps) {
			row = w.steps[i]
		}
		v.Steps = append(v.Steps, stepFieldOf(i, row))
	}
	for i := range len(w.risks) + 2 {
		x := riskField{N: i}
		if i < len(w.risks) {
			d := &w.risks[i]
			x.Title, x.Likelihood, x.Consequence, x.Response = d.Title, d.Likelihood, d.Consequence, d.Response
		}
		v.Risks = append(v.Risks, x)
	}
	for _, kind := range record.MatrixKinds() {
		v.Inputs = append(v.Inputs, page.Option{Value: string(kind), Text: kind.Input().Title,
			Selected: len(w.Asked) == 0 || slices.Contains(w.Asked, kind)})
	}
	v.known(r, w)
	return v.reports(c, s, r, w)
}

func stepFieldOf(n int, row map[string]string) stepField {
	x := stepField{N: n, Code: row["code"], Name: row["name"], Parent: row["parent"], Begins: row["begins"], Days: row["days"],
		After: row["after"], Role: row["role"], Percent: row["percent"], CostCode: row["cost_code"], Share: row["share"]}
	for _, k := range [][2]string{{"", "activity"}, {"milestone", "milestone"}, {"deliverable", "deliverable"}, {"summary", "phase"}} {
		x.Kinds = append(x.Kinds, page.Option{Value: k[0], Text: k[1], Selected: k[0] == row["kind"]})
	}
	for _, k := range [][2]string{{"", "nobody"}, {"project", "project"}, {"programme", "programme"}, {"portfolio", "portfolio"}} {
		x.Levels = append(x.Levels, page.Option{Value: k[0], Text: k[1], Selected: k[0] == row["report_to"]})
	}
	return x
}

// known fills in what may be typed: roles, cost codes, categories, and whose tolerances may be taken over.
func (v *templateForm) known(r *page.Request, w *written) {
	for i := range r.Figures.People {
		v.Roles = append(v.Roles, r.Figures.People[i].Role)
	}
	for _, p := range r.Figures.Projects {
		v.Categories = append(v.Categories, p.Category)
	}
	for _, list := range []*[]string{&v.Roles, &v.Categories} {
		slices.Sort(*list)
		*list = slices.DeleteFunc(slices.Compact(*list), func(x string) bool { return x == "" })
	}
	for _, x := range r.Figures.Masters.CostCodes {
		if !x.Closed {
			v.Codes = append(v.Codes, x.Code)
		}
	}
	v.Limits = []page.Option{{Text: "those of where it lies"}}
	for i := range r.Figures.Settings.Tolerances {
		if code := r.Figures.Settings.Tolerances[i].Scope; code != "" {
			v.Limits = append(v.Limits, page.Option{Value: code, Text: "those of " + code, Selected: code == w.Limits})
		}
	}
}

// reports fills in which reports a project may have for its own, and answers.
func (v *templateForm) reports(c fiber.Ctx, s *templatePages, r *page.Request, w *written) error {
	list, err := s.Office.Report.List(c.Context())
	if err != nil {
		return err
	}
	v.Reports = []page.Option{{Text: "none of its own"}}
	for _, x := range append(report.StandardReports(), list...) {
		v.Reports = append(v.Reports, page.Option{Value: x.Name, Text: x.Name, Selected: x.Name == w.report})
	}
	return r.Answer("pipeline-template-form", &v.Page, v)
}

// saveTemplate takes in a template, or takes one away.
func (s *templatePages) saveTemplate(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	get := func(name string) string { return strings.TrimSpace(strings.Clone(c.FormValue(name))) }
	if name := get("away"); name != "" {
		return page.AnsweredWith(c, s.Office.Pipeline.EndTemplate(c.Context(), name),
			"“"+name+"” is taken away; projects stay as they are.", r.To(templatesPath), func(refused error) error { return refused })
	}
	if name := get("again"); name != "" {
		return s.takeAgain(c, r, name, get("version"))
	}
	w, err := s.writtenIn(c, get)
	if err == nil {
		err = s.Office.Pipeline.SaveTemplate(c.Context(), r.Figures, &w.Template)
	}
	said := "“" + w.Name + "” is saved. Projects that began with it before stay as they are."
	if w.former != "" && w.former != w.Name {
		said = "“" + w.Name + "” is saved beside “" + w.former + "”, which stays as it was."
	}
	return page.AnsweredWith(c, err, said, r.To(templatesPath, "name", w.Name), func(refused error) error {
		return s.showTemplateForm(c,
			r, w, refused)
	})
}

// takeAgain has an earlier version stand again, as the next one.
func (s *templatePages) takeAgain(c fiber.Ctx, r *page.Request, name, version string) error {
	list, err := s.Office.Pipeline.TemplateVersions(c.Context(), name)
	n, wrong := strconv.Atoi(version)
	if err == nil && (wrong != nil || n < 1 || n > len(list)) {
		err = fmt.Errorf("version %s: %w", fault.Clip(version, 20), fault.ErrNotFound)
	}
	if err == nil {
		t := list[n-1]
		t.Reason = fmt.Sprintf("version %d again", n)
		err = s.Office.Pipeline.SaveTemplate(c.Context(), r.Figures, &t)
	}
	return page.AnsweredWith(c, err, fmt.Sprintf("Version %s of “%s” stands again.", version, name), r.To(templatesPath, "name", name),
		func(refused error) error { return refused })
}

// writtenIn reads a template from its form. What is typed is there also where something is wrong with it.
func (s *templatePages) writtenIn(c fiber.Ctx, get func(string) string) (w *written, wrong error) {
	w = &written{former: get("former"), report: get("report")}
	w.Name, w.Says, w.Category, w.Limits, w.Reason = get("name"), get("says"), get("category"), get("limits"), get("reason")
	n, _ := strconv.Atoi(get("rows"))
	for i := range min(max(n, 0), 400) {
		row := map[string]string{}
		for _, name := range stepColumns {
			if text := get(name + "-" + strconv.Itoa(i)); text != "" {
				row[name] = text
			}
		}
		if len(row) == 0 || len(row) == 1 && (row["kind"] != "" || row["report_to"] != "") {
			continue
		}
		w.steps = append(w.steps, row)
		step, err := stepIn(row)
		wrong = cmp.Or(wrong, err)
		w.Steps = append(w.Steps, step)
	}
	n, _ = strconv.Atoi(get("risks"))
	for i := range min(max(n, 0), 100) {
		at := "-" + strconv.Itoa(i)
		d := pipeline.Doubt{Title: get("risk" + at), Likelihood: get("likelihood" + at), Consequence: get("consequence" + at),
			Response: get("response" + at)}
		if d != (pipeline.Doubt{}) {
			w.risks = append(w.risks, d)
		}
	}
	w.Risks = w.risks
	for _, b := range c.Request().PostArgs().PeekMulti("asked") {
		w.Asked = append(w.Asked, record.Kind(b))
	}
	switch len(w.Asked) {
	case 0:
		if wrong == nil {
			wrong = fault.Field("asked for each period", "", "at least one of what the office asks for")
		}
	case len(record.MatrixKinds()):
		w.Asked = nil // all that the office asks for
	}
	if w.report != "" && wrong == nil {
		var x *report.Report
		if x, wrong = s.Office.Report.Get(c.Context(), w.report); wrong == nil {
			w.Report = &pipeline.Reported{Name: x.Name, Query: x.Query().Encode()}
		}
	}
	return w, wrong
}

// stepIn reads a row. What it begins with is as soon as it may where nothing is typed.
func stepIn(row map[string]string) (s pipeline.Step, wrong error) {
	whole := func(name, want string) (n int) {
		if row[name] == "" {
			return 0
		}
		n, err := strconv.Atoi(strings.TrimSuffix(row[name], "%"))
		if err != nil && wrong == nil {
			wrong = fault.Field(columnWords[name]+" of "+cmp.Or(row["code"], row["name"]), fault.Clip(row[name], 40), want)
		}
		return n
	}
	s = pipeline.Step{Code: row["code"], Name: row["name"], Kind: row["kind"], Parent: row["parent"], Role: row["role"],
		CostCode: row["cost_code"], Report: row["report_to"], From: pipeline.Soonest}
	if row["begins"] != "" {
		s.From = whole("begins", "a working day such as 1 for the first, or nothing for as soon as it may") - 1
	}
	s.Days, s.Percent = whole("days", "a number of working days"), whole("percent", "whole percents of a working day")
	for code := range strings.FieldsFuncSeq(row["after"], func(r rune) bool { return r == ',' || r == ' ' || r == ';' }) {
		s.After = append(s.After, code)
	}
	if text := money.Typed(strings.TrimSuffix(row["share"], "%")); text != "" {
		var err error
		if s.Share, err = money.ParseDecimal(text, 2); err != nil && wrong == nil {
			wrong = fault.Field("share of "+cmp.Or(row["code"], row["name"]), fault.Clip(row["share"], 40), "a percent such as 12.5")
		}
	}
	return s, wrong
}
