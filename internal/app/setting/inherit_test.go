package setting_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/setting"
	"turret/internal/record"
)

// What a project has of its own stays; the settings of all projects are nobody's to pass on.
func TestSettingsThatAreInherited(t *testing.T) {
	_, o := apptest.Gate(t)
	s, err := o.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	own := setting.Limits{Scope: "B1", Of: map[string][2]float64{"vac_share": {0.05, 0.10}}}
	s.NotExpected = map[string][]record.Kind{"A1": {record.Budget}, "B1": {record.Actuals}}
	s.Tolerances = append(s.Tolerances, setting.Limits{Scope: "A1", Of: map[string][2]float64{"vac_share": {0.01, 0.02}}}, own)
	require.NoError(t, o.Setting.Save(apptest.Ctx, s))
	set, err := o.Setting.Inherit(apptest.Ctx, "A1", []string{"B1", "N1"})
	require.NoError(t, err)
	assert.True(t, set)
	s, err = o.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	assert.Equal(t, []record.Kind{record.Actuals}, s.NotExpected["B1"])
	assert.Equal(t, []record.Kind{record.Budget}, s.NotExpected["N1"])
	require.Len(t, s.Tolerances, 4)
	assert.Equal(t, own, s.Tolerances[2])
	assert.Equal(t, "N1", s.Tolerances[3].Scope)
	for from, to := range map[string]string{"A1": "N1", "A2": "N2", "": "N2"} {
		set, err = o.Setting.Inherit(apptest.Ctx, from, []string{to})
		require.NoError(t, err)
		assert.False(t, set, "nothing more: %q", from)
	}
}

// Of five inputs the office expects three each period; a template asks for one of them, so that two are not expected of its projects. What
// somebody set for a project before stays.
func TestProjectsAreAskedForSomeInputs(t *testing.T) {
	o := apptest.House(t).Setting
	s, err := o.Get(apptest.Ctx)
	require.NoError(t, err)
	s.Inputs = []setting.Expectation{{Kind: record.Activities, Rhythm: setting.EachPeriod}, {Kind: record.Forecast,
		Rhythm: setting.EachPeriod},
		{Kind: record.Statuses, Rhythm: setting.EachPeriod}, {Kind: record.Budget, Rhythm: setting.Never}}
	s.NotExpected = map[string][]record.Kind{"B": {record.Statuses}}
	require.NoError(t, o.Save(apptest.Ctx, s))
	require.NoError(t, o.Ask(apptest.Ctx, []string{"A", "B"}, []record.Kind{record.Statuses}))
	s, err = o.Get(apptest.Ctx)
	require.NoError(t, err)
	assert.Equal(t, map[string][]record.Kind{"A": {record.Activities, record.Forecast}, "B": {record.Statuses}}, s.NotExpected)
	version := s.Version
	require.NoError(t, o.Ask(apptest.Ctx, []string{"A"}, nil))
	s, err = o.Get(apptest.Ctx)
	require.NoError(t, err)
	assert.Equal(t, version, s.Version, "what is set already is not set again")
}

// Tolerances alone go by a project that is not expected to send everything: what is asked of others stays.
func TestTolerancesAreInheritedAlone(t *testing.T) {
	o := apptest.House(t).Setting
	s, err := o.Get(apptest.Ctx)
	require.NoError(t, err)
	s.NotExpected = map[string][]record.Kind{"A": {record.Budget}}
	s.Tolerances = append(s.Tolerances, setting.Limits{Scope: "A", Of: map[string][2]float64{"vac_share": {0.01, 0.02}}})
	require.NoError(t, o.Save(apptest.Ctx, s))
	require.NoError(t, o.InheritLimits(apptest.Ctx, "A", []string{"B"}))
	s, err = o.Get(apptest.Ctx)
	require.NoError(t, err)
	assert.Equal(t, "B", s.Tolerances[2].Scope)
	assert.Nil(t, s.NotExpected["B"])
}
