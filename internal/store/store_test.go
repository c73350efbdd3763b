package store_test

import (
	"context"
	"errors"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
	"turret/internal/record"
	"turret/internal/store"
)

var (
	ctx = access.As(context.Background(), access.Operator("a test"))
	at  = time.Date(2026, 11, 3, 8, 0, 0, 0, time.UTC)

	october = calendar.Months.Of(calendar.On(2026, 10, 1))
)

func lines(t *testing.T, s *store.Store, kind record.Kind) map[int64][]cost.Line {
	t.Helper()
	got := map[int64][]cost.Line{}
	require.NoError(t, s.Lines(ctx, kind, nil, func(p int64, l cost.Line) { got[p] = append(got[p], l) }))
	return got
}

// A newer load replaces the rows of its projects and leaves the others; each row knows its load and row.
func TestRevisions(t *testing.T) {
	s, o := apptest.Opened(t)
	first, err := o.Intake.Import(ctx,
		[]*kept.File{apptest.Read(t, record.Budget, "project,cost_code,amount,month\nA,C,1,2026-01\nB,C,2,2026-01\nA,C,3,2026-02\n")},
		intake.Origin{})
	require.NoError(t, err)
	second, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Budget,
		"project,cost_code,amount,month\nA,C,4.50,2026-03\n")}, intake.Origin{})
	require.NoError(t, err)
	m, err := s.Masters(ctx)
	require.NoError(t, err)
	id := map[string]int64{}
	for _, p := range m.Projects {
		id[p.Code] = p.ID
	}
	got := lines(t, s, record.Budget)
	require.Len(t, got[id["A"]], 1)
	assert.Equal(t, money.Amount(450), got[id["A"]][0].Amount)
	assert.Equal(t, []any{second.Loads[0].ID, int32(2)}, []any{got[id["A"]][0].Ref.Load, got[id["A"]][0].Ref.Row})
	require.Len(t, got[id["B"]], 1)
	assert.Equal(t, money.Currency("SEK"), got[id["B"]][0].Currency, "by default the project's own")
	assert.Equal(t, []any{first.Loads[0].ID, int32(3)}, []any{got[id["B"]][0].Ref.Load, got[id["B"]][0].Ref.Row})
	assert.Empty(t, lines(t, s, record.Forecast))
}

func TestMastersKeepTheirNewestRow(t *testing.T) {
	s, o := apptest.Opened(t)
	_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Projects,
		"code,name,parent,currency,status\nA,Renamed,PF,EUR,closed\n")},
		intake.Origin{})
	require.NoError(t, err)
	m, err := s.Masters(ctx)
	require.NoError(t, err)
	require.Len(t, m.Projects, 2)
	assert.Equal(t, []string{"Renamed", "closed"}, []string{m.Projects[0].Name, m.Projects[0].Status.String()})
	assert.Equal(t, "Second", m.Projects[1].Name)
	assert.Equal(t, money.Currency("EUR"), m.Reporting)
}

func TestCalendarsAreReplacedWhole(t *testing.T) {
	s, o := apptest.Opened(t)
	for _, text := range []string{"calendar,weekday,date,working\ndefault,,2026-10-12,no\nnight,sat,,yes\n",
		"calendar,weekday,date,working\ndefault,,2026-10-13,no\n"} {
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Calendars, text)}, intake.Origin{})
		require.NoError(t, err)
	}
	m, err := s.Masters(ctx)
	require.NoError(t, err)
	weeks := kept.Weeks(m.Calendars)
	assert.Equal(t, map[calendar.Date]bool{calendar.On(2026, 10, 13): false}, weeks["default"].Exceptions)
	assert.True(t, weeks["night"].Days[5])
}

func TestLedgerAddsUpOverLoads(t *testing.T) {
	s, o := apptest.Opened(t)
	var want money.Amount
	for _, amount := range []string{"10.00", "20.50"} {
		text := "project,cost_code,date,amount\n" + strings.Repeat("A,C,2026-01-05,"+amount+"\n", 150)
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Actuals, text)}, intake.Origin{})
		require.NoError(t, err)
		a, err := money.Parse(amount, "EUR")
		require.NoError(t, err)
		want += 150 * a
	}
	var sum money.Amount
	rows := 0
	require.NoError(t, s.Amounts(ctx, nil, func(_ int64, x *cost.Posting) {
		sum += x.Amount
		rows++
	}))
	assert.Equal(t, []any{want, 300}, []any{sum, rows})
}

