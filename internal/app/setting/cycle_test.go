package setting_test

import (
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/record"
)

// cycled is an office whose periods are chosen before anything comes; it is Tuesday 3 November 2026, in week 45.
func cycled(t *testing.T, periods, from string) *app.Office {
	t.Helper()
	s, err := demotest.Create(apptest.Ctx, filepath.Join(t.TempDir(), "h.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	o := app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{}})
	require.NoError(t, choose(t, o, periods, from))
	return o
}

func choose(t *testing.T, o *app.Office, periods, from string) error {
	t.Helper()
	set, err := o.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	set.Periods, set.PeriodsFrom = periods, from
	return o.Setting.Save(apptest.Ctx, set)
}

// inWeeks has postings of 10, 20, 30 and 40 in the weeks 41 to 44, each sent for its own, and the first three closed.
func inWeeks(t *testing.T) (*app.Office, calendar.Period) {
	t.Helper()
	o := cycled(t, "week", "")
	week := calendar.Weeks.Of(calendar.On(2026, 10, 11)) // 41
	apptest.Send(t, o, apptest.Sent{Kind: record.Structure, Period: week, Text: "code,name,level\nPF,Portfolio,portfolio\n"},
		apptest.Sent{Kind: record.CostCodes, Period: week, Text: "code,name\nC,Cost\n"},
		apptest.Sent{Kind: record.Projects, Period: week, Text: "code,name,parent,lead\nA,First,PF,Ann\n"})
	for i, row := range []string{"2026-10-05,10", "2026-10-18,20", "2026-10-19,30", "2026-10-28,40"} {
		p := week + calendar.Period(i)
		apptest.Send(t, o, apptest.Sent{Kind: record.Actuals, Period: p, Text: "project,cost_code,date,amount\nA,C," + row + "\n"})
		if i < 3 {
			_, err := o.Publish.Close(apptest.Ctx, p)
			require.NoError(t, err)
		}
	}
	return o, week + 3
}

func figure(t *testing.T, a *assess.Assessment, key measure.Key) string {
	t.Helper()
	p, err := a.Project("A")
	require.NoError(t, err)
	return p.Value(key).Text(measure.Money, "EUR")
}

func TestFiguresOfAnOfficeInWeeks(t *testing.T) {
	o, now := inWeeks(t)
	a := apptest.Assessed(t, o, now.Last())
	assert.Equal(t, []string{"100.00", "90.00"}, []string{figure(t, a, measure.AC), figure(t, a, measure.ACRecent)},
		"since week 41, three before")
	trend, err := o.Assess.Trend(apptest.Ctx, a, apptest.Open(t, a), measure.AC, 12)
	require.NoError(t, err)
	assert.Equal(t, []calendar.Period{now - 3, now - 2, now - 1, now}, trend.Periods)
	var got []string
	for _, v := range trend.Rows[0].Values {
		got = append(got, v.Text(measure.Money, "EUR"))
	}
	assert.Equal(t, []string{"10.00", "30.00", "60.00", "100.00"}, got)
	assert.Equal(t, "60.00", figure(t, apptest.Assessed(t, o, now.Last()-7), measure.AC), "week 43 is closed with what was sent up to it")
	table, err := o.Judge.Accuracy(apptest.Ctx, a, apptest.Open(t, a))
	require.NoError(t, err)
	assert.Equal(t, []calendar.Period{now - 4, now - 13, now - 26, now - 52}, table.Periods)
}

// What is sent for week 45 counts in no figure of week 44, even while it is not closed.
func TestAWeekHoldsWhatWasSentForIt(t *testing.T) {
	o, now := inWeeks(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Actuals, Period: now + 1, Text: "project,cost_code,date,amount\nA,C,2026-10-29,7\n"})
	assert.Equal(t, "100.00", figure(t, apptest.Assessed(t, o, now.Last()), measure.AC))
	assert.Equal(t, "107.00", figure(t, apptest.Assessed(t, o, now.Last()+7), measure.AC))
}

func TestWeeksAreClosedInTheirOrder(t *testing.T) {
	o, now := inWeeks(t)
	var state *fault.StateError
	_, err := o.Publish.Close(apptest.Ctx, now+1)
	require.ErrorAs(t, err, &state)
	assert.Contains(t, err.Error(), "week 44 of 2026 comes first")
	p, err := o.Publish.Close(apptest.Ctx, now)
	require.NoError(t, err)
	assert.Equal(t, []string{"week 44 of 2026", "2026-11-01"}, []string{p.Name(), p.AsOf.String()})
}

func TestAPeriodOfAnotherCycleIsRefused(t *testing.T) {
	o, now := inWeeks(t)
	var field *fault.FieldError
	_, err := o.Publish.Close(apptest.Ctx, apptest.October)
	require.ErrorAs(t, err, &field)
	assert.Equal(t, &fault.FieldError{Field: "period", Value: "2026-10", Expected: "one as the settings have them, such as 2026-W44"},
		field)
	_, err = o.Intake.Import(apptest.Ctx, nil, intake.Origin{Period: calendar.FourWeeksFrom(calendar.On(2026, 10, 5)).Of(now.Last())})
	assert.ErrorAs(t, err, &field)
	_, err = apptest.House(t).Publish.Close(apptest.Ctx, now)
	assert.ErrorAs(t, err, &field)
}

// Without one told, what comes is for the last whole week, the one that holds the day in view, or the one after the last closed.
func TestWhichWeekSomethingIsFor(t *testing.T) {
	o := cycled(t, "week", "")
	n := 0
	sendFor := func(day calendar.Date) string {
		n++
		c := apptest.Ctx
		if day != 0 {
			c = intake.For(apptest.Ctx, day)
		}
		f, _, err := ingest.CSV("structure.csv", record.Structure, strings.NewReader("code,name,level\nP"+string(rune('A'+n))+
			",X,portfolio\n"))
		require.NoError(t, err)
		_, err = o.Intake.Import(c, []*kept.File{f}, intake.Origin{})
		require.NoError(t, err)
		loads, err := o.Load.List(apptest.Ctx)
		require.NoError(t, err)
		return loads[0].Period.String()
	}
	assert.Equal(t, []string{"2026-W44", "2026-W43", "2026-W43"}, []string{sendFor(0), sendFor(calendar.On(2026, 10, 19)),
		sendFor(calendar.On(2026, 10, 25))})
	_, err := o.Publish.Close(apptest.Ctx, calendar.Weeks.Of(calendar.On(2026, 10, 25)))
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-W44", "2026-W46"}, []string{sendFor(0), sendFor(calendar.On(2026, 11, 10))})
	_, err = o.Intake.PeriodFor(intake.For(apptest.Ctx, calendar.On(2026, 10, 20)))
	require.ErrorIs(t, err, fault.ErrConflict)
	assert.ErrorContains(t, err, "week 43 of 2026 is closed and stays as it is; reopen it, or go on in week 44 of 2026")
}

func TestPeriodsAreChosenBeforeAnythingCame(t *testing.T) {
	o := cycled(t, "four weeks", "2026-10-05")
	p, err := o.Setting.LastWhole(apptest.Ctx)
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-W41-44", "2026-11-01"}, []string{p.String(), p.Last().String()})
	require.NoError(t, choose(t, o, "four weeks", "2026-10-26"))
	p, err = o.Setting.LastWhole(apptest.Ctx)
	require.NoError(t, err)
	assert.Equal(t, "2026-W40-43", p.String())
	require.NoError(t, choose(t, o, "week", ""))
	apptest.Send(t, o, apptest.Sent{Kind: record.Structure, Period: calendar.Weeks.Of(apptest.Last),
		Text: "code,name,level\nPF,Portfolio,portfolio\n"})
	var state *fault.StateError
	for _, to := range [][2]string{{"", ""}, {"month", ""}, {"four weeks", "2026-10-05"}} {
		require.ErrorAs(t, choose(t, o, to[0], to[1]), &state)
	}
	assert.NoError(t, choose(t, o, "week", "2026-10-05"), "the same weeks")
}

func TestPeriodsThatAreNone(t *testing.T) {
	o := cycled(t, "", "")
	for _, bad := range [][2]string{{"fortnight", ""}, {"four weeks", ""}, {"four weeks", "2026-10-06"}, {"four weeks", "next Monday"},
		{"Week", ""}} {
		var field *fault.FieldError
		assert.ErrorAs(t, choose(t, o, bad[0], bad[1]), &field, bad)
	}
}
