package edit

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Grid is what is current of a kind, as a table to be edited. Project is empty for kinds that belong to none. A kind whose rows are added
// has none of those that stand: what is typed is added to them.
type Grid struct {
	Kind    record.Kind
	Project string // or the node that the records belong to
	Node    bool   // it is one
	Input   *record.Input
	Rows    [][]string          // cells in the kind's columns
	Choices map[string][]string // by column, where what may stand there can be listed
	Depth   []int               // of each row in the tree, where the kind is one
}

// own are the columns of the table that the office made for itself.
func (g *Grid) own() []record.Column { return g.Input.Columns[len(g.Kind.Input().Columns):] }

// Clash is a cell that two people changed. Theirs is what stands there by now.
type Clash struct {
	Index               int // of the edited row
	Column              string
	Yours, Theirs, From string
}

// Error is what keeps an edit from being saved; nothing was saved then. Rows of Problems are indexes of edited rows, -1 for
// a row that was not edited. Current are the present cells of the rows that clash, by index.
type Error struct {
	Problems []fault.Problem
	Clashes  []Clash
	Current  map[int][]string
}

func (e *Error) Error() string {
	if len(e.Clashes) > 0 {
		return write.Count(len(e.Clashes), "cell was", "cells were") + " changed by somebody else meanwhile; nothing was saved"
	}
	return write.Count(len(e.Problems), "cell", "cells") + " cannot be taken; nothing was saved"
}

// Unwrap returns ErrConflict where cells clash.
func (e *Error) Unwrap() error {
	if len(e.Clashes) > 0 {
		return fault.ErrConflict
	}
	return nil
}

// Grid reads the current rows of a kind, of one project where the kind belongs to projects or a project is named.
func (o *Office) Grid(ctx context.Context, kind record.Kind, project string) (*Grid, error) {
	if err := o.MayEdit(ctx, kind, project); err != nil {
		return nil, err
	}
	g, err := GridOf(ctx, o.store, kind, project)
	if err != nil {
		return nil, err
	}
	sees, err := o.CodesSeen(ctx)
	if err != nil {
		return nil, err
	}
	for _, c := range g.Input.Columns {
		g.Choices[c.Name] = Choosable(c, g.Choices[c.Name], sees)
		if sees != nil && slices.Contains(named, c.Name) {
			delete(g.Choices, c.Name) // who else there is, is not for everybody
		}
	}
	return g, nil
}

// CodesSeen tells which codes are of projects that the one who asks sees; nil for all of them.
func (o *Office) CodesSeen(ctx context.Context) (func(code string) bool, error) {
	actor := access.ActorOf(ctx)
	if actor.Everything() {
		return nil, nil
	}
	m, err := o.store.Masters(ctx)
	if err != nil {
		return nil, err
	}
	a := assess.New(m, nil, 0)
	return func(code string) bool {
		p := a.ByCode[code]
		return p != nil && a.SeenBy(actor, &p.Info)
	}, nil
}

// Choosable leaves out of the choices of a column the codes of projects that are not seen.
func Choosable(c record.Column, list []string, sees func(code string) bool) []string {
	if c.Refers != record.Projects || list == nil || sees == nil {
		return list
	}
	return slices.DeleteFunc(slices.Clone(list), func(code string) bool { return !sees(code) })
}

// MayEdit refuses tables that the one who asks may not change.
func (o *Office) MayEdit(ctx context.Context, kind record.Kind, project string) error {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return err
	}
	b, err := o.intake.Allowed(ctx, o.store, actor)
	if err != nil {
		return err
	}
	return mayEdit(b, kind, project)
}

// Editing answers for many tables whether the one who asks may change them; what that hangs on is read once.
func (o *Office) Editing(ctx context.Context) (func(kind record.Kind, project string) bool, error) {
	actor := access.ActorOf(ctx)
	if !actor.May(access.Send) {
		return func(record.Kind, string) bool { return false }, nil
	}
	b, err := o.intake.Allowed(ctx, o.store, actor)
	return func(kind record.Kind, project string) bool { return mayEdit(b, kind, project) == nil }, err
}

func mayEdit(b *intake.Allowed, kind record.Kind, project string) error {
	if kind.Input() == nil || kind.PerProject() && project == "" {
		return fmt.Errorf("table of %q: %w", kind, fault.ErrNotFound)
	}
	if project == "" {
		if b != nil && kind == record.Projects && !b.Actor.Everything() {
			return fmt.Errorf("all projects: %w", access.ErrForbidden)
		}
		return b.MaySend(kind, nil)
	}
	return b.MaySend(kind, []string{project})
}

