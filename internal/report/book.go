package report

import (
	"fmt"
	"io"
	"strings"
	"unicode/utf16"

	"github.com/xuri/excelize/v2"

	"turret/internal/app/report"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/export"
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
func (b *workbookOf) open(title string) (*sheetWriter, string, error) {
	stem := strings.Map(func(r rune) rune {
		if strings.ContainsRune(`:\/?*[]'`, r) {
			return '-'
		}
		return r
	}, title)
	name := cutRunes(stem, 31)
	for n := 2; b.names[strings.ToLower(name)]; n++ {
		name = cutRunes(stem, 27) + fmt.Sprintf(" (%d)", n)
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
	s := newSheetWriter(b.book, name, b.doc.Currency)
	return s, name, s.err
}

func cutRunes(s string, n int) string {
	if r := []rune(s); len(r) > n {
		return string(r[:n])
	}
	return s
}

func (b *workbookOf) about(s *sheetWriter, title string) {
	s.line(excelize.Cell{StyleID: s.bold, Value: title + " · " + b.doc.Name})
	s.line(b.doc.About + ", in " + string(b.doc.Currency))
}

func (b *workbookOf) texts(sec *section) error {
	s, _, err := b.open(sec.Title)
	if err != nil {
		return err
	}
	s.width(1, 1, 110)
	b.about(s, sec.Title)
	for _, x := range sec.Blocks {
		switch x := x.(type) {
		case lead:
			s.line(x.Text)
		case small:
			s.line(x.Text)
		}
	}
	return s.done()
}

func (b *workbookOf) sheet(title string, t *table) error {
	s, name, err := b.open(title)
	if err != nil {
		return err
	}
	for i, k := range t.Columns {
		s.width(i+1, i+1, min(max(k.Width/5.5, 11), 60))
	}
	s.freeze(1, headRow)
	b.about(s, title)
	heads := make([]string, len(t.Columns))
	for i, k := range t.Columns {
		heads[i] = k.Head
	}
	s.heads(heads...)
	group, first, last := headRow+1, headRow+1, headRow
	for i := range t.Rows {
		r := &t.Rows[i]
		if r.Group {
			group = s.row + 1
		}
		from := group
		if i == len(t.Rows)-1 {
			from = first
		}
		cells := make([]any, len(r.Cells))
		for k := range r.Cells {
			cells[k] = b.cell(s, r, t, k, from)
		}
		s.line(cells...)
		if !r.Total {
			last = s.row - 1
		}
	}
	if err := s.done(); err != nil || last < first {
		return err
	}
	return b.book.AutoFilter(name, fmt.Sprintf("A%d:%s%d", headRow, columnName(len(heads)), last), nil)
}

func (b *workbookOf) cell(s *sheetWriter, r *row, t *table, k, from int) any {
	c, col := &r.Cells[k], &t.Columns[k]
	if r.Total && col.Sum && c.Value.Known && s.row > from {
		return excelize.Cell{StyleID: s.sum, Formula: fmt.Sprintf("SUBTOTAL(9,%s%d:%s%d)", columnName(k+1), from, columnName(k+1), s.row-1)}
	}
	if col.Value {
		if !c.Value.Known {
			return nil
		}
		if col.Unit == measure.Day {
			return s.date(c.Value.Date())
		}
		return s.figure(col.Unit, c.Value, b.doc.Currency)
	}
	if day, err := calendar.ParseDate(c.Plain); err == nil && c.Plain != "" {
		return s.date(day)
	}
	text := c.Text
	if c.Soft != "" && k == 0 {
		text = c.Plain + " " + c.Text
	}
	return cellText(text)
}

// mostCell is how many characters a cell of a workbook holds.
const mostCell = 32_767

// cellText is a text as a cell holds it; one that is longer says that it goes on elsewhere.
func cellText(text string) string {
	const on = " … (the PDF, HTML and CSV have the whole text)"
	if len(utf16.Encode([]rune(text))) <= mostCell {
		return text
	}
	return cutRunes(text, (mostCell-100)/2) + on
}

// date is a day as spreadsheets hold it, or as text where they have none.
func (s *sheetWriter) date(d calendar.Date) any {
	if t, ok := export.Day(d.String()); ok {
		return excelize.Cell{StyleID: s.day, Value: t}
	}
	return d.String()
}
