// Package workbook writes tables as workbooks, with figures and days that one can reckon with.
package workbook

import (
	"strings"
	"unicode/utf16"

	"github.com/xuri/excelize/v2"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/export"
)

// Sheet writes a sheet row by row; the first error sticks.
type Sheet struct {
	book  *excelize.File
	out   *excelize.StreamWriter
	money int // styles
	share int
	day   int

	Row       int // that comes next, from 1
	Bold, Sum int // styles
	Err       error
}

// NewSheet begins to write a sheet that the book has; amounts are of a currency.
func NewSheet(book *excelize.File, sheet string, c money.Currency) *Sheet {
	s := &Sheet{book: book, Row: 1}
	style := func(st *excelize.Style) int {
		id, err := book.NewStyle(st)
		if s.Err == nil {
			s.Err = err
		}
		return id
	}
	format := amountFormat(c)
	percent := "0.0%"
	top := []excelize.Border{{Type: "top", Style: 1, Color: "1D2733"}}
	s.money, s.Bold = style(&excelize.Style{CustomNumFmt: &format}),
		style(&excelize.Style{Font: &excelize.Font{Bold: true}, Border: []excelize.Border{{Type: "bottom", Style: 1, Color: "1D2733"}},
			Alignment: &excelize.Alignment{WrapText: true, Vertical: "top"}})
	s.share, s.Sum = style(&excelize.Style{CustomNumFmt: &percent}),
		style(&excelize.Style{CustomNumFmt: &format, Font: &excelize.Font{Bold: true}, Border: top})
	s.day = style(&excelize.Style{NumFmt: 14})
	if s.Err == nil {
		s.out, s.Err = book.NewStreamWriter(sheet)
	}
	return s
}

// amountFormat shows thousands and the currency's decimals, negatives in red with a minus.
func amountFormat(c money.Currency) string {
	f := "#,##0"
	if n := c.Decimals(); n > 0 {
		f += "." + strings.Repeat("0", n)
	}
	return f + ";[Red]-" + f
}

// Line writes the next row.
func (s *Sheet) Line(cells ...any) {
	if s.Err == nil {
		at, _ := excelize.CoordinatesToCellName(1, s.Row)
		s.Err = s.out.SetRow(at, cells)
		s.Row++
	}
}

// Width sets how wide columns are, from 1, in characters; before the first row.
func (s *Sheet) Width(from, to int, w float64) {
	if s.Err == nil {
		s.Err = s.out.SetColWidth(from, to, w)
	}
}

// Freeze keeps the first columns and rows in sight; before the first row.
func (s *Sheet) Freeze(columns, rows int) {
	if s.Err == nil {
		at, _ := excelize.CoordinatesToCellName(columns+1, rows+1)
		s.Err = s.out.SetPanes(&excelize.Panes{Freeze: true, XSplit: columns, YSplit: rows, TopLeftCell: at, ActivePane: "bottomRight"})
	}
}

// Heads writes a row of heads.
func (s *Sheet) Heads(names ...string) {
	cells := make([]any, len(names))
	for i, n := range names {
		cells[i] = excelize.Cell{StyleID: s.Bold, Value: n}
	}
	s.Line(cells...)
}

// Done ends the sheet and tells the first error.
func (s *Sheet) Done() error {
	if s.Err == nil {
		s.Err = s.out.Flush()
	}
	return s.Err
}

// ColumnName is the name of the nth column, from 1.
func ColumnName(n int) string {
	name, _ := excelize.ColumnNumberToName(n)
	return name
}

// major is an amount as spreadsheets hold it. Amounts are at most 100 billion and of at most 15 digits, so that no cent is lost.
func major(a money.Amount, c money.Currency) float64 {
	f := float64(a)
	for range c.Decimals() {
		f /= 10
	}
	return f
}

// Figure is a measure as a cell to reckon with; nil where it is not known.
func (s *Sheet) Figure(u measure.Unit, v measure.Value, cur money.Currency) any {
	switch {
	case !v.Known:
		return nil
	case u == measure.Money:
		return excelize.Cell{StyleID: s.money, Value: major(v.Amount(), cur)}
	case u == measure.Share:
		return excelize.Cell{StyleID: s.share, Value: v.Ratio}
	case u == measure.Index:
		return v.Ratio
	case u.Worded():
		return v.Text(u, cur)
	case u == measure.Hours || u == measure.Points || u == measure.ExpectedDays:
		return float64(v.N) / cost.HourUnits
	}
	return v.N
}

// Date is a day as spreadsheets hold it, or as text where they have none.
func (s *Sheet) Date(d calendar.Date) any {
	if t, ok := export.Day(d.String()); ok {
		return excelize.Cell{StyleID: s.day, Value: t}
	}
	return d.String()
}

// Cut is the first n characters of a text.
func Cut(s string, n int) string {
	if r := []rune(s); len(r) > n {
		return string(r[:n])
	}
	return s
}

// mostCell is how many characters a cell of a workbook holds.
const mostCell = 32_767

// Text is a text as a cell holds it; one that is longer says that it goes on elsewhere.
func Text(text string) string {
	const on = " … (the PDF, HTML and CSV have the whole text)"
	if len(utf16.Encode([]rune(text))) <= mostCell {
		return text
	}
	return Cut(text, (mostCell-100)/2) + on
}