// RowChange is the edit that sets some cells of the row of a project in a table that has one for each, by their columns. A row that is not
// there is an error wrapping ErrNotFound.
func RowChange(ctx context.Context, view kept.Reading, kind record.Kind, code string, cells map[string]string) ([]intake.Edited, error) {
	grid, err := GridOf(ctx, view, kind, code)
	if err != nil {
		return nil, err
	}
	at := slices.IndexFunc(grid.Rows, func(row []string) bool { return row[grid.Input.At("code")] == code })
	if at < 0 {
		return nil, fmt.Errorf("%s: %w", code, fault.ErrNotFound)
	}
	row := slices.Clone(grid.Rows[at])
	for name, text := range cells {
		row[grid.Input.At(name)] = text
	}
	return []intake.Edited{{Old: grid.Rows[at], New: row}}, nil
}

// GridOf reads the table of a kind: of a project, or of the whole office where that is empty.
func GridOf(ctx context.Context, view kept.Reading, kind record.Kind, project string) (*Grid, error) {
	m, err := view.Masters(ctx)
	if err != nil {
		return nil, err
	}
	g := &Grid{Kind: kind, Project: project, Input: kind.InputWith(m.Own), Choices: map[string][]string{}}
	for _, c := range g.Input.Columns {
		if list := ChoicesOf(c, m); list != nil {
			g.Choices[c.Name] = list
		} else if slices.Contains(named, c.Name) {
			g.Choices[c.Name] = namesOf(m)
		}
	}
	which := kept.Selection{}
	if project != "" {
		id := m.Holder(project)
		if g.Node = kind.OfNodes() && m.Node(project) != nil; !g.Node && !slices.ContainsFunc(m.Projects, func(p measure.Info) bool {
			return p.Code == project
		}) {
			return nil, fmt.Errorf("project %q: %w", project, fault.ErrNotFound)
		}
		which.Projects = []int64{id}
	}
	if kind.Adds() {
		return g, nil
	}
	f, err := view.Rows(ctx, kind, which)
	if err != nil {
		return nil, err
	}
	for i := range f.Len() {
		if project == "" || f.OwnerOf(i) == project {
			g.Rows = append(g.Rows, f.Cells(i))
		}
	}
	if kind == record.Statuses && len(g.Rows) == 0 {
		g.Rows = [][]string{make([]string, len(g.Input.Columns))}
		g.Rows[0][0] = project
	}
	if kind == record.Structure || kind == record.CostCodes {
		g.asTree()
	}
	return g, nil
}

// asTree puts each row below its parent.
func (g *Grid) asTree() {
	at := slices.IndexFunc(g.Input.Columns, func(c record.Column) bool { return c.Name == "parent" })
	codes := map[string]bool{}
	for _, r := range g.Rows {
		codes[r[0]] = true
	}
	below := map[string][][]string{}
	for _, r := range g.Rows {
		p := r[at]
		if !codes[p] {
			p = ""
		}
		below[p] = append(below[p], r)
	}
	rows := g.Rows
	g.Rows = nil
	var add func(parent string, depth int)
	add = func(parent string, depth int) {
		for _, r := range below[parent] {
			if depth < 50 {
				g.Rows, g.Depth = append(g.Rows, r), append(g.Depth, depth)
				add(r[0], depth+1)
			}
		}
	}
	add("", 0)
	if len(g.Rows) != len(rows) { // a parent that goes round cannot come in, but nothing must be hidden by it
		g.Rows, g.Depth = rows, make([]int, len(rows))
	}
}

// SaveGrid saves what was changed in a table as a load of its own. Cells that nobody else touched meanwhile are merged; where
// two people changed the same cell nothing is saved and an *EditError says both values.
func (o *Office) SaveGrid(ctx context.Context, kind record.Kind, project string, edits []intake.Edited) (*intake.Receipt, error) {
	return o.SaveGridBecause(ctx, kind, project, edits, "")
}

