package ingest

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"github.com/xuri/excelize/v2"

	"turret/internal/app/fault"
	"turret/internal/app/intake"
)

// Corrected writes a sheet again as a workbook for its sender to mend: the rows as they came, the cells with problems
// marked, and a last column that says what was expected. That column is ignored when the file comes back.
func (Reader) Corrected(path, name, sheet string, m intake.Mapping, problems []fault.Problem) ([]byte, error) {
	n, done, err := find(path, name, sheet)
	if err != nil {
		return nil, err
	}
	defer done()
	d := m.Dialect
	if _, _, err := n.part.sample(&d); err != nil {
		return nil, err
	}
	t, err := n.part.rows(d)
	if err != nil {
		return nil, err
	}
	defer func() { _ = t.close() }()
	book := excelize.NewFile()
	defer book.Close()
	w, err := newMarked(book, m, problems)
	if err != nil {
		return nil, err
	}
	for {
		row, cells, err := t.next()
		if errors.Is(err, io.EOF) {
			break
		}
		if _, ok := asProblem(err); ok {
			break // what could be read is there
		}
		if err != nil {
			return nil, err
		}
		if err := w.write(row, cells); err != nil {
			return nil, err
		}
	}
	if err := w.out.Flush(); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	err = book.Write(&b)
	return b.Bytes(), err
}

type marked struct {
	out   *excelize.StreamWriter
	mark  int
	bold  int
	m     intake.Mapping
	by    map[int32][]fault.Problem
	names []string
	last  int32
	width int
}

func newMarked(book *excelize.File, m intake.Mapping, problems []fault.Problem) (*marked, error) {
	out, err := book.NewStreamWriter("Sheet1")
	if err != nil {
		return nil, err
	}
	w := &marked{out: out, m: m, by: map[int32][]fault.Problem{}}
	if w.mark, err = book.NewStyle(&excelize.Style{Fill: excelize.Fill{Type: "pattern", Pattern: 1,
		Color: []string{"F3D9A0"}}}); err != nil {
		return nil, err
	}
	if w.bold, err = book.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}}); err != nil {
		return nil, err
	}
	for _, p := range problems {
		w.by[p.Row] = append(w.by[p.Row], p)
	}
	return w, nil
}

func (w *marked) write(row int32, cells []string) error {
	if row <= w.last {
		return nil
	}
	if row > excelize.TotalRows {
		return fmt.Errorf("the file goes on beyond row %d, which is the last that a workbook has; the list of problems as CSV has "+
			"them all: %w", excelize.TotalRows, fault.ErrTooLarge)
	}
	w.last = row
	out := make([]any, len(cells), len(cells)+1)
	for i, c := range cells {
		out[i] = c
	}
	if w.names == nil && row >= w.m.Dialect.HeadRow {
		w.names = headNames(cells)
		w.width = len(cells)
		for i := range out {
			out[i] = excelize.Cell{StyleID: w.bold, Value: cells[i]}
		}
		out = append(out, excelize.Cell{StyleID: w.bold, Value: "Turret expected"})
	} else if list := w.by[row]; len(list) > 0 {
		out = w.noted(out, list)
	}
	at, err := excelize.CoordinatesToCellName(1, int(row))
	if err != nil {
		return err
	}
	return w.out.SetRow(at, out)
}

// noted marks the cells with problems and says in the last column what was expected.
func (w *marked) noted(out []any, list []fault.Problem) []any {
	for len(out) < w.width {
		out = append(out, "")
	}
	var words []string
	for _, p := range list {
		i := slices.IndexFunc(w.names, func(n string) bool { return w.m.Columns[n] == p.Column || n == intake.Plain(p.Column) })
		if i >= 0 && i < len(out) {
			if _, done := out[i].(excelize.Cell); !done {
				out[i] = excelize.Cell{StyleID: w.mark, Value: out[i]}
			}
		}
		words = append(words, strings.TrimSpace(fmt.Sprintf("%s: %s", p.Column, p.Expected)))
	}
	return append(out, excelize.Cell{StyleID: w.mark, Value: strings.Join(words, "; ")})
}
