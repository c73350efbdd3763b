// Package table holds the pages of tables that people make of measures.
package table

import (
	"embed"
	"errors"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/condition"
	"turret/internal/app/fault"
	"turret/internal/app/money"
	"turret/internal/app/report"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/record"

	"turret/internal/core/write"
	appassess "turret/internal/web/assess"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of tables that people make of measures.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/assess/table", s.denseTable)
	s.App.Get("/assess/table/:file", s.denseFile)
	s.App.Post("/assess/views", s.saveView)
	s.App.Post("/assess/views/end", s.endView)
	s.App.Get("/assess/glossary", s.glossary)
	s.App.Post("/tables/:name.csv", s.take("csv"))
	s.App.Post("/tables/:name.xlsx", s.take("xlsx"))
	s.App.Get("/tables/:name/views", s.shownViews)
	s.App.Post("/tables/:name/views", s.saveShown)
	s.App.Post("/tables/:name/views/end", s.endShown)
}

type denseView struct {
	Pager page.Pager
	page.SectionFrame
	Measures page.Chooser
	Where    string
	Problem  string
	Names    []condition.Name
	Heads    []page.Head
	Rows     []page.MeasureRow
	Total    []page.Figure
	Views    []viewLink
	Query    string
	Saved    string
	Hidden   []page.Pair
	Empty    string
}

type viewLink struct {
	ID               int64
	Name, Href, Says string
	Own, Current     bool
}

var denseColumns = measure.Texts(measure.OverallHealth, measure.BAC, measure.EAC, measure.VACShare, measure.CPI, measure.SPIInTime,
	measure.FinishDeviation, measure.PercentComplete,
	measure.DataScore)

// tableParams are what a saved view keeps of an address.
var tableParams = []string{"columns", "programme", "lead", "stage", "category", "status", "where", "sort", "dir", "scope"}

// gone says whether a column is a field of the office's own that it has no more: a saved table goes on without it.
func gone(r *page.Request, key string) bool {
	_, there := r.Figures.OwnField(key)
	return strings.HasPrefix(key, record.OwnPrefix) && !there
}

// kept is what a saved view keeps of what an address asks.
func kept(asked url.Values) url.Values {
	held := url.Values{}
	for name, x := range asked {
		if len(x) > 0 && (slices.Contains(tableParams, name) || strings.HasPrefix(name, record.OwnPrefix)) {
			held[name] = x
		}
	}
	return held
}

// Query is the table that an address asks for.
func Query(r *page.Request) report.TableQuery {
	q := r.Asked
	t := report.TableQuery{Columns: denseColumns, Programme: q.Get("programme"), Lead: q.Get("lead"), Stage: q.Get("stage"),
		Category: q.Get("category"),
		Status:   q.Get("status"), Where: q.Get("where"), Sort: q.Get("sort"), Reverse: q.Get("dir") == "down"}
	for name := range q {
		if _, there := r.Figures.OwnField(name); there && q.Get(name) != "" {
			x := q.Get(name)
			if t.Own == nil {
				t.Own = map[string]string{}
			}
			t.Own[name] = x
		}
	}
	if gone(r, t.Sort) {
		t.Sort = ""
	}
	if list := q["columns"]; len(list) > 0 {
		t.Columns = nil
		for _, k := range strings.Split(strings.Join(list, ","), ",") {
			if k != "" && !gone(r, k) && !slices.Contains(t.Columns, k) {
				t.Columns = append(t.Columns, k)
			}
		}
	}
	return t
}

