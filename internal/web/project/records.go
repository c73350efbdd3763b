package project

import (
	"errors"
	"fmt"
	"net/url"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/records"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

// recordsView is a tab of a project that shows records to be read.
type recordsView struct {
	Page     page.Page
	Ways     []page.Link
	Headline string
	Kinds    []kindLine // of the tab that lists them all
	Sheets   []sheetView
	Record   *recordView
}

// kindLine is a kind in the list of all.
type kindLine struct {
	Name, Href, Says, From, Edit string
	Rows                         int
}

// sheetView is a table of one kind.
type sheetView struct {
	Kind, Title, Says, From, FromHref, Edit string
	Count                                   string
	Heads                                   []head
	Rows                                    []recordRow
	Empty                                   string
}

type head struct {
	Text   string
	Number bool
}

type recordRow struct {
	Href, Key string
	Cells     []page.Shown
}

// recordView is one record in the margin.
type recordView struct {
	Kind, Key, Edit, CloseHref string
	Facts                      []page.Stated
	History                    []page.RecordEvent
}

// tabRecords shows the kinds of a tab.
func (s *pages) tabRecords(tab string) fiber.Handler {
	return func(c fiber.Ctx) error { return s.records(c, tab, page.KindsOf[tab]) }
}

// kindRecords shows one kind, named in the address.
func (s *pages) kindRecords(c fiber.Ctx) error {
	kind := record.Kind(strings.Clone(c.Params("kind")))
	if kind.Input() == nil {
		return fiber.ErrNotFound
	}
	return s.records(c, page.TabOfKind(kind), []record.Kind{kind})
}

func (s *pages) records(c fiber.Ctx, tab string, kinds []record.Kind) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	v := recordsView{Page: r.Page(tab+" of "+p.Code, "Projects")}
	r.Of(&v.Page, p, tab)
	editable, err := s.editable(r, p.Code)
	if err != nil {
		return err
	}
	var counts []string
	for _, kind := range kinds {
		sheet, err := s.Office.Records.Of(c.Context(), r.Figures, p.Code, kind)
		if errors.Is(err, fault.ErrNotFound) && len(kinds) > 1 { // not theirs to know
			continue
		}
		if err != nil {
			return err
		}
		counts = append(counts, counted(sheet))
		v.Sheets = append(v.Sheets, sheetOf(r, p, sheet, slices.Contains(editable, kind)))
	}
	v.Headline = p.Name + " has " + write.List(counts) + "."
	if tab == page.PeopleTab && access.ActorOf(c.Context()).May(access.Send) {
		v.Ways = []page.Link{{Text: "Plan them over time", Href: r.To("/people/plan/" + p.Code)},
			{Text: "Planned and worked", Href: r.To("/people/work", "scope", p.Code)}}
	}
	if err := v.open(s, r, p, kinds, editable); err != nil {
		return err
	}
	return r.Answer("records", &v.Page, &v)
}

// editable are the kinds that may be edited in the period in view.
func (s *pages) editable(r *page.Request, project string) ([]record.Kind, error) {
	if r.Figures.Closed != nil {
		return nil, nil
	}
	return s.Office.Edit.Editable(r.Context(), project)
}

// counted is how many records a sheet has, in words.
func counted(s *records.Sheet) string {
	n := len(s.Rows)
	if n == 0 {
		return "no " + s.Kind.Noun(n)
	}
	text := write.Whole(n) + " " + s.Kind.Noun(n)
	if s.Cut {
		return "more than " + text
	}
	return text
}

// allRecords lists every kind of a project, with how many records it has and what brought them.
func (s *pages) allRecords(c fiber.Ctx) error {
	r, p, err := s.OfProject(c)
	if err != nil {
		return err
	}
	v := recordsView{Page: r.Page("Records of "+p.Code, "Projects"), Headline: "What has come of " + p.Name + ", kind by kind."}
	r.Of(&v.Page, p, page.RecordTab)
	editable, err := s.editable(r, p.Code)
	if err != nil {
		return err
	}
	for _, kind := range record.Kinds() {
		if !kind.OfProject() {
			continue
		}
		sheet, err := s.Office.Records.Of(c.Context(), r.Figures, p.Code, kind)
		if errors.Is(err, fault.ErrNotFound) { // not theirs to know
			continue
		}
		if err != nil {
			return err
		}
		x := sheetOf(r, p, sheet, slices.Contains(editable, kind))
		v.Kinds = append(v.Kinds, kindLine{Name: page.EditTitle(kind, p.Code), Says: kind.Input().Says, From: x.From, Edit: x.Edit,
			Rows: len(sheet.Rows), Href: r.To(page.ProjectPath(p.Code) + "/records/" + string(kind))})
	}
	return r.Answer("records", &v.Page, &v)
}

