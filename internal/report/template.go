package report

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"io"
	"strings"

	"github.com/xuri/excelize/v2"

	"turret/internal/app"
)

// samples are a few rows of each kind that fit one another: loaded in the order of the kinds they make a small portfolio.
var samples = map[app.Kind]string{
	app.Structure: "PF|Works portfolio|portfolio||\nNORTH|Northern works|programme|PF|A. Person",
	app.Calendars: "default||sat|no|\ndefault||sun|no|\ndefault|2026-12-25||no|Winter holiday",
	app.CostCodes: "10|Design||capital|no\n20|Works||capital|no\n21|Civil works|20|capital|no",
	app.Rates:     "SEK|2026-01|0.0890|plan\nSEK|2026-10|0.0871|month",
	app.Projects: "N-01|Northern gate|NORTH|A. Person|B. " +
		"Person|renewal|delivery|EUR|2026-02-02|2027-03-31|2027-04-30|reported|yes|NORTH|open",
	app.Activities: "N-01|A1|Design||activity|2026-02-02|2026-05-29|2026-02-02|2026-06-12|2026-02-02|2026-06-12|||100||percent|project|A. Person||||||\n" +
		"N-01|A2|Works||activity|2026-06-01|2027-02-26|2026-06-15|2027-03-12|2026-06-15|||95|38||percent|project|A. Person||||||\n" +
		"N-01|M1|Gate open||milestone||2027-03-31||2027-04-14||||||||portfolio|A. Person||||||",
	app.Links:       "N-01|A1|A2|FS|0||\nN-01|A2|M1|FS|10||",
	app.Budget:      "N-01|10|180000.00||2026-02-02|2026-05-29|even|EUR|||\nN-01|21|1250000.00||2026-06-01|2027-02-26|bell|EUR|||\nN-01|21|60000.00|2026-09||||EUR||CR-01|sheet piles",
	app.Forecast:    "N-01|21|95000.00|2026-11||||EUR|||\nN-01|21|870000.00||2026-12-01|2027-03-12|late|EUR|||",
	app.Actuals:     "N-01|10|2026-05-18|176400.00|EUR||4711|Design office|\nN-01|21|2026-09-30|212350.50|EUR||4712|Builder|first account",
	app.Commitments: "N-01|21|PO-77|310000.00|2026-12-15|EUR|Builder\nN-01|21|PO-78|42500.00|2027-02-01|EUR|Crane hire",
	app.Changes: "N-01|CR-01|Sheet piles at the west bank|approved|60000.00|EUR||21|2026-09-01|2026-09-30|even|Soft ground found|A. " +
		"Person|2026-08-03|B. Person|2026-08-20|Cannot be left out\n" +
		"N-01|CR-02|Second handrail|requested|18000.00|EUR|5|21|2027-01-04|2027-02-26|even|Asked for by visitors|A. Person|2026-10-22|||",
	app.Funding: "N-01|Province|75|||975000.00|400000.00|EUR\nN-01|Town|25|||325000.00|100000.00|EUR",
	app.Revenue: "N-01|R1|Mooring fees|2026-11|12000.00|11400.00|2026-11-30|Boat owners|fixed fee||EUR\nN-01|R1|Mooring " +
		"fees|2026-12|12000.00|||Boat owners|fixed fee||EUR",
	app.People: "P01|A. Person|project lead|North|100|2024-01-01||8|80|62.00|95.00|EUR\nP02|C. " +
		"Person|diver|North|100|2025-04-01||7.5|85|||EUR",
	app.LabourRates: "|diver||2026-01-01|58.00|90.00|EUR\n|diver||2027-01-01|60.00|94.00|EUR",
	app.Timesheets:  "P01|N-01|2026-10-05|7.5|A2|no|\nP02|N-01|2026-10-06|6|A2|yes|21",
	app.Allocations: "NORTH|2026|1500000.00|EUR|first round\nNORTH|2027|900000.00|EUR|first round",
	app.Risks: "N-01|R1|Ground softer than bored|3|4|40|85000.00|15|21|A2|A. Person|Second boring before the " +
		"piles|2026-11-15|2026-11-30|open|EUR\n" +
		"N-01|R2|High water in spring|2|3|20|30000.00|10|21|A2|B. Person|Pumps on call|2026-12-01||open|EUR",
	app.Issues:  "N-01|I1|Crane access from the west is blocked|high|A. Person|2026-11-10|open|R1",
	app.Actions: "N-01|T1|Agree a second way in with the town|A. Person|2026-11-06|open|50|I1",
	app.Backlog: "N-01|B1|Gate position on the public page|5|accepted|3|2026-02-02|2026-09-18|1|A. Person|\nN-01|B2|Warning by " +
		"text message|8|todo||2026-10-05||2|C. Person|",
	app.Benefits: "N-01|V1|Fewer closures of the lock|2027-06|4000.00|3800.00||EUR\nN-01|V1|Fewer closures of the " +
		"lock|2027-07|4000.00|3800.00||EUR",
	app.Assignments: "P01||N-01|2026-10-01|2027-03-31|50|\n|diver|N-01|2027-02-01|2027-02-26|100|A2",
	app.Statuses:    "N-01|watch|watch|on track||||38|The works began two weeks late and have not caught up.",
}

