package assess_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// The tolerances of the narrowest scope hold.
func TestTolerancesByLevel(t *testing.T) {
	_, o := apptest.Opened(t)
	_, err := o.Intake.Import(apptest.Ctx, []*kept.File{apptest.Read(t, record.Budget,
		"project,cost_code,amount,month\nA,C,1000,2026-09\n"),
		apptest.Read(t, record.Forecast, "project,cost_code,amount,month\nA,C,1080,2026-12\n"),
		apptest.Read(t, record.Actuals, "project,cost_code,date,amount\nA,C,2026-09-01,0\n")}, intake.Origin{})
	require.NoError(t, err)
	status := func() string {
		a, err := o.Assess.Day(apptest.Ctx, calendar.On(2026, 10, 31))
		require.NoError(t, err)
		p, err := a.Project("A")
		require.NoError(t, err)
		return p.Value(measure.CostHealth).Status().String()
	}
	assert.Equal(t, "watch", status(), "8 % over, between 5 and 10")
	drawn := func() [2]float64 {
		a, err := o.Assess.Day(apptest.Ctx, calendar.On(2026, 10, 31))
		require.NoError(t, err)
		p, err := a.Project("A")
		require.NoError(t, err)
		return [2]float64{p.Tolerances.Of[health.CostShare].Watch, p.Tolerances.Of[health.CostShare].Act}
	}
	for _, step := range []struct {
		scope, want string
		limits      [2]float64
	}{{"PF", "act", [2]float64{0.01, 0.02}}, {"PG", "on track", [2]float64{0.20, 0.30}}, {"A", "watch", [2]float64{0.07, 0.50}}} {
		s, err := o.Setting.Get(apptest.Ctx)
		require.NoError(t, err)
		s.Tolerances = append(s.Tolerances, setting.Limits{Scope: step.scope, Of: map[string][2]float64{"vac_share": step.limits}})
		require.NoError(t, o.Setting.Save(apptest.Ctx, s))
		assert.Equal(t, step.want, status(), step.scope)
		assert.Equal(t, step.limits, drawn(), "bars are drawn against the limits that the status was found with")
	}
}
