// Package export writes rows of a kind to files that can be read again, and templates to fill in.
package export

import (
	"encoding/csv"
	"encoding/json"
	"errors"
	"io"

	"turret/internal/record"
)

// ErrFormat is returned for a format that rows are not written in.
var ErrFormat = errors.New("expected csv, xlsx or json")

// Rows writes rows of a kind as csv, xlsx or json, in the columns of the kind: read again they are the same rows. Texts that a spreadsheet
// would run as a formula are guarded in CSV.
func Rows(out io.Writer, in *record.Input, rows [][]string, format string) error {
	switch format {
	case "csv":
		return rowsCSV(out, in, rows)
	case "json":
		return rowsJSON(out, in, rows)
	case "xlsx":
		return Template(out, in, rows, nil)
	}
	return ErrFormat
}

func rowsCSV(out io.Writer, in *record.Input, rows [][]string) error {
	w := csv.NewWriter(out)
	_ = w.Write(names(in))
	for _, row := range rows {
		cells := make([]string, len(row))
		for i, c := range in.Columns {
			cells[i] = SafeText(c, row[i])
		}
		_ = w.Write(cells)
	}
	w.Flush()
	return w.Error()
}

func rowsJSON(out io.Writer, in *record.Input, rows [][]string) error {
	list := make([]map[string]string, len(rows))
	for i, row := range rows {
		list[i] = map[string]string{}
		for j, c := range in.Columns {
			if row[j] != "" {
				list[i][c.Name] = row[j]
			}
		}
	}
	e := json.NewEncoder(out)
	e.SetIndent("", " ")
	return e.Encode(list)
}