// sheetOf shows a sheet as a table. Columns in which nothing stands are left out.
func sheetOf(r *page.Request, p *measure.Project, s *records.Sheet, editable bool) sheetView {
	v := sheetView{Kind: string(s.Kind), Title: page.EditTitle(s.Kind, p.Code), Says: s.Input.Says, Count: counted(s)}
	if editable {
		v.Edit = r.To(page.EditPath(s.Kind, p.Code))
	}
	if l := s.Load; l != nil {
		v.From, v.FromHref = fmt.Sprintf("load %d, %s, by %s", l.ID, l.File, l.Author), r.To(fmt.Sprintf("/loads/%d", l.ID))
		if l.Period != 0 {
			v.From += ", for " + l.Period.Name()
		}
	}
	if len(s.Rows) == 0 {
		v.Empty = "None have come. They come with a file of the kind " + string(s.Kind) + "."
		return v
	}
	if s.Cut {
		v.From = "only the first " + write.Whole(len(s.Rows)) + " are shown; all of them stand in the loads"
		v.FromHref = r.To("/loads", "kind", string(s.Kind))
	}
	columns := used(s)
	for _, at := range columns {
		c := s.Input.Columns[at]
		v.Heads = append(v.Heads, head{c.Head(), page.Numeric(c)})
	}
	n := page.NamesOf(r, p)
	for i := range s.Rows {
		row := &s.Rows[i]
		x := recordRow{Key: row.Key, Href: r.Here("record", string(s.Kind)+":"+row.Key)}
		for _, at := range columns {
			x.Cells = append(x.Cells, n.Show(s.Input.Columns[at], row.Cells[at]))
		}
		v.Rows = append(v.Rows, x)
	}
	return v
}

// used are the columns in which something stands, the project's own left out.
func used(s *records.Sheet) []int {
	var list []int
	for i, c := range s.Input.Columns {
		if c.Name == "project" || c.Name == "code" && s.Kind == record.Projects {
			continue
		}
		if slices.ContainsFunc(s.Rows, func(r records.Row) bool { return r.Cells[i] != "" }) {
			list = append(list, i)
		}
	}
	return list
}

// open shows the record that the address names in the margin.
func (v *recordsView) open(s *pages, r *page.Request, p *measure.Project, kinds, editable []record.Kind) error {
	name, key, ok := strings.Cut(r.Asked.Get("record"), ":")
	kind := record.Kind(name)
	if !ok || !slices.Contains(kinds, kind) {
		return nil
	}
	sheet, err := s.Office.Records.Of(r.Context(), r.Figures, p.Code, kind)
	if err != nil {
		return err
	}
	history, err := s.Office.Records.History(r.Context(), r.Figures, p.Code, kind, key)
	if err != nil {
		return err
	}
	row := sheet.Row(key)
	if row == nil && len(history) == 0 {
		return fmt.Errorf("%s %q: %w", kind.Title(), fault.Clip(key, 60), fault.ErrNotFound)
	}
	x := &recordView{Kind: kind.Title(), Key: key, CloseHref: r.Here("record", "")}
	if slices.Contains(editable, kind) {
		first, _, _ := strings.Cut(key, " ")
		x.Edit = r.To(page.EditPath(kind, p.Code)+"&at="+url.QueryEscape(first)) + "#at"
	}
	n := page.NamesOf(r, p)
	if row != nil {
		for i, c := range sheet.Input.Columns {
			if c.Name != "project" && row.Cells[i] != "" {
				x.Facts = append(x.Facts, page.Stated{Name: c.Head(), Text: n.Show(c, row.Cells[i]).Text})
			}
		}
	}
	for i := range history {
		x.History = append(x.History, page.EventOf(r, n, &history[i]))
	}
	v.Record = x
	return nil
}
