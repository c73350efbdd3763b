package export

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"io"
	"strings"

	"github.com/xuri/excelize/v2"

	"turret/internal/app/fault"
	"turret/internal/record"
)

// Sample writes the sample of a kind as CSV, the columns of the office's own empty.
func Sample(in *record.Input) []byte {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	_ = w.Write(names(in))
	for _, line := range strings.Split(in.Sample, "\n") {
		cells := strings.Split(line, "|")
		for len(cells) < len(in.Columns) {
			cells = append(cells, "")
		}
		_ = w.Write(cells)
	}
	w.Flush()
	return b.Bytes()
}

func names(in *record.Input) []string {
	var list []string
	for _, c := range in.Columns {
		list = append(list, c.Name)
	}
	return list
}

// SampleRows are the rows of a sample as cells.
func SampleRows(in *record.Input) [][]string {
	rows, _ := csv.NewReader(bytes.NewReader(Sample(in))).ReadAll()
	return rows[1:]
}

// spare is how many rows below the filled ones have checks and drop-downs.
const spare = 200

// Template writes a workbook for a kind: a sheet with typed columns and drop-downs of what may stand in them, filled with rows,
// and a sheet that explains the columns. Choices are by column, where they can be listed.
func Template(out io.Writer, in *record.Input, rows [][]string, choices map[string][]string) error {
	book := excelize.NewFile()
	defer book.Close()
	t := &templateBook{book: book, in: in, sheet: string(in.Kind), choices: choices}
	for _, step := range []func() error{t.begin, func() error { return t.fill(rows) }, t.check, t.flush, t.explain} {
		if err := step(); err != nil {
			return fmt.Errorf("template of %s: %w", in.Kind, err)
		}
	}
	book.SetActiveSheet(0)
	return book.Write(out)
}

type templateBook struct {
	book    *excelize.File
	in      *record.Input
	sheet   string
	choices map[string][]string
	last    int // row
	out     *excelize.StreamWriter
}

// flush ends the sheet of rows; its checks must be there by then.
func (t *templateBook) flush() error { return t.out.Flush() }

func (t *templateBook) begin() error { return t.book.SetSheetName("Sheet1", t.sheet) }

// style is the number format of a column.
func (t *templateBook) style(c record.Column) (int, error) {
	format := "@"
	switch c.Cell {
	case record.Day:
		format = "yyyy-mm-dd"
	case record.Units:
		format = "#,##0.00"
	case record.Number, record.Percent, record.Portion:
		format = "General"
	case record.Whole:
		format = "0"
	}
	return t.book.NewStyle(&excelize.Style{CustomNumFmt: &format})
}

func (t *templateBook) fill(rows [][]string) error {
	w, err := t.book.NewStreamWriter(t.sheet)
	if err != nil {
		return err
	}
	t.out = w
	bold, err := t.book.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true},
		Border: []excelize.Border{{Type: "bottom", Style: 1, Color: "1D2733"}}})
	if err != nil {
		return err
	}
	styles := make([]int, len(t.in.Columns))
	for i, c := range t.in.Columns {
		if styles[i], err = t.style(c); err != nil {
			return err
		}
		width := 14.0
		if c.Name == "name" || c.Name == "commentary" || c.Name == "note" {
			width = 34
		}
		if err := w.SetColWidth(i+1, i+1, width); err != nil {
			return err
		}
	}
	if err := w.SetPanes(&excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2", ActivePane: "bottomLeft"}); err != nil {
		return err
	}
	head := make([]any, len(t.in.Columns))
	for i, n := range names(t.in) {
		head[i] = excelize.Cell{StyleID: bold, Value: n}
	}
	if err := w.SetRow("A1", head); err != nil {
		return err
	}
	t.last = len(rows) + 1 + spare
	for n := range len(rows) + spare {
		line := make([]any, len(t.in.Columns))
		for i, c := range t.in.Columns {
			text := ""
			if n < len(rows) {
				text = rows[n][i]
			}
			line[i] = excelize.Cell{StyleID: styles[i], Value: cellValue(c, text)}
		}
		at, _ := excelize.CoordinatesToCellName(1, n+2)
		if err := w.SetRow(at, line); err != nil {
			return err
		}
	}
	return nil
}

