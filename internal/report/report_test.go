package report_test

import (
	"bytes"
	"context"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/core/calendar"
	"turret/internal/ingest"
	"turret/internal/report"
	"turret/internal/store"
)

func assessed(t *testing.T, projects string) (*app.Assessment, *app.Lookout) {
	t.Helper()
	ctx := app.As(context.Background(), app.Operator("a test"))
	s, err := store.Create(ctx, filepath.Join(t.TempDir(), "x.db"), "EUR")
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := app.NewOffice(s, time.Now, app.Parts{})
	files := map[app.Kind]string{app.CostCodes: "code,name\nC,Cost\n", app.Projects: projects,
		app.Budget:     "project,cost_code,amount,month\n=A,C,1000,2026-09\n",
		app.Activities: "project,code,name,kind,baseline_finish,finish\n=A,M,🚢 sails,milestone,2026-10-01,2026-12-01\n"}
	var list []*app.File
	for _, kind := range app.Kinds() {
		if text, ok := files[kind]; ok {
			f, problems, err := ingest.CSV(string(kind), kind, strings.NewReader(text))
			require.NoError(t, err)
			require.Empty(t, problems)
			list = append(list, f)
		}
	}
	_, err = o.Import(ctx, list, app.Origin{})
	require.NoError(t, err)
	a, err := o.Assess(ctx, calendar.On(2026, 10, 31))
	require.NoError(t, err)
	l, err := a.Lookout("", app.Filter{})
	require.NoError(t, err)
	return a, l
}

// Names beyond the basic plane, very long ones and empty projects must neither stop the pack nor change it between runs.
func TestPackIsTheSameBytes(t *testing.T) {
	a, l := assessed(t, "code,name\n=A,Boat 🚤 "+strings.Repeat("very long name ", 60)+"\nB,Nothing sent\n")
	var one, two bytes.Buffer
	require.NoError(t, report.Pack(&one, a, l))
	require.NoError(t, report.Pack(&two, a, l))
	assert.Equal(t, one.Bytes(), two.Bytes())
	assert.True(t, bytes.HasPrefix(one.Bytes(), []byte("%PDF-")))
	assert.Equal(t, 4, bytes.Count(one.Bytes(), []byte("/Type /Page\n")), "front, table and a page per project")
	assert.NotContains(t, one.String(), "/Subtype /Image", "vectors only")
}

func TestPackOfNothing(t *testing.T) {
	a, _ := assessed(t, "code,name\n=A,Boat\n")
	l := &app.Lookout{Scope: &app.Scope{}}
	var b bytes.Buffer
	assert.NoError(t, report.Pack(&b, a, l))
}

func TestTextsThatAreFormulasAreGuarded(t *testing.T) {
	a, l := assessed(t, "code,name\n=A,Boat\n")
	var b bytes.Buffer
	tab := report.Table{Env: a.Env, Keys: []string{"bac", "vac"}, Scope: &app.Scope{Projects: l.Open}}
	require.NoError(t, tab.CSV(&b))
	assert.Equal(t, "project,as_of,currency,bac,vac\n'=A,2026-10-31,EUR,1000.00,\n*,2026-10-31,EUR,1000.00,\n", b.String())
	assert.Equal(t, "'@x", report.Safe("@x"))
	assert.Equal(t, "x=1", report.Safe("x=1"))
}
