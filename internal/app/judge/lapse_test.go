package judge_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/record"
)

// A status set by a person lapses by its day, and what was ended before stays in the list with who ended it.
func TestStatusesLapse(t *testing.T) {
	s, o := apptest.Opened(t)
	_, err := o.Intake.Import(apptest.Ctx,
		[]*kept.File{apptest.Read(t, record.Budget, "project,cost_code,amount,month\nA,C,100,2026-01\n")}, intake.Origin{})
	require.NoError(t, err)
	day := calendar.On(2026, 10, 31)
	assess := func(d calendar.Date) health.Status {
		a, err := o.Assess.Day(apptest.Ctx, d)
		require.NoError(t, err)
		p, err := a.Project("A")
		require.NoError(t, err)
		return p.Health.Overall
	}
	a, err := o.Assess.Day(apptest.Ctx, day)
	require.NoError(t, err)
	require.NoError(t, o.Judge.SetStatus(apptest.Ctx, a, "A", health.Override{On: health.Overall, Status: health.Act,
		Reason: "no money left",
		Until:  day + 10}))
	assert.Equal(t, health.NotAssessed, assess(day-1), "not before it was set")
	assert.Equal(t, []health.Status{health.Act, health.Act, health.NotAssessed}, []health.Status{assess(day), assess(day + 10),
		assess(day + 11)})
	list, err := s.Overrides(apptest.Ctx)
	require.NoError(t, err)
	require.Len(t, list, 1)
	a, err = o.Assess.Day(apptest.Ctx, day)
	require.NoError(t, err)
	require.NoError(t, o.Judge.EndStatus(apptest.Ctx, a, "A", list[0].ID))
	assert.Equal(t, health.NotAssessed, assess(day))
	assert.ErrorIs(t, o.Judge.EndStatus(apptest.Ctx, a, "A", list[0].ID), fault.ErrConflict)
	list, err = s.Overrides(apptest.Ctx)
	require.NoError(t, err)
	assert.Len(t, list, 1, "what was set is not forgotten")
	assert.False(t, list[0].EndedAt.IsZero())
}