// check adds drop-downs and limits of what may be typed.
func (t *templateBook) check() error {
	hidden := 0
	for i, c := range t.in.Columns {
		col, _ := excelize.ColumnNumberToName(i + 1)
		dv := excelize.NewDataValidation(!c.Required)
		dv.SetSqref(fmt.Sprintf("%s2:%s%d", col, col, t.last))
		list := c.Choices
		if list == nil {
			list = t.choices[c.Name]
		}
		switch {
		case len(list) > 0:
			hidden++
			at, err := t.list(hidden, list)
			if err != nil {
				return err
			}
			dv.SetSqrefDropList(at)
		case c.Cell == record.Day:
			if err := dv.SetRange("DATE(1990,1,1)", "DATE(2199,12,31)", excelize.DataValidationTypeDate,
				excelize.DataValidationOperatorBetween); err != nil {
				return err
			}
		case c.Cell == record.Percent:
			if err := dv.SetRange(0, 100, excelize.DataValidationTypeDecimal, excelize.DataValidationOperatorBetween); err != nil {
				return err
			}
		case c.Cell == record.Portion:
			if err := dv.SetRange(0, 10_000, excelize.DataValidationTypeDecimal, excelize.DataValidationOperatorBetween); err != nil {
				return err
			}
		case c.Cell == record.Units || c.Cell == record.Number:
			if err := dv.SetRange(-1e15, 1e15, excelize.DataValidationTypeDecimal, excelize.DataValidationOperatorBetween); err != nil {
				return err
			}
		default:
			continue
		}
		dv.SetError(excelize.DataValidationErrorStyleStop, c.Name, fault.Clip(orWords(c), 200))
		if err := t.book.AddDataValidation(t.sheet, dv); err != nil {
			return err
		}
	}
	return nil
}

const listSheet = "lists"

// list writes what may be chosen into a hidden sheet and returns its range.
func (t *templateBook) list(n int, values []string) (string, error) {
	if n == 1 {
		if _, err := t.book.NewSheet(listSheet); err != nil {
			return "", err
		}
		if err := t.book.SetSheetVisible(listSheet, false); err != nil {
			return "", err
		}
	}
	col, _ := excelize.ColumnNumberToName(n)
	for i, v := range values {
		if err := t.book.SetCellStr(listSheet, fmt.Sprintf("%s%d", col, i+1), v); err != nil {
			return "", err
		}
	}
	return fmt.Sprintf("%s!$%s$1:$%s$%d", listSheet, col, col, len(values)), nil
}

// explain adds the sheet that says what each column is.
func (t *templateBook) explain() error {
	const sheet = "columns"
	if _, err := t.book.NewSheet(sheet); err != nil {
		return err
	}
	rows := [][]any{{"column", "needed", "what stands in it", "one of"}}
	for _, c := range t.in.Columns {
		need := ""
		if c.Required {
			need = "yes"
		}
		rows = append(rows, []any{c.Name, need, orWords(c), strings.Join(c.Choices, ", ")})
	}
	for i, row := range rows {
		if err := t.book.SetSheetRow(sheet, fmt.Sprintf("A%d", i+1), &row); err != nil {
			return err
		}
	}
	return t.book.SetColWidth(sheet, "A", "D", 30)
}

// orWords is what a column says of itself, or at least what its cells are.
func orWords(c record.Column) string {
	if c.Says != "" {
		return c.Cell.String() + ": " + c.Says
	}
	return c.Cell.String()
}

// cellValue types a cell, so that a spreadsheet sorts and sums it; what it would run as a formula stays a text.
func cellValue(c record.Column, text string) any {
	switch c.Cell {
	case record.Units, record.Number, record.Whole, record.Percent, record.Portion:
		if f, ok := Float(text); ok {
			return f
		}
	case record.Day:
		if d, ok := Day(text); ok {
			return d
		}
	}
	if text == "" {
		return nil
	}
	return text
}

// SafeText guards the cells of texts and codes; a number or a day cannot be a formula.
func SafeText(c record.Column, cell string) string {
	if c.Cell == record.Text || c.Cell == record.Code {
		return Safe(cell)
	}
	return cell
}
