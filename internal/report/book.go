package report

import (
	"fmt"
	"io"
	"strings"

	"github.com/xuri/excelize/v2"

	"turret/internal/app/report"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/workbook"
)

// Book writes a report as a workbook: a sheet for each section, or for each table of one that has several, with real numbers and dates,
// a filter, and totals that are formulas over what the filter leaves.
func Book(w io.Writer, c *report.Content) error {
	d := compose(c)
	book := excelize.NewFile()
	defer book.Close()
	b := &workbookOf{book: book, doc: d, names: map[string]bool{}}
	for i := range d.Sections {
		s := &d.Sections[i]
		tables := s.tables()
		for _, t := range tables {
			name := s.Title
			if len(tables) > 1 && t.Name != "" && t.Name != s.Title {
				name = s.Title + " " + t.Name
			}
			if err := b.sheet(name, t); err != nil {
				return fmt.Errorf("sheet %s: %w", name, err)
			}
		}
		if len(tables) == 0 {
			if err := b.texts(s); err != nil {
				return err
			}
		}
	}
	if len(b.names) == 0 {
		if err := b.texts(&section{Title: d.Title, Blocks: []block{small{"This report has no sections yet."}}}); err != nil {
			return err
		}
	}
	if err := book.SetDocProps(&excelize.DocProperties{Title: d.Title, Subject: d.Name, Description: d.Footer,
		Keywords: d.Stamp}); err != nil {
		return err
	}
	return book.Write(w)
}

// Sheets of a table have their heads in this row, below what they are about.
const headRow = 3

type workbookOf struct {
	book  *excelize.File
	doc   *document
	names map[string]bool
}

// open makes a sheet of a name that is free and allowed.
func (b *workbookOf) open(title string) (*workbook.Sheet, string, error) {
	stem := strings.Map(func(r rune) rune {
		if strings.ContainsRune(`:\/?*[]'`, r) {
			return '-'
		}
		return r
	}, title)
	name := workbook.Cut(stem, 31)
	for n := 2; b.names[strings.ToLower(name)]; n++ {
		name = workbook.Cut(stem, 27) + fmt.Sprintf(" (%d)", n)
	}
	first := len(b.names) == 0
	b.names[strings.ToLower(name)] = true
	if first {
		if err := b.book.SetSheetName("Sheet1", name); err != nil {
			return nil, "", err
		}
	} else if _, err := b.book.NewSheet(name); err != nil {
		return nil, "", err
	}
	s := workbook.NewSheet(b.book, name, b.doc.Currency)
	return s, name, s.Err
}

func (b *workbookOf) about(s *workbook.Sheet, title string) {
	s.Line(excelize.Cell{StyleID: s.Bold, Value: title + " · " + b.doc.Name})
	s.Line(b.doc.About + ", in " + string(b.doc.Currency))
}

func (b *workbookOf) texts(sec *section) error {
	s, _, err := b.open(sec.Title)
	if err != nil {
		return err
	}
	s.Width(1, 1, 110)
	b.about(s, sec.Title)
	for _, x := range sec.Blocks {
		switch x := x.(type) {
		case lead:
			s.Line(x.Text)
		case small:
			s.Line(x.Text)
		}
	}
	return s.Done()
}

func (b *workbookOf) sheet(title string, t *table) error {
	s, name, err := b.open(title)
	if err != nil {
		return err
	}
	for i, k := range t.Columns {
		s.Width(i+1, i+1, min(max(k.Width/5.5, 11), 60))
	}
	s.Freeze(1, headRow)
	b.about(s, title)
	heads := make([]string, len(t.Columns))
	for i, k := range t.Columns {
		heads[i] = k.Head
	}
	s.Heads(heads...)
	group, first, last := headRow+1, headRow+1, headRow
	for i := range t.Rows {
		r := &t.Rows[i]
		if r.Group {
			group = s.Row + 1
		}
		from := group
		if i == len(t.Rows)-1 {
			from = first
		}
		cells := make([]any, len(r.Cells))
		for k := range r.Cells {
			cells[k] = b.cell(s, r, t, k, from)
		}
		s.Line(cells...)
		if !r.Total {
			last = s.Row - 1
		}
	}
	if err := s.Done(); err != nil || last < first {
		return err
	}
	return b.book.AutoFilter(name, fmt.Sprintf("A%d:%s%d", headRow, workbook.ColumnName(len(heads)), last), nil)
}

func (b *workbookOf) cell(s *workbook.Sheet, r *row, t *table, k, from int) any {
	c, col := &r.Cells[k], &t.Columns[k]
	if r.Total && col.Sum && c.Value.Known && s.Row > from {
		column := workbook.ColumnName(k + 1)
		return excelize.Cell{StyleID: s.Sum, Formula: fmt.Sprintf("SUBTOTAL(9,%s%d:%s%d)", column, from, column, s.Row-1)}
	}
	if col.Value {
		if !c.Value.Known {
			return nil
		}
		if col.Unit == measure.Day {
			return s.Date(c.Value.Date())
		}
		return s.Figure(col.Unit, c.Value, b.doc.Currency)
	}
	if day, err := calendar.ParseDate(c.Plain); err == nil && c.Plain != "" {
		return s.Date(day)
	}
	text := c.Text
	if c.Soft != "" && k == 0 {
		text = c.Plain + " " + c.Text
	}
	return workbook.Text(text)
}
