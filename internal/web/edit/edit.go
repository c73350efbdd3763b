// Package edit holds the pages of tables to edit in place.
package edit

import (
	"embed"
	"errors"
	"fmt"
	"net/url"
	"slices"
	"sort"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/write"
	"turret/internal/record"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of tables to edit in place.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/edit/:kind", s.edit)
	s.App.Post("/edit/:kind", s.saveEdit)
}

type editView struct {
	Page     page.Page
	Title    string
	Action   string
	All      string // address of every row and column
	Form     bool   // one row, shown as a form
	Heads    []string
	Rows     []editRow
	Blank    []editRow
	Lists    []List
	Others   []page.Tab
	Read     string // where the records are read
	Problem  string
	Notes    []string
	Shown    string
	Says     string // what the rows are
	Columns  string // their names, of a kind whose columns the office may change
	Reason   string // for what is changed, where it was typed
	Adds     bool   // what is typed is added to what stands
	Decide   string // where what stands fixed here is decided
	Year     *yearView
	CanClear bool
}

type editRow struct {
	N       string
	Was     string
	Cells   []editCell
	Depth   int
	Deleted bool
	At      bool // the record that the address names
}

type editCell struct {
	Name, Column, Value, Says string
	Head                      string
	Choices                   []string
	Choose                    bool
	List                      string
	Kind                      string // of the input element
	Fixed                     bool
	Wrong                     string
	Long                      bool
	Focus                     bool   // the field that the address names
	N, Was                    string // of its own row, where a row of the page shows cells of several
}

// List is what a column may hold.
type List struct {
	ID   string
	List []string
}

// brief are the columns that are typed rather than sent, of kinds that have many.
var brief = map[record.Kind][]string{
	record.Activities: {"code", "name", "kind", "baseline_finish", "start", "finish", "actual_start", "actual_finish", "percent_complete",
		"remaining", "report_to", "owner"},
	record.Risks: {"code", "title", "category", "likelihood", "consequence", "probability", "cost_impact", "days_impact", "response_kind",
		"response", "owner", "review", "due", "state"},
}

const editRows = 400

func (s *pages) edit(c fiber.Ctx) error {
	kind, project := editOf(c)
	g, err := s.Office.Edit.Grid(c.Context(), kind, project)
	if err != nil {
		return err
	}
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	closed, err := s.Office.Assess.Closed(c.Context(), r.AsOf)
	if err != nil {
		return err
	}
	if closed != nil && project != "" { // a table to edit shows what stands now, which is another month
		return page.Go(c, page.ProjectPath(project)+"/records/"+string(kind))
	}
	return s.showEdit(c, g, nil, nil)
}

func editOf(c fiber.Ctx) (record.Kind, string) {
	return record.Kind(strings.Clone(c.Params("kind"))), strings.Clone(c.Query("project"))
}

// showEdit shows the table; after a failed save edits are what was typed and fault says what is wrong with it.
func (s *pages) showEdit(c fiber.Ctx, g *edit.Grid, edits []intake.Edited, refused error) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	title := page.EditTitle(g.Kind, g.Project)
	section := "Setup"
	if g.Project != "" {
		title, section = title+" of "+g.Project, "Projects"
	}
	v := editView{Page: r.Page(title, section), Title: title, Action: r.To(page.EditPath(g.Kind, g.Project), "all", r.Asked.Get("all")),
		All: r.To(page.EditPath(g.Kind, g.Project), "all", "1"), Form: g.Project != "" &&
			(g.Kind == record.Projects || g.Kind == record.Statuses)}
	if g.Project == "" {
		v.Says = g.Input.Says
	}
	if g.Kind == record.Projects {
		v.Columns = columnNames(g.Input)
	}
	kinds, err := s.Office.Edit.Editable(c.Context(), g.Project)
	if err != nil {
		return err
	}
	v.frame(r, g, kinds)
	var fault *edit.Error
	if refused != nil && !errors.As(refused, &fault) {
		v.Problem = page.Sentence(refused.Error())
		c.Status(fiber.StatusConflict)
	}
	f := &editForm{g: g, v: &v, fault: fault, at: r.Asked.Get("at"), field: r.Asked.Get("field"),
		columns: columnsOf(g, r.Asked.Get("all") != "", r.Asked.Get("field"))}
	f.fill(edits, r.Asked.Get("all") != "")
	v.Adds, v.Reason = g.Kind.Adds(), strings.Clone(c.FormValue("reason"))
	if g.Kind == record.Changes {
		v.Decide = r.To("/money/changes")
	}
	if g.Kind == record.Calendars {
		settings, err := s.Office.Setting.Get(c.Context())
		if err != nil {
			return err
		}
		v.Year = yearOf(g, r, settings.FirstWeekday)
	}
	if fault != nil {
		c.Status(fiber.StatusUnprocessableEntity)
		if len(fault.Clashes) > 0 {
			c.Status(fiber.StatusConflict)
		}
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("edit", v)
}

