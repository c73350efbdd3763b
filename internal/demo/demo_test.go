package demo_test

import (
	"context"
	"crypto/sha256"
	"encoding/csv"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/lookout"
	"turret/internal/app/setting"
	"turret/internal/core/breakdown"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/demo"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/store"
)

func office(t *testing.T) (*app.Office, *assess.Assessment) {
	t.Helper()
	ctx := access.As(context.Background(), access.Operator("a test"))
	s := demotest.Store(t)
	o := app.NewOffice(s, demotest.Now, app.Parts{})
	a, err := o.Assess.Day(ctx, demo.AsOf)
	require.NoError(t, err)
	return o, a
}

// Each story can be read off the figures.
func TestStoriesShow(t *testing.T) {
	_, a := office(t)
	of := func(code string) *measure.Project {
		p, err := a.Project(code)
		require.NoError(t, err)
		return p
	}
	count := map[string]int{}
	for _, p := range a.Projects {
		count[p.Status.String()]++
	}
	assert.Equal(t, map[string]int{"open": 27, "proposed": 9, "closed": 66}, count)

	assert.Equal(t, 2, lookout.Better(of("LW-07")), "a lock rebuild declared on track, two steps better than computed")
	gates := of("BR-03")
	assert.Equal(t, health.Act, gates.Health.By[health.Cost])
	assert.Greater(t, of("LW-11").Value(measure.FinishDeviation).N, int64(55), "the crane barge slips")
	assert.Equal(t, health.OnTrack, of("FW-06").Health.Overall)
	assert.Positive(t, int64(of("BR-06").Account.Changes), "a budget raised in August")
	assert.Contains(t, of("BR-05").Health.Reason(), "budget to date", "earned value off: actual against budget to date")
	assert.Empty(t, of("DT-05").Health.Reason(), "ahead of plan and under budget is quiet")
	assert.Contains(t, of("FW-01").Health.Reason(), "First season planted 39 working days late")
	cabins := of("LW-09")
	last := cabins.Account.First + calendar.Month(len(cabins.Account.ActualBy)-1)
	assert.Greater(t, last, cabins.Outlook.ExpectedFinish.Month(), "cost posted after the finish")
}

// In August the budget of the bank was raised, and its lead sent the months left of July's forecast.
func TestForecastSleepsThroughARaise(t *testing.T) {
	o, _ := office(t)
	a, err := o.Assess.Day(access.As(context.Background(), access.Operator("a test")), calendar.On(2026, 8, 31))
	require.NoError(t, err)
	p, err := a.Project("BR-06")
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(p.Checks.Findings, func(f check.Finding) bool { return f.Rule.ID == "budget_raised" }))
}

// The gates' overrun is the krona's alone: at plan rates throughout, the estimate equals the budget to within rounding.
func TestGatesOverrunByTheRateAlone(t *testing.T) {
	o, a := office(t)
	tr, err := o.Trace.Trace(access.As(context.Background(), access.Operator("a test")), a, "BR-03", "ac")
	require.NoError(t, err)
	var motors, all int64
	for _, code := range tr.Root.Children {
		all += code.Value.N
		if code.Label == "31 Motors and gates" {
			motors = code.Value.N
		}
	}
	p, err := a.Project("BR-03")
	require.NoError(t, err)
	for _, c := range breakdown.ByCode(p) {
		if a.CodeName(c.Code) != "31 Motors and gates" {
			assert.InDelta(t, 0, float64(c.Variance), 100, "codes in euro are on plan")
		}
	}
	assert.Equal(t, p.Value(measure.AC).N, all)
	assert.Positive(t, motors)
}

func TestGenerateMakesExactlyWhatWasAskedAndTheSameAgain(t *testing.T) {
	size := demo.Size{Projects: 7, Activities: 101, Ledger: 503, Seed: 4}
	var digests [2][32]byte
	for i := range digests {
		dir := t.TempDir()
		require.NoError(t, demo.Generate(size, dir))
		for kind, want := range map[string]int{"projects": 7, "activities": 101, "actuals": 503} {
			f, err := os.Open(filepath.Join(dir, kind+".csv"))
			require.NoError(t, err)
			rows, err := csv.NewReader(f).ReadAll()
			require.NoError(t, err)
			require.NoError(t, f.Close())
			assert.Len(t, rows, want+1, kind)
		}
		b, err := os.ReadFile(filepath.Join(dir, "actuals.csv"))
		require.NoError(t, err)
		digests[i] = sha256.Sum256(b)
		files, _, err := ingest.Paths([]string{dir}, "")
		require.NoError(t, err)
		s, err := store.Create(access.As(context.Background(), access.Operator("a test")), filepath.Join(dir, "x.db"), "EUR")
		require.NoError(t, err)
		_, err = app.NewOffice(s, demotest.Now, app.Parts{}).Intake.Import(
			access.As(context.Background(), access.Operator("a test")), files,
			intake.Origin{})
		require.NoError(t, err)
		require.NoError(t, s.Close())
	}
	assert.Equal(t, digests[0], digests[1])
	assert.Error(t, demo.Size{Projects: 0}.Check())
}

// Nothing in the demonstration is stamped after the day on which it takes place, nor is anything promised by the machine's clock.
func TestNothingIsStampedAfterToday(t *testing.T) {
	s := demotest.Store(t)
	ctx := access.As(context.Background(), access.Operator("a test"))
	loads, err := s.Loads(ctx)
	require.NoError(t, err)
	for i := range loads {
		assert.LessOrEqual(t, setting.DayOf(loads[i].ReceivedAt), demo.Today, "load %d", loads[i].ID)
	}
	entries := 0
	_, err = s.HoldTrail(ctx, func(e *kept.Entry) {
		entries++
		assert.LessOrEqual(t, setting.DayOf(e.At), demo.Today, "%s %s", e.Act, e.Subject)
	})
	require.NoError(t, err)
	assert.Greater(t, entries, 50)
}
