package webtest

import (
	"errors"
	"fmt"
	"io"

	"turret/internal/app/assess"
	"turret/internal/app/explain"
	"turret/internal/app/judge"
	"turret/internal/app/money"
	"turret/internal/app/plan"
	"turret/internal/app/report"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Reports stands in for what writes reports and files: it writes their names.
type Reports struct{}

// Shown implements page.Reports.
func (Reports) Shown(w io.Writer, format, name string, heads []string, rows [][]string) error {
	_, err := fmt.Fprint(w, format, name, heads, rows)
	return err
}

// Report implements page.Reports.
func (Reports) Report(w io.Writer, format string, c *report.Content) (string, string, error) {
	_, err := fmt.Fprint(w, "%PDF-", c.Report.Parts)
	return "." + format, "application/pdf", err
}

// Preview implements page.Reports.
func (Reports) Preview(c *report.Content, _, _ int) ([]string, int, error) {
	return []string{"<svg></svg>"}, 1, nil
}

// Sample implements page.Reports.
func (Reports) Sample(*record.Input) []byte { return nil }

// Template implements page.Reports.
func (Reports) Template(io.Writer, *record.Input, [][]string, map[string][]string) error {
	return nil
}

// Money implements page.Reports.
func (Reports) Money(w io.Writer, name string, _ *assess.Assessment, _ *money.Table) error {
	_, err := io.WriteString(w, name)
	return err
}

// Sheet implements page.Reports.
func (Reports) Sheet(w io.Writer, name string, _ *assess.Assessment, _ *money.Sheet) error {
	_, err := io.WriteString(w, name)
	return err
}

// Timeline implements page.Reports.
func (Reports) Timeline(w io.Writer, name string, _ *assess.Assessment, _ *plan.Timeline) error {
	_, err := io.WriteString(w, name)
	return err
}

// Rehearsal implements page.Reports.
func (Reports) Rehearsal(io.Writer, string, *assess.Assessment, string, *plan.Findings) error {
	return nil
}

// Findings implements page.Reports.
func (Reports) Findings(io.Writer, string, *judge.Checked, map[int64]string) error { return nil }

// Diary implements page.Reports.
func (Reports) Diary(io.Writer, string, calendar.Date, []explain.DiaryEntry) error { return nil }

// Safe implements page.Reports.
func (Reports) Safe(s string) string { return s }

// Table implements page.Reports.
func (Reports) Table(io.Writer, *assess.Assessment, *assess.Scope) error {
	return errors.New("the disk at /secret/path is full")
}
