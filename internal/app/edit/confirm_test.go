package edit_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/gather"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// What did not change is confirmed: the inputs have come for the period, every figure is as it was, and what was never sent is not made up.
func TestConfirmingWhatStands(t *testing.T) {
	_, o := apptest.Gate(t)
	november := apptest.October + 1
	apptest.Send(t, o, apptest.Sent{Kind: record.Activities, Period: apptest.October,
		Text: "project,code,name,finish,percent_complete\nA1,1,Dig,2026-12-01,40\n"},
		apptest.Sent{Kind: record.Statuses, Period: apptest.October, Text: "project,overall,commentary\nA1,watch,The gate is late.\n"})
	lead := intake.For(access.As(apptest.Ctx, apptest.Writers["lead"]), november.Last())
	arrivals := func() map[record.Kind]gather.Arrival {
		m, err := o.Gather.Matrix(lead, november, calendar.On(2026, 12, 2))
		require.NoError(t, err)
		by := map[record.Kind]gather.Arrival{}
		for _, row := range m.Rows {
			for _, s := range row.Slots {
				if row.Project.Code == "A1" {
					by[s.Kind] = s.Arrival
				}
			}
		}
		return by
	}
	before := apptest.Assessed(t, o, november.Last())
	was, err := before.Project("A1")
	require.NoError(t, err)
	require.Equal(t, gather.Stale, arrivals()[record.Activities])
	sent, err := o.Edit.Confirm(lead, "A1", []record.Kind{record.Activities, record.Forecast, record.Statuses, record.Actuals})
	require.NoError(t, err)
	assert.Equal(t, []record.Kind{record.Activities, record.Statuses}, sent)
	now := arrivals()
	assert.Equal(t, []gather.Arrival{gather.Received, gather.Received}, []gather.Arrival{now[record.Activities], now[record.Statuses]})
	after := apptest.Assessed(t, o, november.Last())
	is, err := after.Project("A1")
	require.NoError(t, err)
	for _, key := range []measure.Key{measure.ExpectedFinish, measure.PercentComplete, measure.DeclaredHealth, measure.EAC} {
		assert.Equal(t, was.Value(key).N, is.Value(key).N, key)
	}
	assert.Empty(t, is.Declared.Commentary, "the words of another month are not said again")
	_, err = o.Edit.Confirm(lead, "B1", []record.Kind{record.Activities})
	require.ErrorIs(t, err, access.ErrForbidden, "another's project")
	_, err = o.Publish.Close(apptest.Ctx, november)
	require.NoError(t, err)
	_, err = o.Edit.Confirm(lead, "A1", []record.Kind{record.Activities})
	require.ErrorIs(t, err, fault.ErrConflict, "a closed period stays as it is")
}

// A status that is typed for the next period leaves the words of the last behind; words that are typed are kept, and so are those of the
// period itself.
func TestWordsAreOfTheirPeriod(t *testing.T) {
	_, o := apptest.Gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Statuses, Period: apptest.October,
		Text: "project,overall,commentary\nA1,watch,The gate is late.\n"})
	words := func(period calendar.Period, changes ...string) string {
		c := intake.For(apptest.Ctx, period.Last())
		g, err := o.Edit.Grid(c, record.Statuses, "A1")
		require.NoError(t, err)
		row := slices.Clone(g.Rows[0])
		for i := 0; i < len(changes); i += 2 {
			row[g.Input.At(changes[i])] = changes[i+1]
		}
		_, err = o.Edit.SaveGrid(c, record.Statuses, "A1", []intake.Edited{{Old: g.Rows[0], New: row}})
		require.NoError(t, err)
		now, err := o.Edit.Grid(c, record.Statuses, "A1")
		require.NoError(t, err)
		return now.Rows[0][g.Input.At("commentary")]
	}
	assert.Equal(t, "The gate is late.", words(apptest.October, "overall", "act"))
	assert.Empty(t, words(apptest.October+1, "overall", "on track"))
	assert.Equal(t, "It is hung.", words(apptest.October+2, "commentary", "It is hung."))
}
