package chart

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/scene"
)

func steps() *scene.Scene {
	text := func(n float64) string { return fmt.Sprintf("%.0f", n) }
	return Frontier([]FrontierPoint{{0, 0}, {20, 55}, {35, 60}, {55, 115}}, FrontierPoint{20, 55},
		FrontierOptions{W: 500, H: 300, Budget: text, Value: text})
}

// A frontier rises in steps, from nothing at the left to all at the right, and the choice stands on it.
func TestAFrontierRisesInSteps(t *testing.T) {
	var line []float64
	var now scene.Item
	for _, i := range steps().Items {
		switch i.Kind {
		case scene.Polyline:
			line = i.Points
		case scene.Circle:
			now = i
		}
	}
	require.Len(t, line, 14, "four points with the three corners between")
	for k := 2; k < len(line); k += 2 {
		assert.True(t, line[k] == line[k-2] || line[k+1] == line[k-1], "along one axis at a time")
		assert.GreaterOrEqual(t, line[k], line[k-2])
		assert.LessOrEqual(t, line[k+1], line[k-1])
	}
	assert.InDelta(t, line[4], now.Points[0], 1e-9)
	assert.InDelta(t, line[5], now.Points[1], 1e-9)
	assert.Empty(t, Frontier(nil, FrontierPoint{}, FrontierOptions{W: 1, H: 1}).Items)
	assert.NotPanics(t, func() {
		flat := func(float64) string { return "" }
		Frontier([]FrontierPoint{{0, 0}}, FrontierPoint{}, FrontierOptions{W: 500, H: 300, Budget: flat, Value: flat})
		Frontier([]FrontierPoint{{0, -5}, {7, -2}}, FrontierPoint{7, -2}, FrontierOptions{W: 500, H: 300, Budget: flat, Value: flat})
	})
}
