package ingest

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"

	"turret/internal/app/fault"
	"turret/internal/app/intake"
)

// table passes the rows of a sheet, each with its number as a spreadsheet counts; io.EOF ends them. Cells are valid until
// the next call.
type table interface {
	next() (row int32, cells []string, err error)
	close() error
}

// part is a sheet of a received file. It is read once: first its sample, then its rows.
type part interface {
	// sample returns the first rows. It fills in what the dialect leaves open of how rows and cells are told apart, and
	// names it in words.
	sample(d *intake.Dialect) (rows []sampleRow, words []string, err error)
	rows(d intake.Dialect) (table, error)
	// traits tell how its cells are written.
	traits() traits
}

type sampleRow struct {
	row   int32
	cells []string
}

// traits of the cells of a part: numbers of a workbook are written with a point whatever the sender's habits, and its dates
// may be serial numbers.
type traits struct{ workbook, from1904 bool }

// problemError is what is wrong with a whole file, found while opening or reading it.
type problemError struct{ fault.Problem }

func (p *problemError) Error() string { return p.Problem.String() }

func unreadable(file, expected string) error {
	return &problemError{fault.Problem{File: file, Expected: expected}}
}

// narrow cuts empty cells off a row that is wider than a sheet may be; one that still is, is refused.
func narrow(file string, row int32, cells []string) ([]string, error) {
	if len(cells) <= MaxColumns {
		return cells, nil
	}
	n := len(cells)
	for n > 0 && cells[n-1] == "" {
		n--
	}
	if n > MaxColumns {
		return nil, &problemError{fault.Problem{File: file, Row: row, Expected: fmt.Sprintf("at most %d columns, found %d", MaxColumns, n)}}
	}
	return cells[:n], nil
}

// counted counts and digests what is read and refuses to read beyond a limit, while reading.
type counted struct {
	r     io.Reader
	n     int64
	limit int64
	over  bool
	sum   interface {
		io.Writer
		Sum([]byte) []byte
	}
}

func newCounted(r io.Reader) *counted { return &counted{r: r, limit: MaxBytes, sum: sha256.New()} }

func (l *counted) Read(p []byte) (int, error) {
	n, err := l.r.Read(p)
	if l.n += int64(n); l.n > l.limit {
		l.over = true
		return 0, io.EOF
	}
	_, _ = l.sum.Write(p[:n])
	return n, err
}

func (l *counted) digest() string { return hex.EncodeToString(l.sum.Sum(nil)) }
