package web

import (
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
)

func (s *Server) tableRoutes() {
	s.app.Get("/assess/table", s.denseTable)
	s.app.Get("/assess/table/:file", s.denseFile)
	s.app.Post("/assess/views", s.saveView)
	s.app.Post("/assess/views/end", s.endView)
	s.app.Get("/assess/glossary", s.glossary)
}

type denseView struct {
	sectionFrame
	Columns []chosenColumn
	Where   string
	Problem string
	Names   []condition.Name
	Heads   []head
	Rows    []denseRow
	Total   []figure
	Views   []viewLink
	Query   string
	Saved   string
	Hidden  []pair
	Empty   string
}

type denseRow struct {
	Code, Name, Lead, Href string
	Cells                  []denseCell
}

type denseCell struct {
	Figure figure
	Mark   *mark
}

type viewLink struct {
	ID               int64
	Name, Href, Says string
	Own, Current     bool
}

var denseColumns = []string{"overall_health", "bac", "eac", "vac_share", "cpi", "spi_t", "finish_deviation", "percent_complete",
	"data_score"}

// tableParams are what a saved view keeps of an address.
var tableParams = []string{"columns", "programme", "lead", "stage", "category", "status", "where", "sort", "dir", "scope"}

func tableQuery(r *request) report.TableQuery {
	q := r.query
	t := report.TableQuery{Columns: denseColumns, Programme: q.Get("programme"), Lead: q.Get("lead"), Stage: q.Get("stage"),
		Category: q.Get("category"),
		Status:   q.Get("status"), Where: q.Get("where"), Sort: q.Get("sort"), Reverse: q.Get("dir") == "down"}
	if list := q["columns"]; len(list) > 0 {
		t.Columns = nil
		for _, k := range strings.Split(strings.Join(list, ","), ",") {
			if k != "" && !slices.Contains(t.Columns, k) {
				t.Columns = append(t.Columns, k)
			}
		}
	}
	return t
}

func (s *Server) denseTable(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	v := denseView{sectionFrame: r.assessFrame("Table", "Table"), Names: condition.Names("project")}
	q := tableQuery(r)
	v.Where = q.Where
	scope, t, err := report.Table(r.a, r.scope, q)
	var field *fault.FieldError
	if errors.As(err, &field) {
		v.Problem = sentence(field.Error())
		c.Status(fiber.StatusUnprocessableEntity)
		bare := q
		bare.Where = ""
		scope, t, err = report.Table(r.a, r.scope, bare)
	}
	if err != nil {
		return err
	}
	if err := r.scopeTrace(&v.Page, scope); err != nil {
		return err
	}
	v.filters(r, q)
	v.fill(r, t, q)
	v.Files = []link{{"CSV", r.denseDownload("csv")}, {"XLSX", r.denseDownload("xlsx")}, {"JSON", r.denseDownload("json")}}
	if err := v.views(r); err != nil {
		return err
	}
	v.Headline = []spoken{{Text: count(len(scope.Projects), "project", "projects") + " by " + count(len(q.Columns), "measure", "measures")}}
	if q.Where != "" && v.Problem == "" {
		v.Headline = append(v.Headline, spoken{Text: " where " + fault.Clip(q.Where, 120)})
	}
	v.Headline = append(v.Headline, spoken{Text: "."})
	if len(scope.Projects) == 0 {
		v.Empty = "No project answers these filters."
	}
	return r.render("table", &v.Page, &v)
}

func (r *request) denseDownload(format string) string {
	return strings.Replace(r.here("trace", "", "at", "", "of", ""), "/assess/table", "/assess/table/money."+format, 1)
}

func (v *denseView) filters(r *request, q report.TableQuery) {
	of := func(pick func(*measure.Project) string) []string {
		pairs := []string{"", "all"}
		for _, p := range r.a.Projects {
			if x := pick(p); x != "" && !slices.Contains(pairs, x) {
				pairs = append(pairs, x, x)
			}
		}
		return pairs
	}
	programmes := []string{"", "all"}
	for _, n := range r.a.Masters.Nodes {
		programmes = append(programmes, n.Code, n.Name)
	}
	v.Filters = []picker{choose("Programme", "programme", q.Programme, programmes...),
		choose("Lead", "lead", q.Lead, of(func(p *measure.Project) string { return p.Lead })...),
		choose("Stage", "stage", q.Stage, of(func(p *measure.Project) string { return p.Stage })...),
		choose("Status", "status", q.Status, "", "open", "closed", "closed", "proposed", "proposed", "all", "all")}
	v.keep(r)
	for _, name := range []string{"sort", "dir"} {
		if x := r.query.Get(name); x != "" {
			v.Hidden = append(v.Hidden, pair{name, x})
		}
	}
	v.Filtered = q.Programme != "" || q.Lead != "" || q.Stage != "" || q.Status != "" || q.Where != ""
	v.Clear = r.here("programme", "", "lead", "", "stage", "", "status", "", "where", "", "trace", "")
	for _, k := range q.Columns { // the chosen ones first, in their order
		if d, ok := measure.Lookup(k); ok {
			v.Columns = append(v.Columns, chosenColumn{d.Key, d.Name, true})
		}
	}
	for _, d := range measure.All() {
		if !slices.Contains(q.Columns, d.Key) && (!r.a.NoMoney || !d.IsCost()) {
			v.Columns = append(v.Columns, chosenColumn{d.Key, d.Name, false})
		}
	}
}

