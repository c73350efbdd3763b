package export_test

import (
	"bytes"
	"context"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/demotest"
	"turret/internal/export"
	"turret/internal/ingest"
	"turret/internal/record"
)

// The samples load as they are, one after the other, and make a portfolio with figures.
func TestSamplesLoad(t *testing.T) {
	ctx := access.As(context.Background(), access.Operator("a test"))
	dir := t.TempDir()
	s, err := demotest.Create(ctx, filepath.Join(dir, "x.db"))
	require.NoError(t, err)
	defer s.Close()
	o := app.NewOffice(s, demotest.Now, app.Parts{})
	for _, kind := range record.Kinds() {
		f, problems, err := ingest.CSV(string(kind)+".csv", kind, bytes.NewReader(export.Sample(kind.Input())))
		require.NoError(t, err)
		require.Empty(t, problems, kind)
		require.Equal(t, f.Len(), len(export.SampleRows(kind.Input())))
		r, err := o.Intake.Import(ctx, []*kept.File{f}, intake.Origin{})
		require.NoError(t, err, kind)
		assert.Empty(t, r.Warnings, kind)
	}
	a, err := o.Assess.Day(ctx, calendar.On(2026, 10, 31))
	require.NoError(t, err)
	p, err := a.Project("N-01")
	require.NoError(t, err)
	assert.Equal(t, "1490000.00", p.Value(measure.BAC).Amount().Text("EUR"), "180,000 + 1,250,000 + 60,000")
	assert.Equal(t, "388750.50", p.Value(measure.AC).Amount().Text("EUR"), "176,400 + 212,350.50")
	assert.Equal(t, int64(10), p.Value(measure.FinishDeviation).N, "31 March to 14 April 2027: ten working days")
}

// A template that is sent back as it came brings the rows that it was filled with, and offers what is valid.
func TestTemplatesComeBack(t *testing.T) {
	for _, kind := range record.Kinds() {
		rows := export.SampleRows(kind.Input())
		var b bytes.Buffer
		require.NoError(t, export.Template(&b, kind.Input(), rows, map[string][]string{"project": {"N-01"}}))
		at := filepath.Join(t.TempDir(), "000")
		require.NoError(t, os.WriteFile(at, b.Bytes(), 0o600))
		sheets, err := ingest.Reader{}.Sheets(at, string(kind)+".xlsx", nil, setting.DefaultSettings())
		require.NoError(t, err)
		require.Equal(t, kind, sheets[0].Mapping.Kind)
		for _, s := range sheets[1:] {
			assert.True(t, s.Mapping.Skip, "%s: %s is no input", kind, s.Name)
		}
		f, problems, err := ingest.Reader{}.Read(at, string(kind)+".xlsx", sheets[0].Name, sheets[0].Mapping)
		require.NoError(t, err)
		require.Empty(t, problems, kind)
		plain, _, err := ingest.CSV("x.csv", kind, bytes.NewReader(export.Sample(kind.Input())))
		require.NoError(t, err)
		require.Equal(t, plain.Len(), f.Len(), kind)
		for i := range plain.Len() {
			assert.Equal(t, plain.Cells(i), f.Cells(i), kind)
		}
		if kind == record.Statuses {
			book, err := excelize.OpenReader(bytes.NewReader(b.Bytes()))
			require.NoError(t, err)
			checks, err := book.GetDataValidations(string(kind))
			require.NoError(t, err)
			assert.GreaterOrEqual(t, len(checks), 8, "drop-downs of the project and of seven statuses and the percentage")
			said, err := book.GetCellValue("columns", "A2")
			require.NoError(t, err)
			assert.Equal(t, "project", said)
		}
	}
}
