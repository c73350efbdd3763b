package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/plan"
	"turret/internal/app/setting"
	"turret/internal/core/health"
)

// With watch at 10 % and act at 31 % over budget, small (30 %) and large (11.1 %) come from act to watch, and dearer (6 %) to on track.
func TestWhatIfTolerancesWereOthers(t *testing.T) {
	a := apptest.Seven(t)
	a.Settings = setting.DefaultSettings()
	x, err := plan.TryOut(a, apptest.Open(t, a), setting.Limits{Of: map[string][2]float64{"vac_share": {0.10, 0.31}}})
	require.NoError(t, err)
	assert.Equal(t, 2, x.Now[health.Overall][health.Act])
	assert.Equal(t, 0, x.Then[health.Overall][health.Act])
	assert.Equal(t, 3, x.Then[health.Overall][health.Watch], "late stays there by its finish")
	var changed []string
	for _, c := range x.Changed {
		changed = append(changed, c.Project.Code)
	}
	assert.ElementsMatch(t, []string{"small", "large", "dearer"}, changed)
	assert.Equal(t, health.Act, a.ByCode["small"].Health.Overall, "trying changes nothing")

	_, err = plan.TryOut(a, apptest.Open(t, a), setting.Limits{Of: map[string][2]float64{"vac_share": {0.3, 0.1}}})
	assert.Error(t, err, "watch stricter than act")
	_, err = plan.TryOut(a, apptest.Open(t, a), setting.Limits{Of: map[string][2]float64{"nonsense": {}}})
	assert.Error(t, err)
}