func (v *denseView) fill(r *request, t *money.Table, q report.TableQuery) {
	for _, k := range t.Keys {
		d, _ := measure.Lookup(k)
		x := head{Text: d.Name, Title: d.Formula, Class: "num"}
		dir := "down"
		if q.Sort == k {
			x.Order = "ascending"
			if q.Reverse {
				x.Order, dir = "descending", ""
			}
		}
		x.Href = r.here("sort", k, "dir", dir, "trace", "", "at", "")
		v.Heads = append(v.Heads, x)
		v.Total = append(v.Total, r.rolled(t.Total, k))
	}
	for _, p := range t.Groups[0].Projects {
		row := denseRow{Code: p.Code, Name: p.Name, Lead: p.Lead, Href: r.project(p.Code)}
		for _, k := range t.Keys {
			d, _ := measure.Lookup(k)
			c := denseCell{Figure: r.shortFigure(p, k)}
			if x := p.Value(k); d.Unit == measure.Health && x.Known {
				c.Mark = &mark{pennant(x.Status(), 12, k == "declared_health"), x.Status().String()}
			}
			row.Cells = append(row.Cells, c)
		}
		v.Rows = append(v.Rows, row)
	}
}

func (v *denseView) views(r *request) error {
	list, err := r.s.Office.Saved.Views(r.Context())
	if err != nil {
		return err
	}
	held := url.Values{}
	for _, name := range tableParams {
		if x := r.query[name]; len(x) > 0 {
			held[name] = x
		}
	}
	v.Query = held.Encode()
	v.Saved = r.query.Get("saved")
	me := access.ActorOf(r.Context())
	for _, x := range list {
		says := "your own"
		switch {
		case x.Login != me.Login:
			says = "shared by " + x.Who
		case x.Shared:
			says = "your own, shared"
		}
		href := "/assess/table"
		if x.Query != "" {
			href += "?" + x.Query
		}
		v.Views = append(v.Views, viewLink{x.ID, x.Name, href, says, x.Login == me.Login, x.Query == v.Query && v.Query != ""})
	}
	return nil
}

func (s *Server) denseFile(c fiber.Ctx) error {
	r, err := s.read(c)
	if err != nil {
		return err
	}
	name := strings.Clone(c.Params("file"))
	if fileKinds[name] == "" {
		return fiber.NewError(fiber.StatusNotFound, "There is no such file; expected money.csv, money.xlsx or money.json.")
	}
	_, t, err := report.Table(r.a, r.scope, tableQuery(r))
	if err != nil {
		return err
	}
	return r.download(strings.Replace(name, "money", "table", 1), fileKinds[name],
		func(w fiberWriter) error { return s.Reports.Money(w, name, r.a, t) })
}

// saveView keeps the table of the page that asks by a name.
func (s *Server) saveView(c fiber.Ctx) error {
	q, err := url.ParseQuery(strings.Clone(c.FormValue("query")))
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The view cannot be read.")
	}
	held := url.Values{}
	for _, name := range tableParams {
		if x := q[name]; len(x) > 0 {
			held[name] = x
		}
	}
	if err := s.Office.Saved.SaveView(c.Context(), strings.Clone(c.FormValue("name")), held.Encode(),
		c.FormValue("shared") != ""); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/assess/table?" + held.Encode())
}

func (s *Server) endView(c fiber.Ctx) error {
	id, err := strconv.ParseInt(c.FormValue("id"), 10, 64)
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	if err := s.Office.Saved.EndView(c.Context(), id); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/assess/table")
}

type glossaryView struct {
	sectionFrame
	Rows  []termRow
	Query string
	Empty string
}

type termRow struct {
	Key, Name, Unit, Better, Formula, Source, Rollup string
	Inputs                                           []link
	Example                                          *figure
	Of                                               string
	Triggers                                         string
}

// glossary lists the catalogue, each measure with an example of a project at hand.
func (s *Server) glossary(c fiber.Ctx) error {
	r, scope, err := s.readAssess(c)
	if err != nil {
		return err
	}
	v := glossaryView{sectionFrame: r.assessFrame("Glossary", "Glossary"), Query: strings.TrimSpace(r.query.Get("q"))}
	v.keep(r)
	list := slices.Clone(scope.Projects)
	assess.ByAttention(list)
	if err := r.scopeTrace(&v.Page, scope); err != nil {
		return err
	}
	needle := strings.ToLower(v.Query)
	for _, d := range measure.All() {
		if needle != "" && !strings.Contains(strings.ToLower(d.Key+" "+d.Name+" "+d.Formula), needle) {
			continue
		}
		x := termRow{Key: d.Key, Name: d.Name, Unit: d.Unit.String(), Formula: d.Formula, Source: d.Source, Rollup: d.Rollup.String()}
		switch d.Better {
		case measure.Higher:
			x.Better = "higher is favourable"
		case measure.Lower:
			x.Better = "lower is favourable"
		}
		for _, k := range d.Inputs {
			in, _ := measure.Lookup(k)
			x.Inputs = append(x.Inputs, link{in.Name, "#m-" + k})
		}
		for _, rule := range health.Rules() {
			if rule.Measure == d.Key {
				x.Triggers = rule.Dimension.String() + " health: " + rule.Says(r.a.Env.Tolerances.Of[rule.Kind])
			}
		}
		for _, p := range list {
			if p.Value(d.Key).Known {
				f := r.shortFigure(p, d.Key)
				x.Example, x.Of = &f, p.Code
				break
			}
		}
		v.Rows = append(v.Rows, x)
	}
	v.Headline = []spoken{{Text: count(len(v.Rows), "measure", "measures") +
		", each defined once: tables, filters, tolerances, traces, files and the command line read them here."}}
	if len(v.Rows) == 0 {
		v.Empty = "No measure has “" + fault.Clip(v.Query, 60) + "” in its name or rule."
	}
	return r.render("glossary", &v.Page, &v)
}
