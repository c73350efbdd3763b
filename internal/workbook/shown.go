package workbook

import (
	"encoding/csv"
	"errors"
	"io"
	"math"
	"regexp"
	"strconv"
	"strings"
	"time"

	"turret/internal/export"

	"github.com/xuri/excelize/v2"
)

// Shown writes a table as a page shows it, as csv or xlsx. In a workbook figures and days are such, so that one can reckon with them;
// texts that a spreadsheet would run as a formula are guarded.
func Shown(w io.Writer, format, name string, heads []string, rows [][]string) error {
	switch format {
	case "csv":
		return shownCSV(w, heads, rows)
	case "xlsx":
		return shownBook(w, name, heads, rows)
	}
	return export.ErrFormat
}

func shownCSV(w io.Writer, heads []string, rows [][]string) error {
	out := csv.NewWriter(w)
	for _, row := range append([][]string{heads}, rows...) {
		cells := make([]string, len(row))
		for i, text := range row {
			if cells[i] = text; shownNumber.FindString(text) == "" { // a minus is not the start of a formula
				cells[i] = export.Safe(text)
			}
		}
		_ = out.Write(cells)
	}
	out.Flush()
	return out.Error()
}

func shownBook(w io.Writer, name string, heads []string, rows [][]string) error {
	book := excelize.NewFile()
	defer book.Close()
	if err := book.SetSheetName("Sheet1", Cut(name, 31)); err != nil {
		return err
	}
	s := NewSheet(book, Cut(name, 31), "EUR")
	number, err := book.NewStyle(&excelize.Style{CustomNumFmt: new("#,##0.##")})
	if err != nil {
		return err
	}
	s.Width(1, max(1, len(heads)), 18)
	s.Freeze(1, 1)
	s.Heads(heads...)
	for _, row := range rows {
		cells := make([]any, len(row))
		for i, text := range row {
			cells[i] = s.shown(text, number)
		}
		s.Line(cells...)
	}
	return errors.Join(s.Done(), book.Write(w))
}

// shown is a cell of a workbook: a figure, a day, or a text.
func (s *Sheet) shown(text string, number int) any {
	if text == "" || text == "–" {
		return nil
	}
	if day, err := time.Parse("2 Jan 2006", text); err == nil && day.Year() >= 1901 {
		return excelize.Cell{StyleID: s.day, Value: day}
	}
	if n, percent, ok := figureShown(text); ok && percent {
		return excelize.Cell{StyleID: s.share, Value: n}
	} else if ok {
		return excelize.Cell{StyleID: number, Value: n}
	}
	return Text(text)
}

// shownNumber is a figure as pages write it: a sign, perhaps a currency's, digits in groups of three, and what they count.
var shownNumber = regexp.MustCompile(`^([+−-]?)(?:[€£$]|[A-Z]{3} ?)?([+−-]?)(\d{1,3}(?:,\d{3})*|\d+)(\.\d+)?\s?(k|M|bn|%|)$`)

// figureShown reads a figure as pages write it, that of percent as a share of one; false where the text is none, or has more digits than a
// workbook holds.
func figureShown(text string) (n float64, percent, ok bool) {
	found := shownNumber.FindStringSubmatch(text)
	if found == nil {
		return 0, false, false
	}
	digits := strings.ReplaceAll(found[3], ",", "")
	if digits[0] == '0' && len(digits) > 1 { // a code, not a figure
		return 0, false, false
	}
	n, err := strconv.ParseFloat(digits+found[4], 64)
	if err != nil || len(digits)+len(found[4]) > 16 {
		return 0, false, false
	}
	n *= map[string]float64{"k": 1e3, "M": 1e6, "bn": 1e9, "%": 1, "": 1}[found[5]]
	if found[5] == "%" {
		n = math.Round(n*1e8) / 1e10
	}
	if strings.ContainsAny(found[1]+found[2], "−-") {
		n = -n
	}
	return n, found[5] == "%", true
}
