// Package report writes what was computed to documents: print, page, workbook and picture.
package report

import (
	"fmt"
	"io"

	"turret/internal/app/fault"
	"turret/internal/app/report"
)

// Media are the forms in which a report is written, by their names, with the media type of each.
var Media = map[string]string{
	"pdf": "application/pdf", "html": "text/html; charset=utf-8",
	"xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "csv": "text/csv; charset=utf-8",
}

// Write writes a report in a form and tells the ending of its name, which for CSV of several tables is that of an archive. An unknown
// form is an error wrapping app.ErrNotFound.
func Write(w io.Writer, format string, c *report.Content) (ending string, err error) {
	switch format {
	case "pdf":
		return ".pdf", Print(w, c)
	case "html":
		return ".html", HTML(w, c)
	case "xlsx":
		return ".xlsx", Book(w, c)
	case "csv":
		return Plain(w, c)
	}
	return "", fmt.Errorf("format %q: %w", fault.Clip(format, 20), fault.ErrNotFound)
}
