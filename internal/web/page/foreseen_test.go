package page

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/forecast"
	core "turret/internal/core/forecast"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

// The third sign stands where it is another status than was computed; not where it is the same, nothing is predicted, or it is being
// learned.
func TestWhereTheThirdSignStands(t *testing.T) {
	of := func(code string, computed health.Status) *measure.Project {
		p := &measure.Project{Info: measure.Info{Code: code}}
		p.Health.Overall = computed
		return p
	}
	d := &core.Prediction{Chances: core.Chances{0.1, 0.2, 0.7}, Likeliest: 2, Confidence: "low"}
	worse, same, none := of("A", health.OnTrack), of("B", health.Act), of("C", health.Watch)
	f := &Foresight{byCode: map[string]*forecast.Outlook{"A": {Project: worse, Prediction: d}, "B": {Project: same, Prediction: d},
		"C": {Project: none, Reason: "no period"}}}
	m := f.Mark(worse, 13)
	require.NotNil(t, m)
	assert.Equal(t, "predicted act, 70 %, confidence low", m.Label)
	assert.Contains(t, string(m.SVG), "<svg")
	assert.Nil(t, f.Mark(same, 13))
	assert.Nil(t, f.Mark(none, 13))
	assert.Nil(t, (&Foresight{}).Mark(worse, 13))
	assert.Equal(t, "nothing is predicted: no period", Foreseen(f.byCode["C"], 13).Label)
}
