package web

import (
	"html/template"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/money"
	"turret/internal/core/measure"
)

// moneyColumns are shown where the address names none.
var moneyColumns = []string{"bac", "ac", "forecast_to_go", "eac", "vac", "vac_share", "committed_share"}

type moneyTableView struct {
	sectionFrame
	Columns []chosenColumn
	Keys    string
	Groups  []moneyGroupView
	Total   []figure
	Heads   []head
	Used    bool
	Cut     bool
	Empty   string
}

type chosenColumn struct {
	Key, Name string
	On        bool
}

type moneyGroupView struct {
	Name  string
	Count string
	Rows  []moneyProjectRow
	Sums  []figure
}

type moneyProjectRow struct {
	Code, Name, Href string
	Bar              template.HTML
	Cells            []figure
}

// chosen are the measures that an address asks for, in its order.
func chosen(r *request, cut bool) ([]string, error) {
	keys := moneyColumns
	if q := r.query["columns"]; len(q) > 0 {
		keys = strings.Split(strings.Join(q, ","), ",")
	}
	var list []string
	for _, k := range keys {
		d, ok := measure.Lookup(k)
		if !ok {
			return nil, fiber.NewError(fiber.StatusBadRequest, "“"+fault.Clip(k, 40)+"” is not a measure of the catalogue.")
		}
		if (!cut || d.ByParts()) && !slices.Contains(list, k) {
			list = append(list, k)
		}
	}
	return list, nil
}

// moneyTableOf reads what a table of money shows.
func (s *Server) moneyTableOf(c fiber.Ctx) (*request, *assess.Scope, *money.Table, error) {
	r, scope, err := s.readMoney(c)
	if err != nil {
		return nil, nil, nil, err
	}
	by := r.query.Get("group")
	keys, err := chosen(r, money.ByCells(by))
	if err != nil {
		return nil, nil, nil, err
	}
	groups, total, err := money.Groups(r.a, scope, by)
	return r, scope, &money.Table{By: by, Keys: keys, Groups: groups, Total: total}, err
}

func (s *Server) moneyTable(c fiber.Ctx) error {
	r, scope, t, err := s.moneyTableOf(c)
	if err != nil {
		return err
	}
	v := moneyTableView{sectionFrame: r.moneyFrame("Money by project", "Projects"), Cut: money.ByCells(t.By),
		Keys: strings.Join(t.Keys, ",")}
	if err := r.scopeTrace(&v.Page, scope); err != nil {
		return err
	}
	group := picker{Label: "grouped by", Name: "group"}
	for _, g := range money.Groupings() {
		name := g
		if g == "" {
			name = "nothing"
		}
		group.Options = append(group.Options, option{g, name, g == t.By})
	}
	v.filter(r, group)
	v.Keep = slices.DeleteFunc(v.Keep, func(p pair) bool { return p.Name == "columns" })
	v.Headline = r.moneyHeadline(t.Total)
	v.Files = []link{{"CSV", r.moneyDownload("csv")}, {"XLSX", r.moneyDownload("xlsx")}, {"JSON", r.moneyDownload("json")}}
	for _, d := range measure.All() {
		if d.IsCost() || slices.Contains(t.Keys, d.Key) {
			v.Columns = append(v.Columns, chosenColumn{d.Key, d.Name, slices.Contains(t.Keys, d.Key)})
		}
	}
	v.table(r, t)
	if len(scope.Projects) == 0 {
		v.Empty = "No project answers these filters."
	}
	return r.render("money-projects", &v.Page, &v)
}

func (r *request) moneyDownload(format string) string {
	return strings.Replace(r.here("trace", "", "at", "", "month", "", "of", ""), "/money/projects", "/money/download/money."+format, 1)
}

func (v *moneyTableView) table(r *request, t *money.Table) {
	v.Used = !v.Cut
	for _, k := range t.Keys {
		d, _ := measure.Lookup(k)
		v.Heads = append(v.Heads, head{Text: d.Name, Title: d.Formula, Class: "num"})
		v.Total = append(v.Total, r.rolled(t.Total, k))
	}
	for i := range t.Groups {
		g := &t.Groups[i]
		x := moneyGroupView{Name: g.Name, Count: count(len(g.Projects), "project", "projects")}
		for _, k := range t.Keys {
			f := r.rolled(g.Group, k)
			f.Href = "" // the trace of a subtotal is that of its rows
			x.Sums = append(x.Sums, f)
		}
		for _, p := range g.Projects {
			row := moneyProjectRow{Code: p.Code, Name: p.Name, Href: r.moneyOf(p.Code)}
			if v.Used {
				row.Bar = r.usedBar(p)
			}
			for _, k := range t.Keys {
				f := r.shortFigure(p, k)
				if v.Cut {
					f.Href = ""
				}
				row.Cells = append(row.Cells, f)
			}
			x.Rows = append(x.Rows, row)
		}
		v.Groups = append(v.Groups, x)
	}
}

func (s *Server) moneyFile(c fiber.Ctx) error {
	r, _, t, err := s.moneyTableOf(c)
	if err != nil {
		return err
	}
	name := strings.Clone(c.Params("file"))
	if fileKinds[name] == "" {
		return fiber.NewError(fiber.StatusNotFound, "There is no such file; expected money.csv, money.xlsx or money.json.")
	}
	return r.download(name, fileKinds[name], func(w fiberWriter) error { return s.Reports.Money(w, name, r.a, t) })
}

// fileKinds are the files that money is written as.
var fileKinds = map[string]string{"money.csv": "text/csv; charset=utf-8", "money.json": "application/json; charset=utf-8",
	"money.xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"}
