package assess_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/condition"
	"turret/internal/app/setting"
	"turret/internal/core/measure"
)

// An own check that goes over its bound is switched off and says so; the others count, and so does it again once it asks for less.
func TestAnOwnCheckThatTakesTooMuchWorkIsSwitchedOff(t *testing.T) {
	a, p := apptest.Talker(t, 200_000)
	a.Settings = setting.DefaultSettings()
	heavy := condition.OwnCheck{ID: "heavy", Name: "Heavy", Severity: "warning", On: "project",
		Expression: `not (commentary matches "(a?b?c?d?e?f?g?h?i?j?){10}z{300}")`}
	light := condition.OwnCheck{ID: "light", Name: "Light", Severity: "warning", On: "project", Expression: "len(commentary) > 5"}
	found := func(checks ...condition.OwnCheck) (ids []string) {
		a.Settings.OwnChecks = checks
		p.Checks.Findings, p.Checks.Tested = nil, nil

		assess.RunOwn(a, []*measure.Project{p})
		for _, f := range p.Checks.Findings {
			ids = append(ids, f.Rule.ID)
		}
		return ids
	}
	require.True(t, p.Tested())
	assert.Equal(t, []string{"light"}, found(heavy, light))
	require.Len(t, a.Broken, 1)
	assert.Contains(t, a.Broken[0], "Heavy: it is switched off")
	assert.Equal(t, []string{"light"}, found(light, heavy), "it stays so while the settings stand")
	assert.Contains(t, a.Broken[0], "Heavy: it is switched off")
	assess.Forgive(a)
	p.Declared.Commentary = p.Declared.Commentary[:1000]
	assert.Equal(t, []string{"heavy", "light"}, found(heavy, light))
	assert.Empty(t, a.Broken)
}
