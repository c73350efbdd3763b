package draft

import (
	"context"
	"fmt"
	"slices"
	"sort"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/record"
)

// Trouble is one thing that is wrong with a draft, however many rows it concerns, with the first of them as it came.
type Trouble struct {
	fault.Problem
	Sheet int // index of the draft's sheet, -1 for none
	Rows  []int32
	Heads []string // with Cells: the surroundings of the first row
	Cells []string
	At    int // index of the cell, -1 where the row as a whole is meant
}

// maxTroubles is how many different things are shown; a file with more has one cause behind them.
const maxTroubles = 60

// Troubles gathers problems that are the same, in the order in which they first come, with their surroundings.
func (o *Office) Troubles(ctx context.Context, d *Draft, problems []fault.Problem) ([]Trouble, error) {
	if _, err := access.Permit(ctx, access.Send); err != nil {
		return nil, err
	}
	sheets := map[string]int{}
	for i := range d.Sheets {
		sheets[d.Sheets[i].Sheet.Title()] = i
	}
	by := map[fault.Problem]int{}
	var list []Trouble
	for _, p := range problems {
		key := p
		key.Row = 0
		if i, ok := by[key]; ok {
			list[i].Rows = append(list[i].Rows, p.Row)
			continue
		}
		if len(list) == maxTroubles {
			continue
		}
		at, ok := sheets[p.File]
		if !ok {
			at = -1
		}
		by[key] = len(list)
		list = append(list, Trouble{Problem: p, Sheet: at, Rows: []int32{p.Row}, At: -1})
	}
	return list, surround(o.reader, o.desk, d, list)
}

func surround(reader intake.Reader, desk Drafts, d *Draft, list []Trouble) error {
	for i := range d.Sheets {
		wanted := map[int32]bool{}
		for _, t := range list {
			if t.Sheet == i && t.Row > 0 {
				wanted[t.Row] = true
			}
		}
		if len(wanted) == 0 {
			continue
		}
		s := &d.Sheets[i]
		rows, err := reader.Surroundings(desk.Path(d, s.File), d.Files[s.File].Name, s.Sheet.Name, s.Sheet.Mapping, wanted)
		if err != nil {
			return err
		}
		for j := range list {
			if list[j].Sheet == i {
				list[j].surround(rows, &s.Sheet.Mapping)
			}
		}
	}
	return nil
}

func (t *Trouble) surround(rows map[int32][]string, m *intake.Mapping) {
	t.Heads, t.Cells = rows[0], rows[t.Row]
	for i, h := range t.Heads {
		if m.Columns[intake.Plain(h)] == t.Column || intake.Plain(h) == intake.Plain(t.Column) {
			t.At = i
			break
		}
	}
}

// Unknown is a value that no meaning is known of, in one column or in several that may hold the same.
type Unknown struct {
	Sheet   int
	Columns []record.Column
	Value   string
	Count   int
	Choices []string // what it may mean, where that can be listed
}

// Rare reports whether a value is likely a slip in one row rather than a word that its sender uses: it is no word out of a list.
func (u *Unknown) Rare() bool {
	return u.Count == 1 && !slices.ContainsFunc(u.Columns, func(c record.Column) bool { return len(c.Choices) > 0 })
}

// sharedBy reports whether a cell of the sheet says the same, in any case of letters, and may mean the same.
func (u *Unknown) sharedBy(t Trouble, c record.Column, choices []string) bool {
	own := u.Columns[0]
	return u.Sheet == t.Sheet && intake.Plain(u.Value) == intake.Plain(t.Value) && own.Cell == c.Cell && own.Refers == c.Refers &&
		slices.Equal(u.Choices, choices)
}

// Unknowns lists the values that a mapping could give a meaning, the most frequent first.
func (o *Office) Unknowns(ctx context.Context, d *Draft, troubles []Trouble) ([]Unknown, error) {
	m, err := o.store.Masters(ctx)
	if err != nil {
		return nil, err
	}
	sees, err := o.edit.CodesSeen(ctx)
	if err != nil {
		return nil, err
	}
	var list []Unknown
	for _, t := range troubles {
		if t.Sheet < 0 || t.Value == "" || len(t.Value) > 200 || strings.HasPrefix(t.Expected, intake.OnceOnlyText) {
			continue
		}
		in := d.Sheets[t.Sheet].Sheet.Input()
		if in == nil {
			continue
		}
		c, ok := in.Column(t.Column)
		if !ok || c.Cell == record.Text || c.Cell == record.Day || c.Cell == record.Month || c.Cell == record.Code && c.Refers == "" {
			continue
		}
		choices := edit.Choosable(c, edit.ChoicesOf(c, m), sees)
		i := slices.IndexFunc(list, func(u Unknown) bool { return u.sharedBy(t, c, choices) })
		if i < 0 {
			list = append(list, Unknown{t.Sheet, []record.Column{c}, t.Value, len(t.Rows), choices})
			continue
		}
		list[i].Count += len(t.Rows)
		if !slices.ContainsFunc(list[i].Columns, func(x record.Column) bool { return x.Name == c.Name }) {
			list[i].Columns = append(list[i].Columns, c)
		}
	}
	sort.SliceStable(list, func(i, j int) bool { return list[i].Count > list[j].Count })
	return list, nil
}

// ProblemsOf reads a draft and lists what is wrong with it, for downloading.
func (o *Office) ProblemsOf(ctx context.Context, id string) (*Draft, []fault.Problem, error) {
	d, t, done, err := inTurn(ctx, o, id)
	defer done()
	if err != nil {
		return nil, nil, err
	}
	list := t.Problems
	if len(t.Files) > 0 {
		_, err := intake.Checked(ctx, o.store, t.Files)
		list = append(list, fault.ProblemsIn(err)...)
		if err != nil && len(fault.ProblemsIn(err)) == 0 {
			return nil, nil, err
		}
	}
	return d, list, nil
}

// Corrected writes a sheet of a draft again for its sender to mend.
func (o *Office) Corrected(ctx context.Context, id string, sheet int) (name string, workbook []byte, err error) {
	d, problems, err := o.ProblemsOf(ctx, id)
	if err != nil {
		return "", nil, err
	}
	if sheet < 0 || sheet >= len(d.Sheets) {
		return "", nil, fmt.Errorf("sheet %d: %w", sheet, fault.ErrNotFound)
	}
	s := &d.Sheets[sheet]
	own := problems[:0]
	for _, p := range problems {
		if p.File == s.Sheet.Title() {
			own = append(own, p)
		}
	}
	workbook, err = o.reader.Corrected(o.desk.Path(d, s.File), d.Files[s.File].Name, s.Sheet.Name, s.Sheet.Mapping, own)
	return s.Sheet.Title(), workbook, err
}