// SaveGridBecause saves a table with the reason for what was changed, which stays with the load; it may be empty.
func (o *Office) SaveGridBecause(ctx context.Context, kind record.Kind, project string, edits []intake.Edited,
	reason string) (*intake.Receipt, error) {
	if reason = strings.TrimSpace(reason); len(reason) > fault.MaxPlanReason {
		return nil, fault.Field("reason", fault.Clip(reason, 60), fmt.Sprintf("at most %d characters", fault.MaxPlanReason))
	}
	if err := o.MayEdit(ctx, kind, project); err != nil {
		return nil, err
	}
	if kind == record.Changes {
		edits = intake.AskedFor(access.ActorOf(ctx), edits)
	}
	if list := intake.TypedDecisions(kind, access.ActorOf(ctx), edits); list != nil {
		return nil, &Error{Problems: list}
	}
	return o.SaveTables(ctx, project, []TableEdit{{Kind: kind, Edits: edits}}, SaveAs{Reason: reason})
}

// TableEdit is what was changed in one table: of the project or node that is saved for, or of the holder where one is named.
type TableEdit struct {
	Kind   record.Kind
	Edits  []intake.Edited
	Holder string
}

// SaveAs is what is kept with a saved edit: why, the baseline that it sets, and what a project was before it.
type SaveAs struct {
	Reason   string
	Baseline *kept.BaselineFact
	Snapshot *kept.Snapshot
}

// SaveTables saves what was changed in several tables of a project at once, all or nothing.
func (o *Office) SaveTables(ctx context.Context, project string, tables []TableEdit, as SaveAs) (*intake.Receipt, error) {
	for i := range tables {
		t := &tables[i]
		t.Holder = cmp.Or(t.Holder, project)
		if err := o.MayEdit(ctx, t.Kind, t.Holder); err != nil {
			return nil, err
		}
	}
	for range 5 {
		head, err := o.store.Head(ctx)
		if err != nil {
			return nil, err
		}
		r, err := o.saveOnce(ctx, tables, as, head)
		if !errors.Is(err, ErrMoved) {
			return r, err
		}
	}
	return nil, fmt.Errorf("the table kept changing: %w", fault.ErrConflict)
}

// ErrMoved tells that something was loaded between reading and writing.
var ErrMoved = errors.New("moved on")

func (o *Office) saveOnce(ctx context.Context, tables []TableEdit, as SaveAs, head int64) (*intake.Receipt, error) {
	period, err := o.intake.PeriodFor(ctx)
	if err != nil {
		return nil, err
	}
	var files []*kept.File
	merges := map[string]*merge{} // by the names of the files
	for _, t := range tables {
		m, f, err := o.merged(ctx, t.Holder, t, period)
		if err != nil {
			return nil, err
		}
		if f != nil {
			files = append(files, f)
			merges[f.Name] = m
		}
	}
	if len(files) == 0 && as.Baseline == nil {
		return &intake.Receipt{}, nil
	}
	if err := o.intake.MayWrite(ctx, o.store, files); err != nil {
		return nil, err
	}
	if len(files) > 0 {
		if _, err := intake.Checked(ctx, o.store, files); err != nil {
			return nil, located(err, files, merges)
		}
	}
	actor := access.ActorOf(ctx)
	loads, err := o.intake.Save(ctx, kept.Batch{Files: files, Source: intake.TypedBy(actor), Author: actor.Name, At: o.now(),
		Period: period,
		Reason: as.Reason, Baseline: as.Baseline, Snapshot: as.Snapshot,
		Check: func(view kept.Reading) error {
			if h, err := view.Head(ctx); err != nil || h != head {
				return errors.Join(err, ErrMoved)
			}
			return nil
		}, Note: func(l kept.Load) kept.Entry {
			m := merges[l.File]
			before, after := m.audited()
			return o.audit.Entry(ctx, "edit", fmt.Sprintf("%s, load %d", strings.TrimSpace(l.Kind.Title()+" "+m.holder), l.ID), before,
				after)
		}})
	return &intake.Receipt{Files: files, Loads: loads}, err
}

// merged puts the edits of a table over what stands there; the file is nil where nothing changes by them.
func (o *Office) merged(ctx context.Context, project string, t TableEdit, period calendar.Period) (*merge, *kept.File, error) {
	now, err := GridOf(ctx, o.store, t.Kind, project)
	if err != nil {
		return nil, nil, err
	}
	m := newMerge(now, t.Edits)
	m.holder = project
	if len(m.fault.Clashes) > 0 || len(m.fault.Problems) > 0 {
		return nil, nil, m.fault
	}
	if !m.changed {
		return nil, nil, nil
	}
	if err := o.fresh(ctx, now, m.rows, period); err != nil {
		return nil, nil, err
	}
	f, problems := o.reader.With(now.own()).Typed(t.Kind, m.rows)
	f.Name = fmt.Sprintf("typed in: %s", strings.TrimSpace(t.Kind.Title()+" "+project))
	f.Recognised = "typed in"
	f.Digest, f.Size = m.digest()
	if len(problems) == 0 {
		problems = strangers(f, project)
	}
	if len(problems) > 0 {
		return nil, nil, m.located(problems)
	}
	return m, f, nil
}

