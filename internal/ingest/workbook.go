package ingest

import (
	"archive/zip"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"

	"turret/internal/app/fault"
	"turret/internal/app/intake"
)

// MaxUnpacked is how large a compressed file may become, in bytes.
const MaxUnpacked = 400 << 20

// sheetPart is a sheet of a workbook per ISO/IEC 29500.
type sheetPart struct {
	name, sheet string
	book        *excelize.File
	large       bool // its cells are not asked for their types
}

// Limits of a workbook: the texts that its cells share are held in memory, and the sheets too where cells are asked for their types.
const (
	maxTexts = 48 << 20
	maxTyped = 24 << 20
)

// weighed says what the sheets of a workbook unpack to, and refuses one that is too large by what it tells of itself.
func weighed(name string, list []*zip.File) (sheets int64, err error) {
	all, texts := int64(0), int64(0)
	for _, m := range list {
		size := int64(min(m.UncompressedSize64, MaxUnpacked+1))
		all += size
		switch {
		case strings.HasPrefix(m.Name, "xl/worksheets/"):
			sheets += size
		case strings.EqualFold(m.Name, "xl/sharedStrings.xml"):
			texts += size
		}
		if all > MaxUnpacked {
			return 0, unreadable(name, fmt.Sprintf("a workbook that unpacks to at most %d MB", MaxUnpacked>>20))
		}
	}
	if texts > maxTexts {
		return 0, unreadable(name, fmt.Sprintf("a workbook with at most %d MB of texts; split it, or send CSV", maxTexts>>20))
	}
	return sheets, nil
}

// openBook opens a workbook; what it unpacks to is bounded.
func openBook(name string, r io.Reader) (*excelize.File, error) {
	book, err := excelize.OpenReader(r, excelize.Options{UnzipSizeLimit: MaxUnpacked, UnzipXMLSizeLimit: 16 << 20, RawCellValue: true})
	switch {
	case errors.Is(err, excelize.ErrWorkbookFileFormat), errors.Is(err, excelize.ErrWorkbookPassword):
		return nil, unreadable(name, "a workbook without a password")
	case err != nil && strings.Contains(err.Error(), "unzip size exceeds"):
		return nil, unreadable(name, fmt.Sprintf("a workbook that unpacks to at most %d MB", MaxUnpacked>>20))
	case err != nil:
		return nil, unreadable(name, "a workbook that can be opened; this one cannot ("+fault.Clip(err.Error(), 120)+")")
	}
	return book, nil
}

func (p *sheetPart) traits() traits {
	props, err := p.book.GetWorkbookProps()
	return traits{workbook: true, from1904: err == nil && props.Date1904 != nil && *props.Date1904}
}

func (p *sheetPart) sample(d *intake.Dialect) ([]sampleRow, []string, error) {
	t, err := p.rows(*d)
	if err != nil {
		return nil, nil, err
	}
	defer func() { _ = t.close() }()
	var rows []sampleRow
	for range 2000 { // a sheet may begin with many empty rows
		row, cells, err := t.next()
		if errors.Is(err, io.EOF) || len(rows) == 200 {
			break
		}
		if err != nil {
			return nil, nil, err
		}
		if !blank(cells) {
			shown := make([]string, len(cells))
			for i, c := range cells {
				shown[i] = plainNumber(c)
			}
			rows = append(rows, sampleRow{row, shown})
		}
	}
	words := []string{"sheet " + strconv.Quote(p.sheet)}
	if n := t.(*sheetTable).hidden; n > 0 {
		words = append(words, fmt.Sprintf("hidden rows are read too (%d at the beginning)", n))
	}
	return rows, words, nil
}

func (p *sheetPart) rows(intake.Dialect) (table, error) {
	rows, err := p.book.Rows(p.sheet)
	if err != nil {
		return nil, unreadable(p.name, "a sheet "+p.sheet+" that can be read ("+fault.Clip(err.Error(), 120)+")")
	}
	return &sheetTable{name: p.name, in: rows}, nil
}

// typed is how many rows of a sheet may be asked for the types of their cells, which has the whole sheet in memory. Beyond it a cell that
// looks as a workbook writes numbers is taken for one.
const typed = 50_000

// number tells whether a cell that looks like a long number is one, and no text.
func (p *sheetPart) number(row int32, column int, cell string) bool {
	if row > typed || p.large {
		return !strings.ContainsAny(cell, "eE") || strings.ContainsAny(cell, "+-")
	}
	at, err := excelize.CoordinatesToCellName(column+1, int(row))
	if err != nil {
		return false
	}
	kind, err := p.book.GetCellType(p.sheet, at)
	return err == nil && (kind == excelize.CellTypeUnset || kind == excelize.CellTypeNumber)
}

type sheetTable struct {
	name   string
	in     *excelize.Rows
	row    int32
	hidden int
}

func (t *sheetTable) close() error { return t.in.Close() }

func (t *sheetTable) next() (int32, []string, error) {
	if !t.in.Next() {
		if err := t.in.Error(); err != nil {
			return 0, nil, unreadable(t.name, "a sheet that can be read to its end ("+fault.Clip(err.Error(), 120)+")")
		}
		return 0, nil, io.EOF
	}
	t.row++
	cells, err := t.in.Columns()
	if err != nil {
		return 0, nil, unreadable(t.name, "a sheet that can be read ("+fault.Clip(err.Error(), 120)+")")
	}
	if t.in.GetRowOpts().Hidden {
		t.hidden++
	}
	cells, err = narrow(t.name, t.row, cells)
	return t.row, cells, err
}

// plainNumber writes a number of a workbook without an exponent and rounded to the 15 digits that spreadsheets count on, so
// that 0.1+0.2 is 0.3 again. Other texts, and numbers with leading zeros, which are codes, stay as they are.
func plainNumber(s string) string {
	if len(s) < 16 && !strings.ContainsAny(s, "eE") || len(s) > 40 || s == "" || (s[0] != '-' && (s[0] < '0' || s[0] > '9')) {
		return s
	}
	for i := range len(s) {
		if c := s[i]; (c < '0' || c > '9') && !strings.ContainsRune(".-+eE", rune(c)) {
			return s
		}
	}
	if !strings.ContainsAny(s, ".eE") {
		return s
	}
	f, err := strconv.ParseFloat(s, 64)
	if err != nil {
		return s
	}
	if f, err = strconv.ParseFloat(strconv.FormatFloat(f, 'g', 15, 64), 64); err != nil {
		return s
	}
	return strconv.FormatFloat(f, 'f', -1, 64)
}
