package draft_test

import (
	"context"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	appdraft "turret/internal/app/draft"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/load"
	"turret/internal/core/calendar"
	"turret/internal/demo"
	"turret/internal/demotest"
	"turret/internal/draft"
	"turret/internal/ingest"
	"turret/internal/record"
)

// gathering is the demonstration with an office that takes in drafts.
type gathering struct {
	t      *testing.T
	ctx    context.Context
	office *app.Office
	dir    string
}

func newGathering(t *testing.T) *gathering {
	t.Helper()
	ctx := access.As(context.Background(), access.Operator("a test"))
	dir := t.TempDir()
	s := demotest.Store(t)
	at := func() time.Time { return time.Date(2026, 12, 4, 10, 0, 0, 0, time.UTC) }
	return &gathering{t, ctx,
		app.NewOffice(s, at, app.Parts{Reader: ingest.Reader{}, Drafts: draft.In(filepath.Join(dir, "drafts"), time.Time{})}), dir}
}

// receive takes in files of a sender for a period.
func (g *gathering) receive(source, period string, paths ...string) *appdraft.Draft {
	g.t.Helper()
	m, err := calendar.ParsePeriod(period)
	require.NoError(g.t, err)
	d, err := g.office.Draft.Receive(g.ctx, source, m, func() (*appdraft.Upload, error) {
		if len(paths) == 0 {
			return nil, io.EOF
		}
		f, err := os.Open(paths[0])
		if err != nil {
			return nil, err
		}
		g.t.Cleanup(func() { _ = f.Close() })
		up := &appdraft.Upload{Name: filepath.Base(paths[0]), Body: f}
		paths = paths[1:]
		return up, nil
	})
	require.NoError(g.t, err)
	return d
}

func (g *gathering) preview(d *appdraft.Draft) *appdraft.Consequences {
	g.t.Helper()
	_, c, err := g.office.Draft.Preview(g.ctx, d.ID, d.Period.Last())
	require.NoError(g.t, err)
	return c
}

// means gives values a meaning, by column and what the file says.
func (g *gathering) means(d *appdraft.Draft, meanings map[string]map[string]string) {
	g.t.Helper()
	var list []intake.Mapping
	for _, s := range d.Sheets {
		m := s.Sheet.Mapping
		m.Values = meanings
		list = append(list, m)
	}
	_, err := g.office.Draft.Remap(g.ctx, d.ID, d.Source, d.Period, list)
	require.NoError(g.t, err)
}

func (g *gathering) load(d *appdraft.Draft) []kept.Load {
	g.t.Helper()
	j, err := g.office.Load.Start(g.ctx, d.ID)
	require.NoError(g.t, err)
	require.NoError(g.t, j.Wait(context.Background()))
	require.NoError(g.t, j.Now().Err)
	return j.Now().Result.Loads
}

func sheetOf(t *testing.T, d *appdraft.Draft, name string) *intake.Sheet {
	t.Helper()
	for i := range d.Sheets {
		if strings.HasSuffix(d.Sheets[i].Sheet.Title(), name) {
			return &d.Sheets[i].Sheet
		}
	}
	t.Fatalf("no sheet %s", name)
	return nil
}

