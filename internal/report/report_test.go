package report_test

import (
	"bytes"
	"context"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/lookout"
	"turret/internal/core/measure"
	"turret/internal/export"

	appreport "turret/internal/app/report"
	"turret/internal/core/calendar"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/report"
)

func office(t *testing.T, projects string) (context.Context, *app.Office) {
	t.Helper()
	ctx := access.As(context.Background(), access.Operator("a test"))
	s, err := demotest.Create(ctx, filepath.Join(t.TempDir(), "x.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := app.NewOffice(s, demotest.Now, app.Parts{})
	files := map[record.Kind]string{record.CostCodes: "code,name\nC,Cost\n", record.Projects: projects,
		record.Budget:     "project,cost_code,amount,month\n=A,C,1000,2026-09\n",
		record.Activities: "project,code,name,kind,baseline_finish,finish\n=A,M,🚢 sails,milestone,2026-10-01,2026-12-01\n"}
	var list []*kept.File
	for _, kind := range record.Kinds() {
		if text, ok := files[kind]; ok {
			f, problems, err := ingest.CSV(string(kind), kind, strings.NewReader(text))
			require.NoError(t, err)
			require.Empty(t, problems)
			list = append(list, f)
		}
	}
	_, err = o.Intake.Import(ctx, list, intake.Origin{})
	require.NoError(t, err)
	return ctx, o
}

func assessed(t *testing.T, projects string) (*assess.Assessment, *lookout.Lookout) {
	t.Helper()
	ctx, o := office(t, projects)
	a, err := o.Assess.Day(ctx, calendar.On(2026, 10, 31))
	require.NoError(t, err)
	l, err := lookout.Of(a, "", lookout.Filter{})
	require.NoError(t, err)
	return a, l
}

// reported is a report of every section, or of those named, in a form.
func reported(ctx context.Context, t *testing.T, o *app.Office, format string, keys ...string) []byte {
	t.Helper()
	r := &appreport.Report{Name: "All of it", Cover: true}
	for _, s := range appreport.SectionKinds() {
		if len(keys) == 0 || slices.Contains(keys, s.Key) {
			r.Parts = append(r.Parts, appreport.Part{Key: s.Key})
		}
	}
	c, err := o.Report.Content(ctx, r, calendar.On(2026, 10, 31))
	require.NoError(t, err)
	var b bytes.Buffer
	_, err = report.Write(&b, format, c)
	require.NoError(t, err)
	return b.Bytes()
}

// Names beyond the basic plane, very long ones and empty projects must neither stop a report nor change it between runs.
func TestReportsAreTheSameBytes(t *testing.T) {
	ctx, o := office(t, "code,name\n=A,Boat 🚤 "+strings.Repeat("very long name ", 60)+"\nB,Nothing sent\n")
	for _, format := range []string{"pdf", "html", "csv"} {
		assert.Equal(t, reported(ctx, t, o, format), reported(ctx, t, o, format), format)
	}
	pdf := string(reported(ctx, t, o, "pdf"))
	assert.True(t, strings.HasPrefix(pdf, "%PDF-"))
	assert.NotContains(t, pdf, "/Subtype /Image", "vectors only")
	ctx, o = office(t, "code,name\n=A,Boat\nB,Nothing sent\n")
	assert.Equal(t, 4, strings.Count(string(reported(ctx, t, o, "pdf", "projects")), "/Type /Page\n"),
		"cover, contents and a page per project")
}

func TestReportsOfNothing(t *testing.T) {
	ctx, o := office(t, "code,name,status\n=A,Boat,closed\n")
	for format := range report.Media {
		assert.NotEmpty(t, reported(ctx, t, o, format), format)
	}
}

func TestTextsThatAreFormulasAreGuarded(t *testing.T) {
	a, l := assessed(t, "code,name\n=A,Boat\n")
	var b bytes.Buffer
	tab := export.Table{Env: a.Env, Keys: []measure.Key{measure.BAC, measure.VAC}, Scope: &assess.Scope{Projects: l.Open}}
	require.NoError(t, tab.CSV(&b))
	assert.Equal(t, "project,as_of,currency,bac,vac\n'=A,2026-10-31,EUR,1000.00,\n*,2026-10-31,EUR,1000.00,\n", b.String())
	assert.Equal(t, "'@x", export.Safe("@x"))
	assert.Equal(t, "x=1", export.Safe("x=1"))
}
