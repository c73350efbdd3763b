package report

import (
	"archive/zip"
	"encoding/csv"
	"fmt"
	"io"
	"strings"
	"time"

	"turret/internal/app/report"
	"turret/internal/export"
)

// Plain writes the tables of a report as CSV: one file where it has one table, else an archive of one file each. It tells which by the
// ending of the name. The same data gives the same bytes.
func Plain(w io.Writer, c *report.Content) (ending string, err error) {
	d := compose(c)
	type named struct {
		name string
		*table
	}
	var list []named
	for i := range d.Sections {
		s := &d.Sections[i]
		tables := s.tables()
		for _, t := range tables {
			name := s.Key
			if len(tables) > 1 && t.Name != "" {
				name += "-" + strings.ToLower(t.Name)
			}
			list = append(list, named{name, t})
		}
	}
	if len(list) == 1 {
		return ".csv", d.csv(w, list[0].table)
	}
	z := zip.NewWriter(w)
	for i, t := range list {
		f, err := z.CreateHeader(&zip.FileHeader{Name: fmt.Sprintf("%02d-%s.csv", i+1, t.name), Method: zip.Deflate,
			Modified: time.Date(1980, 1, 1, 0, 0, 0, 0, time.UTC)})
		if err != nil {
			return "", err
		}
		if err := d.csv(f, t.table); err != nil {
			return "", err
		}
	}
	return ".zip", z.Close()
}

func (d *document) csv(w io.Writer, t *table) error {
	out := csv.NewWriter(w)
	heads := make([]string, 0, len(t.Columns)+2)
	for i := range t.Columns {
		heads = append(heads, strings.ToLower(strings.ReplaceAll(t.Columns[i].Head, " ", "_")))
	}
	_ = out.Write(append(heads, "as_of", "currency"))
	for i := range t.Rows {
		r := &t.Rows[i]
		if r.Group || r.Total && r.Cells[0].Plain == "*" && i < len(t.Rows)-1 {
			continue // subtotals are for reading
		}
		cells := make([]string, len(t.Columns), len(t.Columns)+2)
		for k := range r.Cells {
			cells[k] = strings.TrimSpace(r.Cells[k].plain(&t.Columns[k], d.Currency))
			if !t.Columns[k].Value {
				cells[k] = export.Safe(cells[k])
			}
		}
		if err := out.Write(append(cells, d.AsOf.String(), string(d.Currency))); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}
