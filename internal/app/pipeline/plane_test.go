package pipeline_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/pipeline"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
)

// By hand: P has a budget of 35 and a score of 60, Q of 20 and 55; R has 1 and no score, S a score of 80 and no budget. Bounds are their
// own.
func TestProjectsOnAPlane(t *testing.T) {
	_, a, p := board(t, "")
	axis := func(key string) *pipeline.Axis {
		x, err := pipeline.AxisOf(apptest.Ctx, a, p, key)
		require.NoError(t, err)
		return x
	}
	axes := [3]*pipeline.Axis{axis("bac"), axis("score:M"), axis("hours_to_go")}
	m := pipeline.PlaneOf(a.Projects, nil, axes, [2]pipeline.Range{})
	require.Len(t, m.Points, 2)
	x := m.Points[0]
	assert.Equal(t, []string{"P", "€35", "60.0", "340.0"}, []string{x.Project.Code, axes[0].Text(x.Values[0]), axes[1].Text(x.Values[1]),
		axes[2].Text(x.Values[2])})
	assert.Equal(t, []string{"A", "B", "R", "S"}, apptest.Codes(m.Without))
	n := func(k int64) fact.Ratio { return fact.Ratio{Num: k, Den: 1} }
	for _, x := range []struct {
		ranges [2]pipeline.Range
		points int
	}{{[2]pipeline.Range{{From: n(20), To: n(35)}}, 2}, {[2]pipeline.Range{{From: n(21)}}, 1}, {[2]pipeline.Range{{To: n(34)}}, 1},
		{[2]pipeline.Range{{}, {From: n(55), To: n(60)}}, 2}, {[2]pipeline.Range{{}, {To: n(54)}}, 0}, {[2]pipeline.Range{{Limit: n(1)}},
			2}} {
		m := pipeline.PlaneOf(a.Projects, []measure.State{measure.Proposed}, axes, x.ranges)
		assert.Len(t, m.Points, x.points, x.ranges)
		assert.Equal(t, 2-x.points, m.Outside)
	}
	var wrong *fault.FieldError
	for _, key := range []string{"bax", "overall_health", "expected_finish"} {
		_, err := pipeline.AxisOf(apptest.Ctx, a, p, key)
		require.ErrorAs(t, err, &wrong)
	}
	a.ByCode["P"].Status = measure.Closed
	assert.Len(t, pipeline.PlaneOf(a.Projects, nil, axes, [2]pipeline.Range{}).Points, 1, "what is closed is shown where it is asked for")
	assert.Len(t, pipeline.PlaneOf(a.Projects, []measure.State{measure.Closed}, axes, [2]pipeline.Range{}).Points, 1)
	a.ByCode["P"].Status = measure.Proposed
	hidden := *a
	hidden.NoMoney = true
	_, err := pipeline.AxisOf(apptest.Ctx, &hidden, p, "bac")
	require.ErrorAs(t, err, &wrong)
}
