package chart

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/health"
	"turret/internal/scene"
)

func scattered(n int) *scene.Scene {
	var list []Sight
	for i := range n {
		list = append(list, Sight{Code: fmt.Sprintf("P-%d", i), Title: "<b>", Finish: float64(i % 7), Cost: float64(i * i % 11),
			Weight: float64(i),
			Status: health.Watch})
	}
	text := func(v float64) string { return fmt.Sprintf("%.1f", v) }
	return Scatter(list, ScatterOptions{W: 700, H: 400, XName: "cost", YName: "value", XText: text, YText: text, XLimits: []float64{9},
		YLimits: []float64{-3}})
}

// Points lie to the right and up as their figures grow, limits beyond all points are on the drawing, and no two codes meet.
func TestAScatterKeepsItsDirections(t *testing.T) {
	s := scattered(40)
	var circles [][]float64
	limits := 0
	for _, i := range s.Items {
		switch {
		case i.Kind == scene.Circle:
			circles = append(circles, i.Points)
		case i.Kind == scene.Line && i.Class == "limit":
			limits++
			for _, at := range i.Points {
				assert.True(t, at >= 0 && at <= 700)
			}
		}
	}
	require.Len(t, circles, 40)
	assert.Equal(t, 2, limits)
	// drawn from the last on: P-39 is at 4 and 3, P-38 at 3 and 3, P-37 at 2 and 5
	assert.Greater(t, circles[0][0], circles[1][0])
	assert.InDelta(t, circles[0][1], circles[1][1], 1e-9)
	assert.Less(t, circles[2][1], circles[1][1], "more is higher up")
	boxes := labels(s, "label")
	assert.Greater(t, len(boxes), 5)
	for i := range boxes {
		for k := range i {
			assert.False(t, boxes[i].x1 < boxes[k].x2 && boxes[k].x1 < boxes[i].x2 && boxes[i].y1 < boxes[k].y2 &&
				boxes[k].y1 < boxes[i].y2)
		}
	}
	assert.NotContains(t, s.SVG(), "<b>")
	assert.NotPanics(t, func() { scattered(0); scattered(1) })
}
