package store_test

import (
	"context"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	appdraft "turret/internal/app/draft"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/demo"
	"turret/internal/demotest"
	"turret/internal/draft"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
)

const ledgerRows = 500_000

// generated writes a portfolio once per process and returns its folder.
func generated(b *testing.B, size demo.Size) string {
	b.Helper()
	dir := b.TempDir()
	require.NoError(b, demo.Generate(size, dir))
	return dir
}

func fresh(b *testing.B) *store.Store {
	b.Helper()
	s, err := store.Create(ctx, filepath.Join(b.TempDir(), "bench.db"), "EUR")
	require.NoError(b, err)
	return s
}

func take(b *testing.B, s *store.Store, paths ...string) {
	b.Helper()
	files, _, err := ingest.Paths(paths, "")
	require.NoError(b, err)
	_, err = app.NewOffice(s, demotest.Now, app.Parts{}).Intake.Import(ctx, files, intake.Origin{})
	require.NoError(b, err)
}

// BenchmarkLoad compares reading, checking and storing half a million postings from CSV with the driver's plain insert of
// as many rows in batches of a hundred, into a table without keys, everything ready in memory.
func BenchmarkLoad(b *testing.B) {
	dir := generated(b, demo.Size{Projects: 1000, Ledger: ledgerRows, Seed: 1})
	ledger := filepath.Join(dir, "actuals.csv")
	b.Run("csv", func(b *testing.B) {
		for b.Loop() {
			b.StopTimer()
			s := fresh(b)
			for _, kind := range []string{"structure", "cost_codes", "rates", "projects"} {
				take(b, s, filepath.Join(dir, kind+".csv"))
			}
			b.StartTimer()
			take(b, s, ledger)
			b.StopTimer()
			require.NoError(b, s.Close())
			b.StartTimer()
		}
		b.ReportMetric(float64(ledgerRows)*float64(b.N)/b.Elapsed().Seconds(), "rows/s")
	})
	b.Run("plain", func(b *testing.B) {
		for b.Loop() {
			plainInsert(b)
		}
		b.ReportMetric(float64(ledgerRows)*float64(b.N)/b.Elapsed().Seconds(), "rows/s")
	})
}

func plainInsert(b *testing.B) {
	db, err := sqlx.Open("sqlite", "file:"+filepath.Join(b.TempDir(), "inserts.db")+
		"?_pragma=journal_mode(WAL)&_pragma=synchronous(NORMAL)&_pragma=cache_size(-65536)")
	require.NoError(b, err)
	defer db.Close()
	db.SetMaxOpenConns(1)
	db.MustExec(`CREATE TABLE t (a INTEGER, b INTEGER, c INTEGER, d INTEGER, e INTEGER, f INTEGER, g TEXT, h TEXT, i TEXT, j TEXT, k TEXT)`)
	tx := db.MustBegin()
	st, err := tx.Preparex("INSERT INTO t VALUES " + strings.Repeat("(?,?,?,?,?,?,?,?,?,?,?),", 99) + "(?,?,?,?,?,?,?,?,?,?,?)")
	require.NoError(b, err)
	args := make([]any, 0, 1100)
	for n := range ledgerRows {
		args = append(args, int64(n/500), int64(5), int64(n), int64(3), int64(739000), int64(n*7), "EUR", "", "V123456", "Castelo Civil",
			"")
		if len(args) == 1100 {
			_, err := st.Exec(args...)
			require.NoError(b, err)
			args = args[:0]
		}
	}
	require.NoError(b, tx.Commit())
}

// BenchmarkAssess compares computing everything from cold with merely reading the same rows through the same queries.
func BenchmarkAssess(b *testing.B) {
	dir := generated(b, demo.Size{Projects: 1000, Activities: 200_000, Ledger: ledgerRows, Seed: 1})
	s := fresh(b)
	defer s.Close()
	take(b, s, dir)
	b.Run("cold", func(b *testing.B) {
		for b.Loop() {
			_, err := app.NewOffice(s, demotest.Now, app.Parts{}).Assess.Day(ctx, demo.AsOf)
			require.NoError(b, err)
		}
	})
	b.Run("read", func(b *testing.B) {
		for b.Loop() {
			require.NoError(b, readAll(s))
		}
	})
	b.Run("changed", func(b *testing.B) { // one project, by a forecast that is sent
		o := app.NewOffice(s, demotest.Now, app.Parts{})
		a, err := o.Assess.Day(ctx, demo.AsOf)
		require.NoError(b, err)
		n := 0
		for b.Loop() {
			b.StopTimer()
			n++
			path := filepath.Join(b.TempDir(), "forecast.csv")
			row := fmt.Sprintf("project,cost_code,amount,month\n%s,11,%d,2026-12\n", a.Projects[n%100].Code, n)
			require.NoError(b, os.WriteFile(path, []byte(row), 0o600))
			take(b, s, path)
			b.StartTimer()
			_, err = o.Assess.Day(ctx, demo.AsOf)
			require.NoError(b, err)
		}
	})
}

