package report

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
	"turret/internal/web/page"
)

type composeView struct {
	page.SectionFrame
	Name, Title, Over, For string
	Overs, Fors            []page.Option
	Parts                  []composePart
	A3, Portrait, Cover    bool
	Names                  []condition.Name
	Asked                  []page.Pair // that keep the scope and the day

	Problem  string
	Pages    []template.HTML
	First    int
	Last     int
	All      int
	Before   string
	After    string
	Read     string
	Files    []page.Link
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

// pagesAtOnce is how many pages the preview shows.
const pagesAtOnce = 4

// composeReport shows a report with its pages as they would be printed.
func (s *pages) composeReport(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	x, err := reportAsked(r)
	v := composeView{SectionFrame: Frame(r, "Compose a report", "Compose"), Names: page.MeasureNames(r.Figures)}
	var field *fault.FieldError
	if errors.As(err, &field) {
		v.Problem, x = page.Sentence(field.Error()), typedReport(r)
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
		return r.Answer("compose:preview", &v.Page, &v)
	}
	return r.Answer("compose", &v.Page, &v)
}

// typedReport is what a form asked for as far as it can be understood, so that nothing typed is lost.
func typedReport(r *page.Request) *report.Report {
	x := &report.Report{Title: r.Asked.Get("title"), Scope: r.Asked.Get("over"), A3: r.Asked.Get("size") == "A3",
		Portrait: r.Asked.Get("turn") == "portrait", Cover: r.Asked.Has("cover")}
	for _, key := range r.Asked["part"] {
		if report.SectionKindOf(key) != nil {
			x.Parts = append(x.Parts, report.Part{Key: key, Few: r.Asked.Has("few." + key), Columns: r.Asked["columns."+key]})
		}
	}
	return x
}

func (v *composeView) fill(r *page.Request, x *report.Report) {
	v.Name, v.Title, v.Over, v.A3, v.Portrait, v.Cover = x.Name, x.Title, x.Scope, x.A3, x.Portrait, x.Cover
	v.KeepName = x.Name
	v.Overs = []page.Option{{Value: "", Text: "what is in view", Selected: x.Scope == ""}}
	for _, o := range r.Scopes("").Options {
		if o.Value != "" {
			v.Overs = append(v.Overs, page.Option{Value: o.Value, Text: o.Text, Selected: o.Value == x.Scope})
		}
	}
	if p, err := r.Figures.Project(x.Scope); err == nil {
		v.Overs = append(v.Overs, page.Option{Value: p.Code, Text: p.Code + " " + p.Name, Selected: true})
	}
	v.Fors = []page.Option{{Value: "", Text: "the one in view", Selected: x.Period == 0}}
	if list, err := r.Server.Office.Assess.Periods(r.Context()); err == nil {
		for i := len(list) - 1; i >= 0; i-- {
			v.Fors = append(v.Fors, page.Option{Value: list[i].Span.String(), Text: list[i].Span.Name(),
				Selected: list[i].Span == x.Period})
		}
	}
	for i := range x.Parts {
		v.Parts = append(v.Parts, composedPart(&x.Parts[i], true, r.Figures))
	}
	for _, sort := range report.SectionKinds() {
		if !slices.ContainsFunc(x.Parts, func(p report.Part) bool { return p.Key == sort.Key }) {
			v.Parts = append(v.Parts, composedPart(&report.Part{Key: sort.Key}, false, r.Figures))
		}
	}
	if r.Marked {
		v.Asked = append(v.Asked, page.Pair{Name: "asof", Value: r.AsOf.String()})
	}
	if r.Scope != "" {
		v.Asked = append(v.Asked, page.Pair{Name: "scope", Value: r.Scope})
	}
	if r.Shown != "" {
		v.Asked = append(v.Asked, page.Pair{Name: "currency", Value: r.Shown})
	}
	v.Headline = []page.Spoken{{Text: "A report of your own"}}
	if x.Name != "" {
		v.Headline = []page.Spoken{{Text: x.Name}}
	}
}

func composedPart(p *report.Part, on bool, _ *assess.Assessment) composePart {
	sort := report.SectionKindOf(p.Key)
	return composePart{Key: p.Key, Name: sort.Name, Says: sort.Says, On: on, HasFew: sort.Few, Few: p.Few, HasColumns: sort.Columns != nil,
		Columns: strings.Join(p.Columns, ", "), Usual: strings.Join(sort.Columns, ", ")}
}

func (v *composeView) preview(r *page.Request, x *report.Report) error {
	content, err := r.Server.Office.Report.Content(r.Context(), within(r, x), r.AsOf)
	if errors.Is(err, fault.ErrNotFound) {
		v.Problem = page.Sentence(fault.Plain(err, fault.ErrNotFound) + " is not among what you see")
		return nil
	}
	if err != nil {
		return err
	}
	v.First, _ = strconv.Atoi(r.Asked.Get("page"))
	v.First = max(v.First, 1)
	pages, all, err := r.Server.Reports.Preview(content, v.First, pagesAtOnce)
	if err == nil && len(pages) == 0 && v.First > 1 { // the report has become shorter
		v.First = 1
		pages, all, err = r.Server.Reports.Preview(content, 1, pagesAtOnce)
	}
	if err != nil {
		return err
	}
	for _, p := range pages {
		v.Pages = append(v.Pages, template.HTML(p)) // texts are escaped where the page is drawn
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
		return page.Address(path, u, pairs)
	}
	if v.First > 1 {
		v.Before = link0("/reports/compose", "page", strconv.Itoa(max(1, v.First-pagesAtOnce)))
	}
	if v.Last < all {
		v.After = link0("/reports/compose", "page", strconv.Itoa(v.Last+1))
	}
	v.Read = link0("/reports/read")
	for _, f := range ReportFormats {
		v.Files = append(v.Files, page.Link{Text: f[1], Href: link0("/reports/file/" + f[0])})
	}
	return nil
}
