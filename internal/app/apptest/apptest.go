// Package apptest makes offices small enough to be worked by hand, for the tests of each capability.
package apptest

import (
	"context"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/demo"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
)

// October 2026 ends on a Saturday; it is told on Tuesday 3 November.
var (
	Ctx     = access.As(context.Background(), access.Operator("ann"))
	October = calendar.Months.Of(calendar.On(2026, 10, 1))
	Last    = October.Last()
	At      = demotest.At
)

// Sent is a file of a kind for a period.
type Sent struct {
	Kind   record.Kind
	Period calendar.Period
	Text   string
}

// Send has an office take in files, each for its period.
func Send(t *testing.T, o *app.Office, list ...Sent) {
	t.Helper()
	for _, x := range list {
		own, err := o.Intake.Own(Ctx)
		require.NoError(t, err)
		f, problems, err := ingest.Reader{Own: own}.CSV(string(x.Kind)+".csv", x.Kind, strings.NewReader(x.Text))
		require.NoError(t, err)
		require.Empty(t, problems, x.Text)
		_, err = o.Intake.Import(Ctx, []*kept.File{f}, intake.Origin{Period: x.Period})
		require.NoError(t, err, x.Text)
	}
}

// House is an office of two projects, A of Ann and B of Bob.
func House(t *testing.T, more ...Sent) *app.Office {
	t.Helper()
	_, o := Stored(t, more...)
	return o
}

// Stored is a house with the file that it stands on.
func Stored(t *testing.T, more ...Sent) (*store.Store, *app.Office) {
	t.Helper()
	s, err := demotest.Create(Ctx, filepath.Join(t.TempDir(), "h.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := app.NewOffice(s, func() time.Time { return At }, app.Parts{Reader: ingest.Reader{}})
	long := October - 9
	Send(t, o, Sent{record.Structure, long, "code,name,level\nPF,Portfolio,portfolio\n"},
		Sent{record.CostCodes, long, "code,name\nC,Cost\n"},
		Sent{record.Projects, long, "code,name,parent,lead\nA,First,PF,Ann\nB,Second,PF,Bob\n"})
	Send(t, o, more...)
	return s, o
}

// Assessed is an office's assessment of a day.
func Assessed(t *testing.T, o *app.Office, day calendar.Date) *assess.Assessment {
	t.Helper()
	a, err := o.Assess.Day(Ctx, day)
	require.NoError(t, err)
	return a
}

// Open is the scope of all open projects.
func Open(t *testing.T, a *assess.Assessment) *assess.Scope {
	t.Helper()
	s, err := a.Scope("", measure.Open)
	require.NoError(t, err)
	return s
}

// Read is a file of a kind as it is read, in an office with fields of its own or without.
func Read(t *testing.T, kind record.Kind, text string, own ...record.Column) *kept.File {
	t.Helper()
	f, problems, err := ingest.Reader{Own: own}.CSV(string(kind)+".csv", kind, strings.NewReader(text))
	require.NoError(t, err)
	require.Empty(t, problems)
	return f
}

// Opened is an office of a programme with project A in euros and B in kronor.
func Opened(t *testing.T) (*store.Store, *app.Office) {
	t.Helper()
	s, err := store.Create(Ctx, filepath.Join(t.TempDir(), "a #1%.db"), "EUR") // a name that a URL would trip over
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := app.NewOffice(s, func() time.Time { return At }, app.Parts{})
	_, err = o.Intake.Import(Ctx, []*kept.File{
		Read(t, record.Structure, "code,name,level,parent\nPF,Portfolio,portfolio,\nPG,Programme,programme,PF\n"),
		Read(t, record.CostCodes, "code,name\nC,Cost\n"),
		Read(t, record.Projects, "code,name,parent,currency\nB,Second,PG,SEK\nA,First,PG,EUR\n"),
	}, intake.Origin{Author: "tester"})
	require.NoError(t, err)
	return s, o
}

// Demo is the demonstration, assessed as of its own day.
func Demo(t *testing.T) (*app.Office, *assess.Assessment) {
	t.Helper()
	o := app.NewOffice(demotest.Store(t), demotest.Now, app.Parts{})
	return o, Assessed(t, o, demo.AsOf)
}
