package draft

import (
	"context"
	"errors"
	"fmt"
	"io"
	"slices"
	"sort"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Draft is a set of files on their way in: received, being mapped, not yet loaded.
type Draft struct {
	ID      string
	Owner   int64 // account
	Author  string
	Source  string
	MadeAt  time.Time
	Period  calendar.Period
	Files   []File
	Sheets  []Sheet
	Loads   []int64 // once loaded
	Refused bool    // the last try was refused
}

// File is a received file; Name is as sent and never used as a path.
type File struct {
	Name string
	Size int64
}

// Sheet is a sheet of a file with the mapping chosen for it.
type Sheet struct {
	File  int
	Sheet intake.Sheet
}

// Drafts keeps received files until they are loaded or discarded.
type Drafts interface {
	// New makes a draft; ids cannot be guessed.
	New() (*Draft, error)
	// Add keeps a file of the draft as it is read; a size beyond the limit is an error wrapping ErrTooLarge.
	Add(d *Draft, name string, r io.Reader) error
	// Path is where a file of the draft lies.
	Path(d *Draft, file int) string
	Save(d *Draft) error
	// Get finds a draft, or returns an error wrapping ErrNotFound.
	Get(id string) (*Draft, error)
	List() ([]*Draft, error)
	Discard(id string) error
}

// Upload is one file as it comes in.
type Upload struct {
	Name string
	Body io.Reader
}

// Receive keeps files in a new draft and recognises what they are. next returns io.EOF after the last file.
func (o *Office) Receive(ctx context.Context, source string, period calendar.Period, next func() (*Upload, error)) (*Draft, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return nil, err
	}
	if err := o.setting.OfCycle(ctx, period); err != nil {
		return nil, err
	}
	d, err := o.desk.New()
	if err != nil {
		return nil, err
	}
	d.Owner, d.Author, d.MadeAt, d.Period = actor.Account, actor.Name, o.now(), period
	d.Source = senderFor(actor, source)
	if err := o.receive(ctx, d, next); err != nil {
		_ = o.desk.Discard(d.ID)
		return nil, err
	}
	return d, o.desk.Save(d)
}

func (o *Office) receive(ctx context.Context, d *Draft, next func() (*Upload, error)) error {
	for {
		up, err := next()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return err
		}
		if err := o.desk.Add(d, up.Name, up.Body); err != nil {
			return err
		}
	}
	if len(d.Files) == 0 {
		return fault.Field("files", "", "at least one file, or pasted cells")
	}
	done, err := o.turns.Wait(ctx)
	if err != nil {
		return err
	}
	defer done()
	return o.recognise(ctx, d)
}

// knowing is a reader that knows the columns which the office has by now.
func knowing(ctx context.Context, o *Office) (intake.Reader, error) {
	own, err := o.intake.Own(ctx)
	return o.reader.With(own), err
}

// recognise looks at every file afresh, with what is remembered of the source.
func (o *Office) recognise(ctx context.Context, d *Draft) error {
	settings, err := o.setting.Now(ctx)
	if err != nil {
		return err
	}
	reader, err := knowing(ctx, o)
	if err != nil {
		return err
	}
	var remembered []intake.Mapping
	if d.Source != "" {
		if remembered, err = o.Remembered(ctx, d.Source); err != nil {
			return err
		}
	}
	d.Sheets = nil
	for i, f := range d.Files {
		sheets, err := reader.Sheets(o.desk.Path(d, i), f.Name, remembered, settings)
		if err != nil {
			return err
		}
		for _, s := range sheets {
			d.Sheets = append(d.Sheets, Sheet{i, s})
		}
	}
	return nil
}

// Get finds a draft of the one who asks; analysts and administrators without a scope see everybody's.
func (o *Office) Get(ctx context.Context, id string) (*Draft, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return nil, err
	}
	d, err := o.desk.Get(id)
	if err == nil && !d.seenBy(actor) {
		return nil, fmt.Errorf("draft: %w", fault.ErrNotFound)
	}
	return d, err
}

// seenBy reports whether a draft is the actor's, or anybody's who sees everything.
func (d *Draft) seenBy(a *access.Actor) bool {
	return d.Owner == a.Account || a.May(access.ReadLoads) && a.Unbounded()
}