// strangers are the rows of a project's table that name another project.
func strangers(f *kept.File, project string) []fault.Problem {
	var list []fault.Problem
	for i := range f.Len() {
		if code := f.OwnerOf(i); project != "" && code != project {
			column := "project"
			switch {
			case f.Kind == record.Projects:
				column = "code"
			case f.Kind.OfNodes() && f.Cell(i, "node") != "":
				column = "node"
			}
			list = append(list, fault.Problem{File: f.Name, Row: f.Row(i), Column: column, Value: code, Expected: project +
				", whose table this is"})
		}
	}
	return list
}

// located turns a refusal of typed rows back into what is wrong with the edits of the first table that has problems.
func located(err error, files []*kept.File, merges map[string]*merge) error {
	problems := fault.ProblemsIn(err)
	for _, f := range files {
		own := slices.DeleteFunc(slices.Clone(problems), func(p fault.Problem) bool { return p.File != f.Name })
		if len(own) > 0 {
			return merges[f.Name].located(own)
		}
	}
	return err
}

// merge puts edits over what is there now.
type merge struct {
	holder  string
	now     *Grid
	edits   []intake.Edited
	rows    [][]string // what the load will hold
	from    []int      // the edit of each of them, -1 for none
	fault   *Error
	changed bool
	key     []int
}

func newMerge(now *Grid, edits []intake.Edited) *merge {
	edits = fitted(edits, len(now.Input.Columns))
	m := &merge{now: now, edits: edits, fault: &Error{Current: map[int][]string{}}, key: intake.KeyColumns(now.Input)}
	at := map[string]int{}
	for i, r := range now.Rows {
		at[intake.KeyOf(r, m.key)] = i
	}
	result := make([][]string, len(now.Rows))
	copy(result, now.Rows)
	from := make([]int, len(now.Rows))
	touched := make([]bool, len(now.Rows))
	for i := range from {
		from[i] = -1
	}
	for e, edit := range edits {
		if edit.Old == nil {
			if edit.New != nil {
				m.changed = true
				result, from, touched = append(result, edit.New), append(from, e), append(touched, true)
			}
			continue
		}
		i, ok := at[intake.KeyOf(edit.Old, m.key)]
		if !ok {
			if edit.New != nil && !slices.Equal(edit.Old, edit.New) {
				m.fault.Clashes = append(m.fault.Clashes, Clash{Index: e, Column: now.Input.Columns[m.key[0]].Name,
					Yours: intake.KeyText(edit.New, m.key), Theirs: "the row was taken away"})
			}
			continue
		}
		from[i] = e
		row, hit := m.cells(e, edit, now.Rows[i])
		touched[i] = hit
		m.changed = m.changed || hit
		result[i] = row
	}
	m.collect(result, from, touched)
	return m
}

// fitted are edits with as many cells as the table has columns.
func fitted(edits []intake.Edited, width int) []intake.Edited {
	fit := func(cells []string) []string {
		if cells == nil || len(cells) == width {
			return cells
		}
		row := make([]string, width)
		copy(row, cells)
		return row
	}
	list := slices.Clone(edits)
	for i := range list {
		list[i].Old, list[i].New = fit(list[i].Old), fit(list[i].New)
	}
	return list
}

// cells merges one row; the result is nil for a row taken away.
func (m *merge) cells(e int, edit intake.Edited, now []string) ([]string, bool) {
	if edit.New == nil {
		if !slices.Equal(edit.Old, now) {
			m.clash(e, 0, "taken away", intake.KeyText(now, m.key)+" was changed", now)
		}
		return nil, true
	}
	row := slices.Clone(now)
	hit := false
	for i := range row {
		yours, was, theirs := edit.New[i], edit.Old[i], now[i]
		switch {
		case yours == was || yours == theirs:
		case theirs == was:
			row[i], hit = yours, true
		default:
			m.clash(e, i, yours, theirs, now)
		}
	}
	return row, hit
}

func (m *merge) clash(e, column int, yours, theirs string, now []string) {
	m.fault.Clashes = append(m.fault.Clashes, Clash{Index: e, Column: m.now.Input.Columns[column].Name, Yours: yours, Theirs: theirs})
	m.fault.Current[e] = now
}