// frame puts the tabs of the project over the table, and beside it the tables that stand under the same tab; those of the office have each
// other beside them.
func (v *editView) frame(r *page.Request, g *edit.Grid, kinds []record.Kind) {
	if g.Project == "" {
		if !slices.Contains(kinds, record.Projects) && access.ActorOf(r.Context()).Everything() {
			kinds = slices.Insert(kinds, 1, record.Projects)
		}
		for _, k := range kinds {
			v.Others = append(v.Others, page.Tab{Link: page.Link{Text: page.EditTitle(k, ""), Href: r.To(page.EditPath(k, ""))},
				Current: k == g.Kind})
		}
		return
	}
	tab := page.TabOfKind(g.Kind)
	if r.Figures != nil {
		if p := r.Figures.ByCode[g.Project]; p != nil {
			r.Of(&v.Page, p, tab)
		}
	}
	v.Read = r.To(page.ProjectPath(g.Project) + "/records/" + string(g.Kind))
	for _, k := range kinds {
		if tab != page.RecordTab && page.TabOfKind(k) == tab {
			v.Others = append(v.Others, page.Tab{Link: page.Link{Text: page.EditTitle(k, g.Project),
				Href: r.To(page.EditPath(k, g.Project))}, Current: k == g.Kind})
		}
	}
}

func columnsOf(g *edit.Grid, all bool, field string) []int {
	var list []int
	for i, col := range g.Input.Columns {
		if g.Kind.OfProject() && col.Owner() || brief[g.Kind] != nil && !all && !slices.Contains(brief[g.Kind], col.Name) &&
			col.Name != field {
			continue
		}
		list = append(list, i)
	}
	return list
}

type editForm struct {
	g       *edit.Grid
	v       *editView
	fault   *edit.Error
	columns []int

	at, field string // the record and the column that the address names
}

// isAt reports whether a row is the record that the address names, by any column of its key.
func (f *editForm) isAt(cells []string) bool {
	if f.at == "" {
		return false
	}
	for i, c := range f.g.Input.Columns {
		if !c.Owner() && slices.Contains(f.g.Input.Key, c.Name) &&
			(cells[i] == f.at || strings.HasPrefix(f.at, cells[i]+" → ")) && cells[i] != "" {
			return true
		}
	}
	return false
}

func (f *editForm) fill(edits []intake.Edited, all bool) {
	for _, i := range f.columns {
		f.v.Heads = append(f.v.Heads, f.g.Input.Columns[i].Head())
	}
	for _, col := range f.g.Input.Columns {
		if list := f.g.Choices[col.Name]; list != nil && len(col.Choices) == 0 {
			f.v.Lists = append(f.v.Lists, List{"list-" + col.Name, list})
		}
	}
	f.v.CanClear = f.g.Kind.IsRevision() && f.g.Kind != record.Statuses || f.g.Kind == record.Calendars
	left := 0
	typed := map[string]int{}
	for e, edit := range edits {
		if edit.Old != nil {
			typed[strings.Join(edit.Old, "\x1f")] = e
		}
	}
	for i, cells := range f.g.Rows {
		e, was := -1, strings.Join(cells, "\x1f")
		if at, ok := typed[was]; ok {
			e = at
		} else if at := f.clashing(cells); at >= 0 {
			e = at
		}
		if e < 0 && !f.isAt(cells) && (f.g.Kind == record.Activities && !all && cells[4] != "milestone" && cells[4] != "deliverable" ||
			len(f.v.Rows) >= editRows) {
			left++
			continue
		}
		f.v.Rows = append(f.v.Rows, f.row(i, cells, e, edits))
	}
	if brief[f.g.Kind] != nil && !all {
		f.v.Shown = "Columns that are seldom typed are not shown and stay as they are"
	}
	if left > 0 {
		f.v.Shown = fmt.Sprintf("%d more rows are not shown and stay as they are", left)
	}
	f.blanks(edits)
	f.say()
}