// Sample writes the sample of a kind as CSV.
func Sample(kind app.Kind) []byte {
	in := kind.Input()
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	_ = w.Write(names(in))
	for _, line := range strings.Split(samples[kind], "\n") {
		cells := strings.Split(line, "|")
		for len(cells) < len(in.Columns) {
			cells = append(cells, "")
		}
		_ = w.Write(cells)
	}
	w.Flush()
	return b.Bytes()
}

func names(in *app.Input) []string {
	var list []string
	for _, c := range in.Columns {
		list = append(list, c.Name)
	}
	return list
}

// SampleRows are the rows of a sample as cells.
func SampleRows(kind app.Kind) [][]string {
	rows, _ := csv.NewReader(bytes.NewReader(Sample(kind))).ReadAll()
	return rows[1:]
}

// spare is how many rows below the filled ones have checks and drop-downs.
const spare = 200

// Template writes a workbook for a kind: a sheet with typed columns and drop-downs of what may stand in them, filled with rows,
// and a sheet that explains the columns. Choices are by column, where they can be listed.
func Template(out io.Writer, kind app.Kind, rows [][]string, choices map[string][]string) error {
	book := excelize.NewFile()
	defer book.Close()
	t := &templateBook{book: book, in: kind.Input(), sheet: string(kind), choices: choices}
	for _, step := range []func() error{t.begin, func() error { return t.fill(rows) }, t.check, t.flush, t.explain} {
		if err := step(); err != nil {
			return fmt.Errorf("template of %s: %w", kind, err)
		}
	}
	book.SetActiveSheet(0)
	return book.Write(out)
}

type templateBook struct {
	book    *excelize.File
	in      *app.Input
	sheet   string
	choices map[string][]string
	last    int // row
	out     *excelize.StreamWriter
}

// flush ends the sheet of rows; its checks must be there by then.
func (t *templateBook) flush() error { return t.out.Flush() }

func (t *templateBook) begin() error { return t.book.SetSheetName("Sheet1", t.sheet) }

// style is the number format of a column.
func (t *templateBook) style(c app.Column) (int, error) {
	format := "@"
	switch c.Cell {
	case app.Day:
		format = "yyyy-mm-dd"
	case app.Units:
		format = "#,##0.00"
	case app.Number, app.Percent:
		format = "General"
	case app.Whole:
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
		case c.Cell == app.Day:
			if err := dv.SetRange("DATE(1990,1,1)", "DATE(2199,12,31)", excelize.DataValidationTypeDate,
				excelize.DataValidationOperatorBetween); err != nil {
				return err
			}
		case c.Cell == app.Percent:
			if err := dv.SetRange(0, 100, excelize.DataValidationTypeDecimal, excelize.DataValidationOperatorBetween); err != nil {
				return err
			}
		case c.Cell == app.Units || c.Cell == app.Number:
			if err := dv.SetRange(-1e15, 1e15, excelize.DataValidationTypeDecimal, excelize.DataValidationOperatorBetween); err != nil {
				return err
			}
		default:
			continue
		}
		dv.SetError(excelize.DataValidationErrorStyleStop, c.Name, app.Clip(orWords(c), 200))
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
func orWords(c app.Column) string {
	if c.Says != "" {
		return c.Cell.String() + ": " + c.Says
	}
	return c.Cell.String()
}

// cellValue types a cell, so that a spreadsheet sorts and sums it; what it would run as a formula stays a text.
func cellValue(c app.Column, text string) any {
	switch c.Cell {
	case app.Units, app.Number, app.Whole, app.Percent:
		if f, ok := floatOf(text); ok {
			return f
		}
	case app.Day:
		if d, ok := timeOf(text); ok {
			return d
		}
	}
	if text == "" {
		return nil
	}
	return text
}

// SafeText guards the cells of texts and codes; a number or a day cannot be a formula.
func SafeText(c app.Column, cell string) string {
	if c.Cell == app.Text || c.Cell == app.Code {
		return Safe(cell)
	}
	return cell
}
