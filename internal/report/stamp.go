package report

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"

	"turret/internal/app/fault"
	"turret/internal/app/report"
)

// ErrDocument is returned for a file that is no PDF, HTML or workbook.
var ErrDocument = errors.New("it is not a PDF, an HTML file or a workbook; expected one that Turret made")

// maxStamped bounds the part of a workbook that its stamp is looked for in.
const maxStamped = 1 << 20

// StampOf finds the stamp of a published period in a document, and the form that the document has. A document without one is an error
// wrapping app.ErrNotFound.
func StampOf(document []byte) (s *report.Stamp, format string, err error) {
	switch {
	case bytes.HasPrefix(document, []byte("%PDF")):
		format = "pdf"
	case bytes.HasPrefix(document, []byte("PK")):
		format = "xlsx"
		if document, err = properties(document); err != nil {
			return nil, format, err
		}
	case bytes.Contains(document[:min(512, len(document))], []byte("<!doctype html>")):
		format = "html"
	default:
		return nil, "", ErrDocument
	}
	s, err = report.ReadStamp(document)
	return s, format, err
}

// properties are those of a workbook, as XML.
func properties(book []byte) ([]byte, error) {
	z, err := zip.NewReader(bytes.NewReader(book), int64(len(book)))
	if err != nil {
		return nil, ErrDocument
	}
	f, err := z.Open("docProps/core.xml")
	if err != nil {
		return nil, ErrDocument
	}
	defer f.Close()
	return io.ReadAll(io.LimitReader(f, maxStamped))
}

// Differs tells where a document is not what its content makes: PDF and HTML are the same bytes; a workbook has the same cells, also where
// another program has saved it. It is empty where they are the same.
func Differs(document []byte, format string, c *report.Content) (string, error) {
	var b bytes.Buffer
	if _, err := Write(&b, format, c); err != nil {
		return "", err
	}
	if format == "xlsx" {
		return differingBooks(document, b.Bytes())
	}
	if bytes.Equal(document, b.Bytes()) {
		return "", nil
	}
	at := 0
	for at < len(document) && at < b.Len() && document[at] == b.Bytes()[at] {
		at++
	}
	return fmt.Sprintf("from byte %d on", at+1), nil
}

func differingBooks(got, want []byte) (string, error) {
	open := func(book []byte) (*excelize.File, error) {
		return excelize.OpenReader(bytes.NewReader(book), excelize.Options{RawCellValue: true, UnzipSizeLimit: 400 << 20})
	}
	x, err := open(got)
	if err != nil {
		return "", ErrDocument
	}
	defer x.Close()
	y, err := open(want)
	if err != nil {
		return "", err
	}
	defer y.Close()
	if a, b := strings.Join(x.GetSheetList(), ", "), strings.Join(y.GetSheetList(), ", "); a != b {
		return "it has the sheets " + fault.Clip(a, 200), nil
	}
	for _, sheet := range y.GetSheetList() {
		if where, err := differingSheets(x, y, sheet); where != "" || err != nil {
			return where, err
		}
	}
	return "", nil
}

func differingSheets(x, y *excelize.File, sheet string) (string, error) {
	got, err := x.GetRows(sheet)
	if err != nil {
		return "", err
	}
	want, err := y.GetRows(sheet)
	if err != nil {
		return "", err
	}
	for r := range max(len(got), len(want)) {
		for c := range max(len(rowAt(got, r)), len(rowAt(want, r))) {
			at, err := excelize.CoordinatesToCellName(c+1, r+1)
			if err != nil {
				return "", err
			}
			f, _ := x.GetCellFormula(sheet, at)
			g, _ := y.GetCellFormula(sheet, at)
			if plainFormula(f) != plainFormula(g) || g == "" && !sameCell(cellAt(got, r, c), cellAt(want, r, c)) {
				return fmt.Sprintf("in sheet %s, cell %s", sheet, at), nil
			}
		}
	}
	return "", nil
}

func rowAt(rows [][]string, r int) []string {
	if r < len(rows) {
		return rows[r]
	}
	return nil
}

func cellAt(rows [][]string, r, c int) string {
	if row := rowAt(rows, r); c < len(row) {
		return row[c]
	}
	return ""
}

func plainFormula(s string) string {
	return strings.ToUpper(strings.NewReplacer(" ", "", "=", "", "$", "").Replace(s))
}

// sameCell compares what cells hold; numbers as numbers, since programs write them in several ways.
func sameCell(a, b string) bool {
	if a == b {
		return true
	}
	x, err1 := strconv.ParseFloat(a, 64)
	y, err2 := strconv.ParseFloat(b, 64)
	return err1 == nil && err2 == nil && math.Abs(x-y) <= 1e-9*max(1, math.Abs(y))
}