// List lists the drafts that the one who asks may go on with, newest first.
func (o *Office) List(ctx context.Context) ([]*Draft, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return nil, err
	}
	list, err := o.desk.List()
	list = slices.DeleteFunc(list, func(d *Draft) bool { return len(d.Loads) > 0 || !d.seenBy(actor) })
	sort.Slice(list, func(i, j int) bool { return list[i].MadeAt.After(list[j].MadeAt) })
	return list, err
}

// Remap replaces source, period and the mappings of the sheets, in their order.
func (o *Office) Remap(ctx context.Context, id, source string, period calendar.Period, mappings []intake.Mapping) (*Draft, error) {
	d, err := o.Get(ctx, id)
	if err != nil {
		return nil, err
	}
	if len(d.Loads) > 0 {
		return nil, fmt.Errorf("the draft is loaded already: %w", fault.ErrConflict)
	}
	done, err := o.turns.Wait(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	if err := o.setting.OfCycle(ctx, period); err != nil {
		return nil, err
	}
	source = senderFor(access.ActorOf(ctx), source)
	if source != d.Source && source != "" {
		list, err := o.Remembered(ctx, source)
		if err != nil {
			return nil, err
		}
		d.Source = source
		if len(list) > 0 { // what is remembered of the new source goes before what was chosen
			if err := o.recognise(ctx, d); err != nil {
				return nil, err
			}
			return d, o.desk.Save(d)
		}
	}
	d.Source, d.Period = source, period
	settings, err := o.setting.Now(ctx)
	if err != nil {
		return nil, err
	}
	reader, err := knowing(ctx, o)
	if err != nil {
		return nil, err
	}
	for i := range d.Sheets {
		if i >= len(mappings) {
			break
		}
		if err := o.remapSheet(d, i, mappings[i], reader, settings); err != nil {
			return nil, err
		}
	}
	return d, o.desk.Save(d)
}

// remapSheet takes a mapping for a sheet; where its dialect changed, the sheet is looked at again.
func (o *Office) remapSheet(d *Draft, i int, m intake.Mapping, reader intake.Reader, settings *setting.Settings) error {
	s := &d.Sheets[i]
	old := s.Sheet.Mapping
	s.Sheet.Mapping = m
	if m.Dialect == old.Dialect && m.Kind == old.Kind {
		s.Sheet.Mapping.Heads = old.Heads
		return nil
	}
	again, err := reader.Look(o.desk.Path(d, s.File), d.Files[s.File].Name, s.Sheet.Name, m, settings)
	if err != nil {
		return err
	}
	if again.Problem == nil && m.Kind == old.Kind { // heads that are still there keep their columns
		for _, h := range again.Mapping.Heads {
			if c, ok := m.Columns[h]; ok {
				again.Mapping.Columns[h] = c
			}
		}
		again.Mapping.Factors, again.Mapping.Values = m.Factors, m.Values
	}
	again.Mapping.Skip, again.Mapping.LeaveOut, again.Mapping.Fixed = m.Skip, m.LeaveOut, m.Fixed
	again.Mapping.Once, again.Mapping.Cells, again.Mapping.Without = m.Once, m.Cells, m.Without
	again.Held = s.Sheet.Held
	again.Found.Kind, again.Found.Dialect = s.Sheet.Found.Kind, s.Sheet.Found.Dialect
	s.Sheet = *again
	return nil
}

// Discard throws a draft away.
func (o *Office) Discard(ctx context.Context, id string) error {
	if _, err := o.Get(ctx, id); err != nil {
		return err
	}
	return o.desk.Discard(id)
}

// Taken is a draft's files as read.
type Taken struct {
	Files    []*kept.File
	Sheets   []int // the sheet of each file
	Problems []fault.Problem
	Warnings []fault.Problem
	Notes    []string // what is worth knowing of how they were read
}

// lacking lists the columns that a mapping fills from nothing.
func lacking(s *intake.Sheet) []string {
	m, months := &s.Mapping, len(s.Months) > 0
	has := map[string]bool{}
	for _, c := range m.Columns {
		has[c] = true
	}
	var list []string
	for _, c := range s.Input().Columns {
		if _, fixed := m.Fixed[c.Name]; !has[c.Name] && !fixed && !(months && (c.Name == "month" || c.Name == "amount")) {
			list = append(list, c.Name)
		}
	}
	return list
}

// keep fills the columns that a file lacks with the present cells of rows that are there already, and says which; where the columns are to
// be emptied instead, it says what that takes away.
func (o *Office) keep(ctx context.Context, f *kept.File, s *intake.Sheet) ([]fault.Problem, error) {
	lacking := slices.DeleteFunc(lacking(s), func(name string) bool {
		return slices.Contains(intake.OfItsPeriod[f.Kind], name)
	})
	if f.Kind.Adds() || len(lacking) == 0 || f.Len() == 0 {
		return nil, nil
	}
	in := f.Input()
	at := intake.KeyColumns(in)
	if f.Kind.IsRevision() {
		at = slices.DeleteFunc(at, func(i int) bool { return slices.Contains(lacking, in.Columns[i].Name) })
	} else { // what tells a row from the others is as the file has it, or as an empty cell says
		lacking = slices.DeleteFunc(lacking, func(name string) bool { return slices.Contains(in.Key, name) })
	}
	now, err := o.present(ctx, f, at)
	if err != nil || len(now) == 0 {
		return nil, err
	}
	rows := make([][]string, f.Len())
	lost := map[string]int{}
	for i := range rows {
		rows[i] = f.Cells(i)
		had := now[intake.KeyOf(rows[i], at)]
		for j, c := range in.Columns {
			if had != nil && had[j] != "" && slices.Contains(lacking, c.Name) && rows[i][j] != had[j] {
				lost[c.Name]++
				rows[i][j] = had[j]
			}
		}
	}
	if len(lost) == 0 {
		return nil, nil
	}
	words := make([]string, 0, len(lost))
	for _, c := range in.Columns {
		if lost[c.Name] > 0 {
			words = append(words, fmt.Sprintf("%s (%s)", write.Within(c.Head()), write.Count(lost[c.Name], "row", "rows")))
		}
	}
	if s.Mapping.Clear {
		for i := range f.Projects {
			f.Projects[i].EmptyOwn(lacking)
		}
		return []fault.Problem{{File: f.Name, Expected: "the columns that stood filled so far; as was chosen, these become empty: " +
			strings.Join(words, ", ")}}, nil
	}
	filled, problems := o.reader.With(f.Own).Typed(f.Kind, rows)
	if len(problems) > 0 {
		return nil, &fault.Refusal{Problems: problems}
	}
	take(f, filled)
	f.Recognised += ", kept from what stood before: " + strings.Join(words, ", ")
	return []fault.Problem{{File: f.Name, Expected: "nothing more; columns that it lacks keep what stood: " + strings.Join(words, ", ") +
		". Choose to empty them, if that is not meant"}}, nil
}

// present are the current rows of the kind and projects of a file, by the key columns at those places; of rows with the same key none is
// known again.
func (o *Office) present(ctx context.Context, f *kept.File, at []int) (map[string][]string, error) {
	which := kept.Selection{}
	if f.Kind.OfProject() {
		m, err := o.store.Masters(ctx)
		if err != nil {
			return nil, err
		}
		named := f.OwnersOf()
		for _, code := range named {
			if id := m.Holder(code); id != 0 {
				which.Projects = append(which.Projects, id)
			}
		}
		if len(which.Projects) == 0 {
			return nil, nil
		}
	}
	old, err := o.store.Rows(ctx, f.Kind, which)
	if err != nil {
		return nil, err
	}
	by := make(map[string][]string, old.Len())
	for i := range old.Len() {
		cells := old.Cells(i)
		if _, twice := by[intake.KeyOf(cells, at)]; twice {
			cells = nil
		}
		by[intake.KeyOf(old.Cells(i), at)] = cells
	}
	return by, nil
}

// take puts rows as filled in the place of those of a file, with the numbers that they have there.
func take(f, filled *kept.File) {
	for i := range f.Lines {
		filled.Lines[i].Row, filled.Lines[i].Part = f.Lines[i].Row, f.Lines[i].Part
	}
	renumber(f.Nodes, filled.Nodes, func(x *kept.NodeRow) *int32 { return &x.Row })
	renumber(f.Projects, filled.Projects, func(x *kept.ProjectRow) *int32 { return &x.Row })
	renumber(f.Calendars, filled.Calendars, func(x *kept.CalendarRow) *int32 { return &x.Row })
	renumber(f.Activities, filled.Activities, func(x *kept.ActivityRow) *int32 { return &x.Row })
	renumber(f.Links, filled.Links, func(x *kept.LinkRow) *int32 { return &x.Row })
	renumber(f.CostCodes, filled.CostCodes, func(x *kept.CostCodeRow) *int32 { return &x.Row })
	renumber(f.Statuses, filled.Statuses, func(x *kept.StatusRow) *int32 { return &x.Row })
	renumber(f.Rates, filled.Rates, func(x *kept.RateRow) *int32 { return &x.Row })
	renumber(f.Records, filled.Records, func(x *kept.RecordRow) *int32 { return &x.Row })
	f.Nodes, f.Projects, f.Calendars = filled.Nodes, filled.Projects, filled.Calendars
	f.Activities, f.Links = filled.Activities, filled.Links
	f.CostCodes, f.Lines, f.Statuses, f.Rates, f.Records = filled.CostCodes, filled.Lines, filled.Statuses, filled.Rates, filled.Records
}

// renumber gives rows the numbers of others.
func renumber[T any](from, to []T, row func(*T) *int32) {
	for i := range from {
		*row(&to[i]) = *row(&from[i])
	}
}

// Read reads all sheets of a draft that are not skipped, in an order that resolves.
func (o *Office) Read(ctx context.Context, d *Draft) (*Taken, error) {
	t := &Taken{}
	order := record.Kinds()
	index := make([]int, 0, len(d.Sheets))
	for i, s := range d.Sheets {
		switch {
		case s.Sheet.Mapping.Skip:
		case s.Sheet.Problem != nil:
			t.Problems = append(t.Problems, *s.Sheet.Problem)
		case s.Sheet.Mapping.Kind == "":
			t.Problems = append(t.Problems, fault.Problem{File: s.Sheet.Title(), Expected: "a kind chosen for it, or that it is left out"})
		default:
			index = append(index, i)
		}
	}
	reader, err := knowing(ctx, o)
	if err != nil {
		return nil, err
	}
	sort.SliceStable(index, func(a, b int) bool {
		return slices.Index(order, d.Sheets[index[a]].Sheet.Mapping.Kind) < slices.Index(order, d.Sheets[index[b]].Sheet.Mapping.Kind)
	})
	for _, i := range index {
		s := &d.Sheets[i]
		f, problems, err := reader.Read(o.desk.Path(d, s.File), d.Files[s.File].Name, s.Sheet.Name, s.Sheet.Mapping)
		if err != nil {
			return nil, err
		}
		t.Problems = append(t.Problems, problems...)
		for _, x := range f.Remarks {
			if x.Odd {
				t.Warnings = append(t.Warnings, fault.Problem{File: f.Name, Row: x.Row, Expected: "totals that agree; " + x.Says})
			} else {
				t.Notes = append(t.Notes, f.Name+": "+x.Says)
			}
		}
		if len(problems) == 0 {
			warnings, err := o.keep(ctx, f, &s.Sheet)
			t.Problems = append(t.Problems, fault.ProblemsIn(err)...)
			if err != nil && fault.ProblemsIn(err) == nil {
				return nil, err
			}
			t.Warnings = append(t.Warnings, warnings...)
		}
		t.Files, t.Sheets = append(t.Files, f), append(t.Sheets, i)
	}
	if len(index) == 0 && len(t.Problems) == 0 {
		t.Problems = append(t.Problems, fault.Problem{File: "the draft", Expected: "at least one sheet that is not left out"})
	}
	return t, nil
}

// Sources lists who has sent files so far, as far as the one who asks may name them: a lead themselves, others with a part of the office
// those whose files they gave a meaning.
func (o *Office) Sources(ctx context.Context) ([]string, error) {
	actor, err := access.Permit(ctx, access.Send)
	switch {
	case err != nil:
		return nil, err
	case actor.Role == access.Lead:
		return []string{actor.Name}, nil
	}
	return o.store.Sources(ctx, meaningsOwner(actor))
}