func readAll(s *store.Store) error {
	var activities []kept.ActivityFact
	var lines []cost.Line
	var amounts []money.Amount
	var declared []measure.Declared
	var links []kept.LinkFact
	_, err := s.Masters(access.As(context.Background(), access.Operator("a test")))
	for _, read := range []func() error{
		func() error {
			return s.Activities(ctx, nil, func(_ int64, a *kept.ActivityFact) { activities = append(activities, *a) })
		},
		func() error {
			return s.Links(ctx, nil, false, func(_ int64, l *kept.LinkFact) { links = append(links, *l) })
		},
		func() error {
			return s.Lines(ctx, record.Budget, nil, func(_ int64, l cost.Line) { lines = append(lines, l) })
		},
		func() error {
			return s.Lines(ctx, record.Forecast, nil, func(_ int64, l cost.Line) { lines = append(lines, l) })
		},
		func() error {
			return s.Amounts(ctx, nil, func(_ int64, x *cost.Posting) {
				amounts = append(amounts, x.Amount)
			})
		},
		func() error {
			return s.Declared(ctx, nil, func(_ int64, d measure.Declared) { declared = append(declared, d) })
		},
	} {
		if err == nil {
			err = read()
		}
	}
	return err
}

// BenchmarkPreview compares finding out what a ledger of 100,000 rows would do to 200 projects, which hold as many already, with
// loading it.
func BenchmarkPreview(b *testing.B) {
	dir := generated(b, demo.Size{Projects: 200, Activities: 40_000, Ledger: 100_000, Seed: 1})
	next := generated(b, demo.Size{Projects: 200, Ledger: 100_000, Seed: 2})
	s := fresh(b)
	defer s.Close()
	take(b, s, dir)
	o := app.NewOffice(s, demotest.Now, app.Parts{Reader: ingest.Reader{},
		Drafts: draft.In(filepath.Join(b.TempDir(), "drafts"), time.Time{})})
	receive := func() *appdraft.Draft {
		f, err := os.Open(filepath.Join(next, "actuals.csv"))
		require.NoError(b, err)
		defer f.Close()
		sent := false
		d, err := o.Draft.Receive(ctx, "bench", calendar.Months.Of(calendar.On(2026, 10, 31)), func() (*appdraft.Upload, error) {
			if sent {
				return nil, io.EOF
			}
			sent = true
			return &appdraft.Upload{Name: "actuals.csv", Body: f}, nil
		})
		require.NoError(b, err)
		return d
	}
	b.Run("receive", func(b *testing.B) {
		for b.Loop() {
			receive()
		}
	})
	d := receive()
	_, err := o.Assess.Day(ctx, calendar.On(2026, 10, 31))
	require.NoError(b, err)
	b.Run("preview", func(b *testing.B) {
		for b.Loop() {
			_, c, err := o.Draft.Preview(ctx, d.ID, calendar.On(2026, 10, 31))
			require.NoError(b, err)
			require.Empty(b, c.Problems)
		}
	})
	b.Run("dry run", func(b *testing.B) {
		for b.Loop() {
			_, err := o.Load.TakeIn(ctx, receive(), true)
			require.NoError(b, err)
		}
	})
	b.Run("load", func(b *testing.B) {
		for b.Loop() {
			b.StopTimer()
			l, err := s.LoadOf(ctx, record.Actuals, digestOfLast)
			require.NoError(b, err)
			if l != nil {
				require.NoError(b, o.Load.Withdraw(ctx, l.ID, "to load it again"))
			}
			d := receive()
			b.StartTimer()
			r, err := o.Load.TakeIn(ctx, d, false)
			require.NoError(b, err)
			digestOfLast = r.Loads[0].Digest
		}
	})
}

var digestOfLast string