// collect picks what a load of the kind must hold: the whole of a project's revision or of a calendar, else only what changed.
func (m *merge) collect(result [][]string, from []int, touched []bool) {
	calendars := map[string]bool{}
	for i, r := range result {
		if touched[i] && r != nil {
			calendars[r[0]] = true
		}
		if touched[i] && r == nil {
			calendars[m.now.Rows[i][0]] = true
			if !m.now.Kind.IsRevision() && m.now.Kind != record.Calendars {
				m.fault.Problems = append(m.fault.Problems, fault.Problem{Row: int32(from[i]), Column: m.now.Input.Columns[0].Name,
					Value: m.now.Rows[i][0], Expected: "a row that stays; close it, or withdraw the load that brought it"})
			}
		}
	}
	for i, r := range result {
		whole := m.now.Kind.IsRevision() || m.now.Kind == record.Calendars && calendars[first(r)]
		if r != nil && (whole || touched[i]) {
			m.rows, m.from = append(m.rows, r), append(m.from, from[i])
		}
	}
	if m.changed && len(m.rows) == 0 {
		m.fault.Problems = append(m.fault.Problems, fault.Problem{Expected: "at least one row left; an empty table cannot be told " +
			"from one " +
			"that was never sent"})
	}
}

func first(r []string) string {
	if r == nil {
		return ""
	}
	return r[0]
}

// located turns rows of the load back into indexes of edits.
func (m *merge) located(problems []fault.Problem) *Error {
	e := &Error{}
	for _, p := range problems {
		i := int(p.Row) - 2
		p.Row = -1
		if i >= 0 && i < len(m.from) {
			p.Row = int32(m.from[i])
		}
		e.Problems = append(e.Problems, p)
	}
	return e
}

func (m *merge) digest() (string, int64) { return DigestRows(m.rows) }

// DigestRows is a digest and the size of rows.
func DigestRows(rows [][]string) (string, int64) {
	b, _ := json.Marshal(rows)
	sum := sha256.Sum256(b)
	return hex.EncodeToString(sum[:]), int64(len(b))
}

// audited lists the cells that changed, before and after, by key and column.
func (m *merge) audited() (string, string) {
	before, after := map[string]string{}, map[string]string{}
	for _, e := range m.edits {
		row := e.Old
		if row == nil {
			row = e.New
		}
		if row == nil || slices.Equal(e.Old, e.New) {
			continue
		}
		for i, c := range m.now.Input.Columns {
			was, is := intake.CellOf(e.Old, i), intake.CellOf(e.New, i)
			if was != is {
				key := intake.KeyText(row, m.key) + " " + c.Name
				before[key], after[key] = was, is
			}
		}
	}
	b, a, _ := setting.Both(before, after)
	return b, a
}

// Editable lists the kinds whose tables the one who asks may edit for a project, those of no project where it is empty.
func (o *Office) Editable(ctx context.Context, project string) ([]record.Kind, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil || !actor.May(access.Send) {
		return nil, err
	}
	b, err := o.intake.Allowed(ctx, o.store, actor)
	if err != nil {
		return nil, err
	}
	var list []record.Kind
	for _, k := range append(record.Tables(), record.Actuals) {
		if (project != "") == k.OfProject() && mayEdit(b, k, project) == nil {
			list = append(list, k)
		}
	}
	return list, nil
}

// TemplateOf returns what a template is filled with: the present rows of a project, none where no project is named, and what
// may be chosen in its columns.
func (o *Office) TemplateOf(ctx context.Context, kind record.Kind, project string) ([][]string, map[string][]string, error) {
	if kind.IsRevision() && project != "" {
		g, err := o.Grid(ctx, kind, project)
		if err != nil {
			return nil, nil, err
		}
		g.Choices["project"] = []string{project}
		if g.Node {
			g.Choices["project"], g.Choices["node"] = nil, []string{project}
		}
		return g.Rows, g.Choices, nil
	}
	if _, err := access.Permit(ctx, access.Send); err != nil {
		return nil, nil, err
	}
	m, err := o.store.Masters(ctx)
	if err != nil {
		return nil, nil, err
	}
	sees, err := o.CodesSeen(ctx)
	if err != nil {
		return nil, nil, err
	}
	choices := map[string][]string{}
	for _, c := range kind.InputWith(m.Own).Columns {
		if list := ChoicesOf(c, m); list != nil && len(c.Choices) == 0 {
			choices[c.Name] = Choosable(c, list, sees)
		}
	}
	return nil, choices, nil
}