// The six senders of November as they ship, and of December from what was remembered, each figure held against the records
// that the files were made of.
func TestSendersAreTakenInAndRemembered(t *testing.T) {
	g := newGathering(t)
	const nov = "../../../examples/november-2026/"

	ledger := g.receive("Finance", "2026-11", nov+"finance/GL-extract-2026-11.csv")
	m := sheetOf(t, ledger, ".csv").Mapping
	assert.Equal(t, record.Actuals, m.Kind)
	assert.Equal(t, intake.Dialect{Encoding: "windows-1252", Separator: "semicolon", Decimal: "comma", Dates: "dmy", HeadRow: 4}, m.Dialect)
	c := g.preview(ledger)
	require.Empty(t, c.Problems)
	all, err := demo.Records(calendar.On(2026, 11, 1).Month())
	require.NoError(t, err)
	want := map[string]int{}
	for _, r := range all.Postings {
		if r["date"][:7] == "2026-11" && !strings.HasPrefix(r["project"], "DT-") {
			want[r["project"]+r["cost_code"]+r["date"]+strings.TrimSuffix(r["amount"], "0")+r["document"]]++
		}
	}
	f := c.Files[0]
	got := map[string]int{}
	for i := range f.Len() {
		cells := f.Cells(i)
		got[cells[0]+cells[1]+cells[2]+strings.TrimSuffix(cells[3], "0")+cells[6]]++
	}
	assert.Equal(t, want, got, "every posting, to the cent and the day")
	assert.Contains(t, f.Recognised, "1 row of totals left out")
	g.load(ledger)

	book := g.receive("Locks and Weirs", "2026-11", nov+"locks-and-weirs/LW return November 2026.xlsx")
	assert.True(t, sheetOf(t, book, "Read me").Mapping.Skip)
	assert.Equal(t, int64(1000), sheetOf(t, book, "Money").Mapping.Factors["amount"], "in K€ by what stands above the heads")
	assert.Equal(t, int64(100), sheetOf(t, book, "Plan").Mapping.Factors["percent_complete"], "shares of one")
	c = g.preview(book)
	require.NotEmpty(t, c.Problems)
	troubles, err := g.office.Draft.Troubles(g.ctx, book, c.Problems)
	require.NoError(t, err)
	require.Len(t, troubles, 2, "Task and Phase, however many rows")
	g.means(book, map[string]map[string]string{"kind": {"task": "activity", "phase": "summary"}})
	c = g.preview(book)
	require.Empty(t, c.Problems)
	g.load(book)
}

func TestSendersOfDecemberNeedNoHand(t *testing.T) {
	g := newGathering(t)
	dir := map[string]string{}
	for _, p := range []string{"2026-11", "2026-12"} {
		dir[p] = filepath.Join(g.dir, p)
		m, err := calendar.ParseMonth(p)
		require.NoError(t, err)
		require.NoError(t, demo.Senders(m, dir[p]))
	}
	files := map[string]string{"Locks and Weirs": "locks-and-weirs/*.xlsx", "Locks and banks": "locks-and-banks-status/*.json",
		"Boats": "boats-and-banks/*.txt", "Finance": "finance/*.csv"}
	health := map[string]string{"green": "on track", "amber": "watch", "red": "act"}
	for source, pattern := range files {
		paths, err := filepath.Glob(filepath.Join(dir["2026-11"], pattern))
		require.NoError(t, err)
		d := g.receive(source, "2026-11", paths...)
		g.means(d, map[string]map[string]string{"kind": {"task": "activity", "phase": "summary"}, "overall": health, "schedule": health,
			"cost": health})
		require.Empty(t, g.preview(d).Problems, source)
		g.load(d)
	}
	for source, pattern := range files {
		paths, err := filepath.Glob(filepath.Join(dir["2026-12"], pattern))
		require.NoError(t, err)
		r, err := g.office.Load.TakeIn(g.ctx, g.receive(source, "2026-12", paths...), true)
		require.NoError(t, err, "as the command line takes it in")
		assert.NotEmpty(t, r.Files)
		_, err = g.office.Load.TakeIn(g.ctx, g.receive("Nobody yet", "2026-12", paths...), true)
		require.ErrorIs(t, err, load.ErrUnmapped)
		d := g.receive(source, "2026-12", paths...)
		c := g.preview(d)
		assert.Empty(t, c.Problems, source)
		for _, s := range d.Sheets {
			assert.True(t, s.Sheet.Remembered || s.Sheet.Mapping.Skip, s.Sheet.Title())
		}
		g.load(d)
	}
}

// What ships as examples is what the code makes.
func TestExamplesAreThoseOfTheSenders(t *testing.T) {
	for period, folder := range map[string]string{"2026-11": "november-2026", "2026-12": "december-2026"} {
		dir := t.TempDir()
		m, err := calendar.ParseMonth(period)
		require.NoError(t, err)
		require.NoError(t, demo.Senders(m, dir))
		made, err := filepath.Glob(filepath.Join(dir, "*", "*"))
		require.NoError(t, err)
		require.Len(t, made, 7)
		for _, p := range made {
			rel, _ := filepath.Rel(dir, p)
			want, err := os.ReadFile(p)
			require.NoError(t, err)
			held, err := os.ReadFile(filepath.Join("../../../examples", folder, rel))
			require.NoError(t, err)
			if filepath.Ext(p) == ".csv" || filepath.Ext(p) == ".txt" || filepath.Ext(p) == ".json" {
				assert.Equal(t, string(want), string(held), rel)
			}
		}
	}
}
