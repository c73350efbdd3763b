package web

import (
	"errors"
	"html/template"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/condition"
	"turret/internal/app/fault"
	"turret/internal/app/report"
	"turret/internal/core/measure"
)

type composeView struct {
	sectionFrame
	Name, Title, Over, For string
	Overs, Fors            []option
	Parts                  []composePart
	A3, Portrait, Cover    bool
	Names                  []condition.Name
	Asked                  []pair // that keep the scope and the day

	Problem  string
	Pages    []template.HTML
	First    int
	Last     int
	All      int
	Before   string
	After    string
	Read     string
	Files    []link
	Query    string
	KeepName string
}

type composePart struct {
	Key, Name, Says string
	On, HasFew, Few bool
	HasColumns      bool
	Columns, Usual  string
	Problem         string
}

const pagesAtOnce = 4

func (s *Server) composeReport(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	x, err := r.report()
	v := composeView{sectionFrame: r.reportFrame("Compose a report", "Compose"), Names: measureNames(r.a)}
	var field *fault.FieldError
	if errors.As(err, &field) {
		v.Problem, x = sentence(field.Error()), r.typedReport()
		c.Status(fiber.StatusUnprocessableEntity)
	} else if err != nil {
		return err
	}
	v.fill(r, x)
	if v.Problem == "" {
		if err := v.preview(r, x); err != nil {
			return err
		}
	}
	if c.Get("HX-Target") == "preview" {
		c.Status(fiber.StatusOK) // what is wrong is said in place
		return r.render("compose:preview", &v.Page, &v)
	}
	return r.render("compose", &v.Page, &v)
}

func (r *request) typedReport() *report.Report {
	x := &report.Report{Title: r.query.Get("title"), Scope: r.query.Get("over"), A3: r.query.Get("size") == "A3",
		Portrait: r.query.Get("turn") == "portrait", Cover: r.query.Has("cover")}
	for _, key := range r.query["part"] {
		if report.SortOf(key) != nil {
			x.Parts = append(x.Parts, report.Part{Key: key, Few: r.query.Has("few." + key), Columns: r.query["columns."+key]})
		}
	}
	return x
}

func measureNames(a *assess.Assessment) []condition.Name {
	var list []condition.Name
	for _, d := range measure.All() {
		if !a.NoMoney || !d.IsCost() {
			list = append(list, condition.Name{Name: d.Key, Says: d.Name})
		}
	}
	return list
}

func (v *composeView) fill(r *request, x *report.Report) {
	v.Name, v.Title, v.Over, v.A3, v.Portrait, v.Cover = x.Name, x.Title, x.Scope, x.A3, x.Portrait, x.Cover
	v.KeepName = x.Name
	v.Overs = []option{{"", "what is in view", x.Scope == ""}}
	for _, o := range r.scopes("").Options {
		if o.Value != "" {
			v.Overs = append(v.Overs, option{o.Value, o.Text, o.Value == x.Scope})
		}
	}
	if p, err := r.a.Project(x.Scope); err == nil {
		v.Overs = append(v.Overs, option{p.Code, p.Code + " " + p.Name, true})
	}
	v.Fors = []option{{"", "the one in view", x.Period == 0}}
	if list, err := r.s.Office.Assess.Periods(r.Context()); err == nil {
		for i := len(list) - 1; i >= 0; i-- {
			v.Fors = append(v.Fors, option{list[i].Span.String(), list[i].Span.Name(), list[i].Span == x.Period})
		}
	}
	for i := range x.Parts {
		v.Parts = append(v.Parts, composedPart(&x.Parts[i], true, r.a))
	}
	for _, sort := range report.Sorts() {
		if !slices.ContainsFunc(x.Parts, func(p report.Part) bool { return p.Key == sort.Key }) {
			v.Parts = append(v.Parts, composedPart(&report.Part{Key: sort.Key}, false, r.a))
		}
	}
	if r.marked {
		v.Asked = append(v.Asked, pair{"asof", r.asOf.String()})
	}
	if r.scope != "" {
		v.Asked = append(v.Asked, pair{"scope", r.scope})
	}
	if r.shown != "" {
		v.Asked = append(v.Asked, pair{"currency", r.shown})
	}
	v.Headline = []spoken{{Text: "A report of your own"}}
	if x.Name != "" {
		v.Headline = []spoken{{Text: x.Name}}
	}
}

func composedPart(p *report.Part, on bool, _ *assess.Assessment) composePart {
	sort := report.SortOf(p.Key)
	return composePart{Key: p.Key, Name: sort.Name, Says: sort.Says, On: on, HasFew: sort.Few, Few: p.Few, HasColumns: sort.Columns != nil,
		Columns: strings.Join(p.Columns, ", "), Usual: strings.Join(sort.Columns, ", ")}
}

func (v *composeView) preview(r *request, x *report.Report) error {
	content, err := r.s.Office.Report.Content(r.Context(), r.within(x), r.asOf)
	if errors.Is(err, fault.ErrNotFound) {
		v.Problem = sentence(strings.TrimSuffix(err.Error(), ": "+fault.ErrNotFound.Error()) + " is not among what you see")
		return nil
	}
	if err != nil {
		return err
	}
	v.First, _ = strconv.Atoi(r.query.Get("page"))
	v.First = max(v.First, 1)
	pages, all, err := r.s.Reports.Preview(content, v.First, pagesAtOnce)
	if err == nil && len(pages) == 0 && v.First > 1 { // the report has become shorter
		v.First = 1
		pages, all, err = r.s.Reports.Preview(content, 1, pagesAtOnce)
	}
	if err != nil {
		return err
	}
	for _, p := range pages {
		v.Pages = append(v.Pages, template.HTML(p)) //nolint:gosec // texts are escaped where the page is drawn
	}
	v.All, v.Last = all, v.First+len(pages)-1
	q := x.Query()
	v.Query = q.Encode()
	q.Set("name", x.Name)
	q.Set("composed", "1")
	link0 := func(path string, pairs ...string) string {
		u := url.Values{}
		for k, list := range q {
			u[k] = list
		}
		for _, a := range v.Asked {
			u.Set(a.Name, a.Value)
		}
		return address(path, u, pairs)
	}
	if v.First > 1 {
		v.Before = link0("/reports/compose", "page", strconv.Itoa(max(1, v.First-pagesAtOnce)))
	}
	if v.Last < all {
		v.After = link0("/reports/compose", "page", strconv.Itoa(v.Last+1))
	}
	v.Read = link0("/reports/read")
	for _, f := range reportFormats {
		v.Files = append(v.Files, link{f[1], link0("/reports/file/" + f[0])})
	}
	return nil
}