// clashing finds the edit whose row reads as these cells by now.
func (f *editForm) clashing(cells []string) int {
	if f.fault == nil {
		return -1
	}
	for e, now := range f.fault.Current {
		if slices.Equal(now, cells) {
			return e
		}
	}
	return -1
}

func (f *editForm) row(i int, cells []string, e int, edits []intake.Edited) editRow {
	x := editRow{N: fmt.Sprint(i), Was: strings.Join(cells, "\x1f")}
	if len(f.g.Depth) > i {
		x.Depth = f.g.Depth[i]
	}
	shown := cells
	if e >= 0 && edits[e].New != nil {
		shown = slices.Clone(cells)
		for j := range shown {
			if edits[e].New[j] != edits[e].Old[j] {
				shown[j] = edits[e].New[j]
			}
		}
	}
	x.Deleted = e >= 0 && edits[e].New == nil
	x.At = f.isAt(cells)
	for _, j := range f.columns {
		c := f.cell(x.N, j, shown[j], e)
		c.Focus = (x.At || f.v.Form) && c.Column == f.field
		x.Cells = append(x.Cells, c)
	}
	return x
}

func (f *editForm) blanks(edits []intake.Edited) {
	if f.v.Form {
		return
	}
	n := 0
	for e, edit := range edits {
		if edit.Old == nil && edit.New != nil {
			f.v.Blank = append(f.v.Blank, f.blank(n, edit.New, e))
			n++
		}
	}
	more := 3
	if f.g.Kind.Adds() {
		more = 6
	}
	for range more {
		f.v.Blank = append(f.v.Blank, f.blank(n, make([]string, len(f.g.Input.Columns)), -1))
		n++
	}
}

func (f *editForm) blank(n int, cells []string, e int) editRow {
	x := editRow{N: fmt.Sprintf("new%d", n)}
	for _, j := range f.columns {
		x.Cells = append(x.Cells, f.cell(x.N, j, cells[j], e))
	}
	return x
}

func (f *editForm) cell(n string, j int, value string, e int) editCell {
	col := f.g.Input.Columns[j]
	x := editCell{Name: fmt.Sprintf("c-%s-%d", n, j), Column: col.Name, Value: value, Says: col.Says, Kind: "text",
		Head: col.Head()}
	switch {
	case col.Cell == record.Choice:
		x.Choose, x.Choices = true, col.Choices
	case col.Cell == record.Day:
		x.Kind = "date"
	case f.g.Choices[col.Name] != nil:
		x.List = "list-" + col.Name
	case col.Name == "commentary" || col.Name == "note" && f.v.Form:
		x.Long = true
	}
	x.Fixed = col.Name == "code" && !strings.HasPrefix(n, "new") || intake.Decides(f.g.Kind, col.Name)
	if f.fault != nil && e >= 0 {
		for _, p := range f.fault.Problems {
			if int(p.Row) == e && p.Column == col.Name {
				x.Wrong = "expected " + p.Expected
			}
		}
		for _, k := range f.fault.Clashes {
			if k.Index == e && k.Column == col.Name {
				x.Wrong = "stands at “" + k.Theirs + "” by now; you typed “" + k.Yours + "”"
			}
		}
	}
	return x
}

func (f *editForm) say() {
	if f.fault == nil {
		return
	}
	f.v.Problem = page.Sentence(f.fault.Error())
	if len(f.fault.Clashes) > 0 {
		f.v.Problem += " What you typed is still here: save again to put it in the place of theirs, or change it first."
	}
	for _, p := range f.fault.Problems {
		f.v.Notes = append(f.v.Notes, fmt.Sprintf("%s “%s”: expected %s", p.Column, fault.Clip(p.Value, 60), p.Expected))
	}
	for _, k := range f.fault.Clashes {
		f.v.Notes = append(f.v.Notes, fmt.Sprintf("%s: yours “%s”, theirs “%s”", k.Column, k.Yours, k.Theirs))
	}
}