func (s *pages) denseTable(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	v := denseView{SectionFrame: appassess.Frame(r, "Table", "Table"), Names: page.ConditionNames(r.Figures, "project")}
	q := Query(r)
	v.Where = q.Where
	scope, t, err := report.Table(r.Figures, r.Scope, q)
	var field *fault.FieldError
	if errors.As(err, &field) {
		v.Problem = page.Sentence(field.Error())
		c.Status(fiber.StatusUnprocessableEntity)
		bare := q
		bare.Where = ""
		scope, t, err = report.Table(r.Figures, r.Scope, bare)
	}
	if err != nil {
		return err
	}
	if err := r.ScopeTrace(&v.Page, scope); err != nil {
		return err
	}
	v.filters(r, q)
	v.fill(r, t, q)
	v.Files = []page.Link{{Text: "CSV", Href: denseDownload(r, "csv")}, {Text: "XLSX", Href: denseDownload(r, "xlsx")},
		{Text: "JSON", Href: denseDownload(r, "json")}}
	if err := v.views(r); err != nil {
		return err
	}
	v.Headline = []page.Spoken{{Text: write.Count(len(scope.Projects), "project", "projects") + " by " +
		write.Count(len(q.Columns), "column", "columns")}}
	if q.Where != "" && v.Problem == "" {
		v.Headline = append(v.Headline, page.Spoken{Text: " where " + fault.Clip(q.Where, 120)})
	}
	v.Headline = append(v.Headline, page.Spoken{Text: "."})
	if len(scope.Projects) == 0 {
		v.Empty = "No project answers these filters."
	}
	return r.Answer("table", &v.Page, &v)
}

func denseDownload(r *page.Request, format string) string {
	return strings.Replace(r.Here("trace", "", "at", "", "of", ""), "/assess/table", "/assess/table/money."+format, 1)
}

func (v *denseView) filters(r *page.Request, q report.TableQuery) {
	of := func(pick func(*measure.Project) string) []string {
		pairs := []string{"", "all"}
		for _, p := range r.Figures.Projects {
			if x := pick(p); x != "" && !slices.Contains(pairs, x) {
				pairs = append(pairs, x, x)
			}
		}
		return pairs
	}
	programmes := []string{"", "all"}
	for _, n := range r.Figures.Masters.Nodes {
		programmes = append(programmes, n.Code, n.Name)
	}
	v.Filters = []page.Picker{page.Choose("Programme", "programme", q.Programme, programmes...),
		page.Choose("Lead", "lead", q.Lead, of(func(p *measure.Project) string { return p.Lead })...),
		page.Choose("Stage", "stage", q.Stage, of(func(p *measure.Project) string { return p.Stage })...),
		page.Choose("Status", "status", q.Status, "", "open", "closed", "closed", "proposed", "proposed", "all", "all")}
	v.Carry(r)
	for _, name := range []string{"sort", "dir"} {
		if x := r.Asked.Get(name); x != "" {
			v.Hidden = append(v.Hidden, page.Pair{Name: name, Value: x})
		}
	}
	for _, c := range r.Figures.Masters.Own {
		if c.Cell != record.Choice {
			continue
		}
		pairs := []string{"", "all"}
		for _, x := range c.Choices {
			pairs = append(pairs, x, x)
		}
		v.Filters = append(v.Filters, page.Choose(c.Head(), c.Name, q.Own[c.Name], pairs...))
	}
	v.Filtered = len(q.Own) > 0 || q.Programme != "" || q.Lead != "" || q.Stage != "" || q.Status != "" || q.Where != ""
	clear := []string{"programme", "", "lead", "", "stage", "", "status", "", "where", "", "trace", ""}
	for name := range q.Own {
		clear = append(clear, name, "")
	}
	v.Clear = r.Here(clear...)
	v.Measures = page.ChooserOf(r, q.Columns)
}

func (v *denseView) fill(r *page.Request, t *money.Table, q report.TableQuery) {
	for _, k := range t.Keys {
		x := page.HeadOf(r, k)
		dir := "down"
		if q.Sort == k {
			x.Order = "ascending"
			if q.Reverse {
				x.Order, dir = "descending", ""
			}
		}
		x.Href = r.Here("sort", k, "dir", dir, "page", "", "trace", "", "at", "")
		v.Heads = append(v.Heads, x)
		v.Total = append(v.Total, page.RolledColumn(r, t.Total, k))
	}
	var shown []*measure.Project
	shown, v.Pager = page.Cut(r, t.Groups[0].Projects)
	for _, p := range shown {
		v.Rows = append(v.Rows, page.MeasureRowOf(r, p, t.Keys))
	}
}

func (v *denseView) views(r *page.Request) error {
	list, err := r.Server.Office.Saved.Views(r.Context())
	if err != nil {
		return err
	}
	v.Query = kept(r.Asked).Encode()
	v.Saved = r.Asked.Get("saved")
	me := access.ActorOf(r.Context())
	for _, x := range list {
		href := "/assess/table"
		if x.Query != "" {
			href += "?" + x.Query
		}
		v.Views = append(v.Views, viewLink{x.ID, x.Name, href, ownership(&x, me), x.Login == me.Login, x.Query == v.Query && v.Query != ""})
	}
	return nil
}

