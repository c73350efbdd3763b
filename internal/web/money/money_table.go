package money

import (
	"html/template"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/money"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// moneyColumns are shown where the address names none.
var moneyColumns = measure.Texts(measure.BAC, measure.AC, measure.ForecastToGo, measure.EAC, measure.VAC, measure.VACShare,
	measure.CommittedShare)

type moneyTableView struct {
	Pager page.Pager
	page.SectionFrame
	Measures page.Chooser
	Keys     string
	Groups   []moneyGroupView
	Total    []page.Figure
	Heads    []page.Head
	Used     bool
	Cut      bool
	Empty    string
}

type moneyGroupView struct {
	Name  string
	Count string
	Rows  []moneyProjectRow
	Sums  []page.Figure
}

type moneyProjectRow struct {
	Code, Name, Href string
	Bar              template.HTML
	Cells            []page.Figure
}

// chosen are the measures that an address asks for, in its order.
func chosen(r *page.Request, cut bool) ([]string, error) {
	keys := moneyColumns
	if q := r.Asked["columns"]; len(q) > 0 {
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
func (s *pages) moneyTableOf(c fiber.Ctx) (*page.Request, *assess.Scope, *money.Table, error) {
	r, scope, err := s.readMoney(c)
	if err != nil {
		return nil, nil, nil, err
	}
	by := r.Asked.Get("group")
	keys, err := chosen(r, money.ByCells(by))
	if err != nil {
		return nil, nil, nil, err
	}
	groups, total, err := money.Groups(r.Figures, scope, by)
	return r, scope, &money.Table{By: by, Keys: keys, Groups: groups, Total: total}, err
}

func (s *pages) moneyTable(c fiber.Ctx) error {
	r, scope, t, err := s.moneyTableOf(c)
	if err != nil {
		return err
	}
	v := moneyTableView{SectionFrame: moneyFrame(r, "Money by project", "Projects"), Cut: money.ByCells(t.By),
		Keys: strings.Join(t.Keys, ",")}
	if err := r.ScopeTrace(&v.Page, scope); err != nil {
		return err
	}
	group := page.Picker{Label: "grouped by", Name: "group"}
	for _, g := range money.Groupings(r.Figures) {
		name := g
		if c, own := r.Figures.OwnField(g); own {
			name = write.Within(c.Head())
		}
		if g == "" {
			name = "nothing"
		}
		group.Options = append(group.Options, page.Option{Value: g, Text: name, Selected: g == t.By})
	}
	v.MoneyFilters(r, group)
	v.Keep = slices.DeleteFunc(v.Keep, func(p page.Pair) bool { return p.Name == "columns" })
	v.Headline = moneyHeadline(r, t.Total)
	v.Files = []page.Link{{Text: "CSV", Href: moneyDownload(r, "csv")}, {Text: "XLSX", Href: moneyDownload(r, "xlsx")},
		{Text: "JSON", Href: moneyDownload(r, "json")}}
	v.Measures = page.ChooserOf(r, t.Keys)
	v.Measures.Columns = slices.DeleteFunc(v.Measures.Columns, func(c page.ChosenColumn) bool {
		d, _ := measure.Lookup(c.Key)
		return !c.On && !d.IsCost()
	})
	v.table(r, t)
	if len(scope.Projects) == 0 {
		v.Empty = "No project answers these filters."
	}
	return r.Answer("money-projects", &v.Page, &v)
}

func moneyDownload(r *page.Request, format string) string {
	return strings.Replace(r.Here("trace", "", "at", "", "month", "", "of", ""), "/money/projects", "/money/download/money."+format, 1)
}

func (v *moneyTableView) table(r *page.Request, t *money.Table) {
	v.Used = !v.Cut
	for _, k := range t.Keys {
		d, _ := measure.Lookup(k)
		v.Heads = append(v.Heads, page.Head{Text: d.Name, Title: d.Formula, Class: "num"})
		v.Total = append(v.Total, page.RolledColumn(r, t.Total, k))
	}
	var all []*measure.Project
	for i := range t.Groups {
		all = append(all, t.Groups[i].Projects...)
	}
	shown, pager := page.Cut(r, all)
	v.Pager = pager
	for i := range t.Groups {
		g := &t.Groups[i]
		x := moneyGroupView{Name: g.Name, Count: write.Count(len(g.Projects), "project", "projects")}
		for _, k := range t.Keys {
			f := page.RolledColumn(r, g.Group, k)
			f.Href = "" // the trace of a subtotal is that of its rows
			x.Sums = append(x.Sums, f)
		}
		for _, p := range g.Projects {
			if v.Pager.Says != "" && !slices.Contains(shown, p) {
				continue
			}
			row := moneyProjectRow{Code: p.Code, Name: p.Name, Href: r.MoneyOf(p.Code)}
			if v.Used {
				row.Bar = usedBar(r, p)
			}
			for _, k := range t.Keys {
				f := r.ShortFigure(p, measure.KeyOf(k))
				if v.Cut {
					f.Href = ""
				}
				row.Cells = append(row.Cells, f)
			}
			x.Rows = append(x.Rows, row)
		}
		if v.Pager.Says == "" || len(x.Rows) > 0 {
			v.Groups = append(v.Groups, x)
		}
	}
}

func (s *pages) moneyFile(c fiber.Ctx) error {
	r, _, t, err := s.moneyTableOf(c)
	if err != nil {
		return err
	}
	name := strings.Clone(c.Params("file"))
	if page.FileKinds[name] == "" {
		return fiber.NewError(fiber.StatusNotFound, "There is no such file; expected money.csv, money.xlsx or money.json.")
	}
	return r.Deliver(name, page.FileKinds[name], func(w page.FiberWriter) error { return s.Reports.Money(w, name, r.Figures, t) })
}
