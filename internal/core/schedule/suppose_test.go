package schedule

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
)

// Dig takes five days from Monday, 2 November, Fill five after it. Two days later and one longer, Dig ends on the 11th and Fill on the
// 18th;
// the plan that was supposed on stays as it was, and says by how much work is longer.
func TestAPlanSupposed(t *testing.T) {
	asOf := calendar.On(2026, 10, 31)
	sheet := Sheet{Activities: []Activity{{Code: "D", BaselineStart: asOf + 2, Duration: fact.Some(5)}, {Code: "F",
		Duration: fact.Some(5)}}}
	p := NewPlan([]Sheet{sheet}, []Dependency{{From: "D", To: "F"}}, calendar.Standard, asOf, Computed)
	base := p.Run()
	require.Equal(t, calendar.On(2026, 11, 13), base.Finish[0])
	q, err := p.Suppose(base, []Move{{Task: 0, Shift: 2, Stretch: 1}})
	require.NoError(t, err)
	run := q.Run()
	assert.Equal(t, calendar.On(2026, 11, 11), run.Times[0].EarlyFinish)
	assert.Equal(t, calendar.On(2026, 11, 18), run.Finish[0])
	assert.Equal(t, calendar.On(2026, 11, 13), p.Run().Finish[0])
	assert.Equal(t, map[int32]int32{0: 1}, Longer(p, q, base))

	none, err := p.Suppose(base, nil)
	require.NoError(t, err)
	assert.Empty(t, Longer(p, none, base))
}

// Of work that goes on, what is left grows by a shift too, and shrinks with an earlier day.
func TestWorkThatGoesOnSupposed(t *testing.T) {
	asOf := calendar.On(2026, 10, 31)
	sheet := Sheet{Activities: []Activity{{Code: "D", ActualStart: asOf - 10, Duration: fact.Some(10), Remaining: fact.Some(5)}}}
	p := NewPlan([]Sheet{sheet}, nil, calendar.Standard, asOf, Computed)
	base := p.Run()
	q, err := p.Suppose(base, []Move{{Task: 0, Shift: 2, Stretch: 1}})
	require.NoError(t, err)
	assert.Equal(t, map[int32]int32{0: 3}, Longer(p, q, base))
	q, err = p.Suppose(base, []Move{{Task: 0, By: calendar.On(2026, 11, 3)}})
	require.NoError(t, err)
	assert.Equal(t, map[int32]int32{0: -3}, Longer(p, q, base), "two days from Monday, instead of five")
}