func (s *pages) denseFile(c fiber.Ctx) error {
	r, err := s.Read(c)
	if err != nil {
		return err
	}
	name := strings.Clone(c.Params("file"))
	if page.FileKinds[name] == "" {
		return fiber.NewError(fiber.StatusNotFound, "There is no such file; expected money.csv, money.xlsx or money.json.")
	}
	_, t, err := report.Table(r.Figures, r.Scope, Query(r))
	if err != nil {
		return err
	}
	return r.Deliver(strings.Replace(name, "money", "table", 1), page.FileKinds[name],
		func(w page.FiberWriter) error { return s.Reports.Money(w, name, r.Figures, t) })
}

// saveView keeps the table of the page that asks by a name.
func (s *pages) saveView(c fiber.Ctx) error {
	q, err := url.ParseQuery(strings.Clone(c.FormValue("query")))
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The view cannot be read.")
	}
	held := kept(q)
	if err := s.Office.Saved.SaveView(c.Context(), strings.Clone(c.FormValue("name")), held.Encode(),
		c.FormValue("shared") != ""); err != nil {
		return err
	}
	page.Tell(c, "The table is saved as “"+strings.Clone(c.FormValue("name"))+"”.")
	return page.Go(c, "/assess/table?"+held.Encode())
}

func (s *pages) endView(c fiber.Ctx) error {
	id, err := strconv.ParseInt(c.FormValue("id"), 10, 64)
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	if err := s.Office.Saved.EndView(c.Context(), id); err != nil {
		return err
	}
	page.Tell(c, "The saved table is taken away.")
	return page.Go(c, "/assess/table")
}

type glossaryView struct {
	page.SectionFrame
	Rows  []termRow
	Query string
	Empty string
}

type termRow struct {
	Key, Name, Unit, Better, Formula, Source, Rollup string
	Inputs                                           []page.Link
	Example                                          *page.Figure
	Of                                               string
	Triggers                                         string
}

// glossary lists the catalogue, each measure with an example of a project at hand.
func (s *pages) glossary(c fiber.Ctx) error {
	r, scope, err := s.ReadOpen(c)
	if err != nil {
		return err
	}
	v := glossaryView{SectionFrame: appassess.Frame(r, "Glossary", "Glossary"), Query: strings.TrimSpace(r.Asked.Get("q"))}
	v.Carry(r)
	list := slices.Clone(scope.Projects)
	assess.ByAttention(list)
	if err := r.ScopeTrace(&v.Page, scope); err != nil {
		return err
	}
	needle := strings.ToLower(v.Query)
	for _, d := range measure.All() {
		if needle != "" && !strings.Contains(strings.ToLower(d.Key.String()+" "+d.Name+" "+d.Formula), needle) {
			continue
		}
		x := termRow{Key: d.Key.String(), Name: d.Name, Unit: d.Unit.String(), Formula: d.Formula, Source: d.Source,
			Rollup: d.Rollup.String()}
		switch d.Better {
		case measure.Higher:
			x.Better = "higher is favourable"
		case measure.Lower:
			x.Better = "lower is favourable"
		}
		for _, k := range d.Inputs {
			x.Inputs = append(x.Inputs, page.Link{Text: measure.Of(k).Name, Href: "#m-" + k.String()})
		}
		for _, rule := range health.Rules() {
			if measure.OfTrigger(rule.Kind) == d.Key {
				x.Triggers = rule.Dimension.String() + " health: " + rule.Says(r.Figures.Env.Tolerances.Of[rule.Kind])
			}
		}
		for _, p := range list {
			if p.Value(d.Key).Known {
				f := r.ShortFigure(p, d.Key)
				x.Example, x.Of = &f, p.Code
				break
			}
		}
		v.Rows = append(v.Rows, x)
	}
	v.Headline = []page.Spoken{{Text: write.Count(len(v.Rows), "measure", "measures") +
		", each defined once: tables, filters, tolerances, traces, files and the command line read them here."}}
	if len(v.Rows) == 0 {
		v.Empty = "No measure has “" + fault.Clip(v.Query, 60) + "” in its name or rule."
	}
	return r.Answer("glossary", &v.Page, &v)
}
