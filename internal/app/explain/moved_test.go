package explain

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/assess"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

// A score that is rounded to another tenth while it moved by less than half of one did not move; a day that moved over a weekend did.
func TestWhatReadsAsNothingDidNotMove(t *testing.T) {
	a := &assess.Assessment{Env: measure.Env{Currency: "EUR", Calendar: calendar.Standard}}
	score := func(x float64) measure.Value { return measure.Value{Known: true, Ratio: x, Exact: fact.Decimal(x)} }
	day := func(d calendar.Date) measure.Value { return measure.Value{Known: true, N: int64(d)} }
	saturday := calendar.On(2026, 10, 31)
	for _, x := range []struct {
		on       health.Dimension
		key      measure.Key
		was, now measure.Value
		by       string // empty where nothing is told
	}{
		{health.Overall, measure.DataScore, score(99.86), score(99.84), ""},
		{health.Overall, measure.DataScore, score(99.86), score(99.76), "−0.1"},
		{health.Overall, measure.DataScore, score(99.8), score(99.8), ""},
		{health.Schedule, measure.ExpectedFinish, day(saturday), day(saturday + 1), "0 days"},
		{health.Schedule, measure.ExpectedFinish, day(saturday), day(saturday + 2), "+1 day"},
	} {
		p := &measure.Project{Values: make([]measure.Value, len(measure.All()))}
		p.Values[slices.IndexFunc(measure.All(), func(d measure.Definition) bool { return d.Key == x.key })] = x.now
		list := movements(a, p, x.on, map[measure.Key]measure.Value{x.key: x.was})
		if x.by == "" {
			assert.Empty(t, list)
			continue
		}
		if assert.Len(t, list, 1) {
			assert.Equal(t, x.by, list[0].By)
		}
	}
}