func (s *pages) saveEdit(c fiber.Ctx) error {
	kind, project := editOf(c)
	in, err := s.Office.Intake.Input(c.Context(), kind)
	if err != nil {
		return err
	}
	if in == nil {
		return fiber.ErrNotFound
	}
	q, err := url.ParseQuery(string(c.Body()))
	if err != nil {
		return fiber.NewError(fiber.StatusBadRequest, "The form cannot be read.")
	}
	form := laid(in, strings.Clone(q.Get("columns")))
	edits := relaid(editsFrom(q, form, project, s.ofNode(c, kind, project)), form, in)
	r, err := s.Office.Edit.SaveGridBecause(c.Context(), kind, project, edits, strings.Clone(q.Get("reason")))
	if refused := page.Refused(err); refused != nil {
		g, err := s.Office.Edit.Grid(c.Context(), kind, project)
		if err != nil {
			return err
		}
		return s.showEdit(c, g, edits, refused)
	}
	if err != nil {
		return err
	}
	tellSaved(c, kind, edits, r.Loads, page.EditPath(kind, project))
	return page.Go(c, page.EditPath(kind, project), "hide", c.Query("hide"), "all", c.Query("all"))
}

// ofNode reports whether what a table belongs to is a node.
func (s *pages) ofNode(c fiber.Ctx, kind record.Kind, owner string) bool {
	if !kind.OfNodes() || owner == "" {
		return false
	}
	g, err := s.Office.Edit.Grid(c.Context(), kind, owner)
	return err == nil && g.Node
}

// tellSaved tells what saving a table came to: how many rows were added, changed and taken away, for which period, and how to undo it.
func tellSaved(c fiber.Ctx, kind record.Kind, edits []intake.Edited, loads []kept.Load, back string) {
	if len(loads) == 0 {
		page.Tell(c, "Nothing was changed, so nothing was saved.")
		return
	}
	l := &loads[0]
	text := savedSays(kind, edits, l)
	if access.ActorOf(c.Context()).MayWhole(access.Withdraw) {
		page.TellUndo(c, text, page.PlaceOf(c).To(fmt.Sprintf("/loads/%d/withdraw", l.ID)), "reason",
			"undone right after it was saved", "back", page.PlaceOf(c).To(back))
		return
	}
	page.Tell(c, text)
}

// savedSays counts what was saved.
func savedSays(kind record.Kind, edits []intake.Edited, l *kept.Load) string {
	var added, changed, gone int
	for _, e := range edits {
		switch {
		case e.Old == nil && e.New != nil:
			added++
		case e.New == nil:
			gone++
		default:
			changed++
		}
	}
	var list []string
	for _, x := range []struct {
		n    int
		what string
	}{{added, "added"}, {changed, "changed"}, {gone, "taken away"}} {
		if x.n > 0 {
			list = append(list, fmt.Sprintf("%d %s %s", x.n, kind.Noun(x.n), x.what))
		}
	}
	return fmt.Sprintf("Saved for %s as load %d: %s.", l.Period.Name(), l.ID, write.List(list))
}

// editsFrom reads the rows of the form: was-N holds the row as it was, c-N-J the cells shown, del-N takes it away.
func editsFrom(q url.Values, in *record.Input, project string, node bool) []intake.Edited {
	var list []intake.Edited
	width := len(in.Columns)
	for _, i := range numbered(q, "was-") {
		was := q.Get(fmt.Sprintf("was-%d", i))
		old := strings.Split(was, "\x1f")
		if was == "" || len(old) != width {
			continue
		}
		e := intake.Edited{Old: old, New: slices.Clone(old)}
		for j := range in.Columns {
			if name := fmt.Sprintf("c-%d-%d", i, j); q.Has(name) {
				e.New[j] = typed(q.Get(name))
			}
		}
		if q.Get(fmt.Sprintf("del-%d", i)) != "" {
			e.New = nil
		}
		if e.New == nil || !slices.Equal(e.Old, e.New) {
			list = append(list, e)
		}
	}
	for i := range 500 {
		row, any := make([]string, width), false
		for j := range in.Columns {
			row[j] = typed(q.Get(fmt.Sprintf("c-new%d-%d", i, j)))
			any = any || row[j] != ""
		}
		if any {
			for j, col := range in.Columns {
				if col.Name == "project" && !node || col.Name == "node" && node {
					row[j] = project
				}
			}
			list = append(list, intake.Edited{New: row})
		}
	}
	return list
}

// numbered are the numbers of the fields of a name, in their order.
func numbered(q url.Values, name string) []int {
	var list []int
	for field := range q {
		if rest, ok := strings.CutPrefix(field, name); ok {
			if n, err := strconv.Atoi(rest); err == nil {
				list = append(list, n)
			}
		}
	}
	sort.Ints(list)
	return list
}

func typed(s string) string {
	return strings.TrimSpace(strings.ReplaceAll(strings.ReplaceAll(s, "\r\n", "\n"), "\x1f", " "))
}
