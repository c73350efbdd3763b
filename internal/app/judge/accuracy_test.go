package judge_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/apptest"
	"turret/internal/core/calendar"
	"turret/internal/core/compare"
	"turret/internal/core/measure"
)

// A forecast of €900,000 that ended at €1,000,000 was a tenth too low; one of two sums has no cost then.
func TestHowForecastsTurnedOut(t *testing.T) {
	a := apptest.Seven(t)
	month := calendar.Months.Of(calendar.On(2026, 7, 31))
	keys := measure.PastKeys()
	was := func(code string, values map[measure.Key]measure.Value) {
		p := a.ByCode[code]
		past := measure.Past{Period: month, Values: make([]measure.Value, len(keys))}
		for i, k := range keys {
			past.Values[i] = values[k]
		}
		p.Past = []measure.Past{past}
	}
	was("calm", map[measure.Key]measure.Value{measure.EAC: {Known: true, N: 90_000_000},
		measure.ExpectedFinish: {Known: true, N: int64(calendar.On(2026, 10, 7))}})
	was("late", map[measure.Key]measure.Value{measure.EAC: {Known: true, N: 110_000_000}})
	was("blank", nil)
	x := compare.AccuracyOf(a.ByCode["calm"], month)
	assert.InDelta(t, 0.1, x.Error().Ratio, 1e-12)
	assert.Equal(t, 2, x.Days, "from Wednesday 7 to Friday 9 October")
	assert.False(t, compare.AccuracyOf(a.ByCode["calm"], month-1).HasCost)
	s := compare.SumAccuracy([]*measure.Project{a.ByCode["calm"], a.ByCode["late"], a.ByCode["blank"]}, month)
	assert.Equal(t, []int{2, 1}, []int{s.Projects, s.Dated})
	assert.InDelta(t, 0, s.Error().Ratio, 1e-12, "100,000 too low and 100,000 too high")
}