// A row that the database refuses, here by a project that is not there, takes the whole import back with it.
func TestFailedSaveLeavesNothing(t *testing.T) {
	s, _ := apptest.Opened(t)
	before, err := s.Loads(ctx)
	require.NoError(t, err)
	_, err = s.Save(ctx, kept.Batch{At: at, Files: []*kept.File{
		apptest.Read(t, record.Projects, "code,name\nD,New\n"),
		apptest.Read(t, record.Budget, "project,cost_code,amount,month\nNONE,C,1,2026-01\n"),
	}})
	assert.ErrorIs(t, err, fault.ErrNotFound)
	after, err := s.Loads(ctx)
	require.NoError(t, err)
	assert.Equal(t, before, after)
	m, err := s.Masters(ctx)
	require.NoError(t, err)
	assert.Len(t, m.Projects, 2)
}

func TestReadersGoOnWhileLoading(t *testing.T) {
	s, o := apptest.Opened(t)
	var wait sync.WaitGroup
	for range 4 {
		wait.Go(func() {
			for range 40 {
				if _, err := s.Masters(ctx); err != nil {
					t.Error(err)
				}
			}
		})
	}
	for range 10 {
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, record.Budget, "project,cost_code,amount,month\nA,C,1,2026-01\n")},
			intake.Origin{})
		require.NoError(t, err)
	}
	wait.Wait()
}

func TestCreateRefuses(t *testing.T) {
	path := filepath.Join(t.TempDir(), "x.db")
	_, err := store.Create(ctx, path, "")
	assert.ErrorIs(t, err, store.ErrNoReporting)
	_, err = store.Open(ctx, path)
	assert.Error(t, err, "opening makes no file")
	s, err := store.Create(ctx, path, "JPY")
	require.NoError(t, err)
	require.NoError(t, s.Close())
	_, err = store.Create(ctx, path, "EUR")
	assert.Error(t, err, "an existing file is not overwritten")
}

// What only shows when files are held against each other and against the store.
func TestReferencesAreChecked(t *testing.T) {
	_, o := apptest.Opened(t)
	for _, c := range []struct {
		name string
		kind record.Kind
		text string
		row  int32
		col  string
		want string
	}{
		{"an unknown project in the actuals", record.Actuals, "project,cost_code,date,amount\nA,C,2026-01-05,1\nNO,C,2026-01-05,1\n", 3,
			"project", "the code of a project"},
		{"an unknown cost code", record.Actuals, "project,cost_code,date,amount\nA,X,2026-01-05,1\n", 2, "cost_code", "a cost code"},
		{"too many decimals for the currency", record.Actuals, "project,cost_code,date,amount,currency\nA,C,2026-01-05,1.5,JPY\n", 2,
			"amount", "at most 0 decimals for JPY"},
		{"an amount beyond all", record.Actuals, "project,cost_code,date,amount\nA,C,2026-01-05,100000000001\n", 2, "amount",
			"an amount up to"},
		{"duplicate codes", record.Projects, "code,name\nD,One\nD,Two\n", 3, "code", "it stands in row 2 already"},
		{"a parent loop", record.Structure, "code,name,level,parent\nX,X,programme,Y\nY,Y,programme,Z\nZ,Z,programme,X\n", 2, "parent",
			"X → Y → Z → X"},
		{"its own parent", record.Structure, "code,name,level,parent\nX,X,programme,X\n", 2, "parent", "X → X"},
		{"an unknown parent", record.Projects, "code,name,parent\nD,D,NO\n", 2, "parent", "portfolio or programme"},
		{"a project named as a programme", record.Projects, "code,name\nPG,D\n", 2, "code", "no portfolio or programme has"},
		{"a loop of summaries", record.Activities, "project,code,name,parent\nA,1,x,2\nA,2,y,1\n", 2, "parent", "1 → A/2 → A/1"},
		{"a summary of another project", record.Activities, "project,code,name,parent\nB,1,x,\nA,2,y,1\n", 3, "parent",
			"of the same project"},
		{"a calendar nobody sent", record.Activities, "project,code,name,calendar\nA,1,x,night\n", 2, "calendar", "name of a calendar"},
		{"no day worked", record.Calendars, "calendar,weekday,working\nc,mon,no\nc,tue,no\nc,wed,no\nc,thu,no\nc,fri,no\n", 0, "calendar",
			"at least one working weekday"},
		{"a status twice", record.Statuses, "project,overall\nA,act\nA,watch\n", 3, "project", "row 2 already"},
		{"a rate of the reporting currency", record.Rates, "currency,month,rate\nEUR,2026-01,1\n", 2, "currency", "another currency"},
	} {
		_, err := o.Intake.Import(ctx, []*kept.File{apptest.Read(t, c.kind, c.text)}, intake.Origin{})
		var refusal *fault.Refusal
		if assert.True(t, errors.As(err, &refusal), c.name) {
			p := refusal.Problems[0]
			assert.Equal(t, []any{c.row, c.col}, []any{p.Row, p.Column}, "%s: %v", c.name, p)
			assert.Contains(t, p.Expected, c.want, c.name)
			assert.ErrorIs(t, err, fault.ErrRefused)
		}
	}
}
