package setting

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/health"
	"turret/internal/record"
)

// The file names other scopes at the places where some stand: each has the limits that the file gives it and no others.
func TestASettingsFileReplacesListsWhole(t *testing.T) {
	early := 0.3
	s := DefaultSettings()
	s.Tolerances = append(s.Tolerances, Limits{Scope: "A", Of: map[string][2]float64{"cpi": {0.8, 0.7}}, Early: &early},
		Limits{Scope: "B", Of: map[string][2]float64{"spi_t": {0.8, 0.7}}})
	s.Feeds = []FeedSetting{{Name: "ledger", Kind: "ledger", Address: "http://127.0.0.1:1", Every: 6}}
	s.NotExpected = map[string][]record.Kind{"P": {record.Budget}}
	require.NoError(t, s.take(
		[]byte(`{"tolerances":[{"scope":"","limits":{"cpi":[0.9,0.8]}},{"scope":"C","limits":{"vac_share":[0.2,0.3]}}],
		"feeds":[{"name":"plans","kind":"plans","address":"http://127.0.0.1:2"}],"not_expected":{"Q":["status"]}}`), true))
	assert.Equal(t, []Limits{{Of: map[string][2]float64{"cpi": {0.9, 0.8}}},
		{Scope: "C", Of: map[string][2]float64{"vac_share": {0.2, 0.3}}}}, s.Tolerances)
	assert.Equal(t, []FeedSetting{{Name: "plans", Kind: "plans", Address: "http://127.0.0.1:2"}}, s.Feeds,
		"run by hand, since the file does not say how often")
	assert.Equal(t, map[string][]record.Kind{"Q": {record.Statuses}}, s.NotExpected)
	assert.Equal(t, LookAhead, s.LookAhead, "what the file does not name stays")
	assert.Equal(t, health.Tolerance{Watch: 0.95, Act: 0.85}, s.Whole().Of[health.TimeSPI], "a trigger that nobody names has its default")
	assert.Error(t, s.take([]byte(`{"toleranzen":[]}`), true))
	require.NoError(t, s.take([]byte(`{"tolerances":[],"since_a_later_version":1}`), false))
	assert.Error(t, s.Check(), "no tolerances at all")
}
