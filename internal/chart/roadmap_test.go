package chart

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/scene"
)

func mapped(ties ...RoadmapTie) *scene.Scene {
	on := func(y, m, d int) calendar.Date { return calendar.On(y, m, d) }
	return Roadmap([]RoadmapLane{{Name: "North <b>", Bars: []RoadmapBar{
		{Code: "A", Name: "Runs", Title: "A", From: on(2026, 1, 1), To: on(2026, 12, 31), Flags: []RoadmapFlag{{Date: on(2026, 6, 1),
			Done: true},
			{Date: on(2026, 12, 1), Status: health.Watch}}},
		{Code: "P", Name: "Proposed", Title: "P", From: on(2027, 4, 1), To: on(2027, 9, 30), Was: on(2027, 1, 1), Light: true,
			Note: "moved by +3"}}}},
		ties, on(2026, 1, 1), on(2027, 9, 30), on(2026, 10, 31), 1_000)
}

// Bars lie at their days: of seven quarters over 694 the first takes four, and the second begins where the sixth does.
func TestARoadmapLiesAtItsDays(t *testing.T) {
	var bars []scene.Item
	for _, i := range mapped().Items {
		if i.Kind == scene.Rect && (i.Class == "work-left" || i.Class == "none") {
			bars = append(bars, i)
		}
	}
	total := float64(calendar.On(2027, 10, 1) - calendar.On(2026, 1, 1))
	assert.Len(t, bars, 2)
	assert.InDelta(t, 300, bars[0].Points[0], 0.01)
	assert.InDelta(t, 694*365/total, bars[0].Points[2], 0.01)
	assert.InDelta(t, 300+694*455/total, bars[1].Points[0], 0.01)
	assert.Equal(t, "none", bars[1].Class, "what is not decided is drawn lightly")
	assert.Greater(t, bars[1].Points[1], bars[0].Points[1])
	for _, i := range mapped().Items {
		if i.Kind == scene.Text && i.Text == "moved by +3" {
			assert.Equal(t, scene.End, i.Anchor, "behind the last bar there is no room")
		}
	}
	svg := mapped().SVG()
	assert.Contains(t, svg, "2027")
	assert.NotContains(t, svg, "<b>")
	assert.NotPanics(t, func() { Roadmap(nil, nil, 0, 0, 5, 100) })
}

// By hand: over 638 days and 694 units the end of 2026 is at 300 + 694*365/638, and 1 April 2027 at 300 + 694*455/638; the knee is 6
// before.
func TestWhatARoadmapNeeds(t *testing.T) {
	tie := RoadmapTie{From: "A", To: "P", Given: calendar.On(2026, 12, 31), Wanted: calendar.On(2027, 4, 1), Title: "P needs A <b>"}
	lines := func(ties ...RoadmapTie) (list []scene.Item) {
		for _, i := range mapped(ties...).Items {
			if i.Kind == scene.Polyline {
				list = append(list, i)
			}
		}
		return list
	}
	got := lines(tie)
	require.Len(t, got, 1)
	assert.Equal(t, "tie", got[0].Class)
	left, right := 300+694*365/638.0, 300+694*455/638.0
	assert.InDeltaSlice(t, []float64{left, right - 6, right - 6, right}, []float64{got[0].Points[0], got[0].Points[2], got[0].Points[4],
		got[0].Points[6]}, 0.01)
	assert.InDelta(t, roadmapRow, got[0].Points[7]-got[0].Points[1], 0.01, "from one bar to the next")
	tie.Strained = true
	assert.Equal(t, "strain", lines(tie)[0].Class)
	assert.Empty(t, lines(RoadmapTie{From: "A", To: "GONE"}), "what is not drawn is not tied")
	assert.NotContains(t, mapped(tie).SVG(), "<b>")
	assert.InDelta(t, 694.0/21, RoadmapMonth(calendar.On(2026, 1, 1), calendar.On(2027, 9, 30), 1_000), 1e-9, "seven quarters")
	assert.Zero(t, RoadmapMonth(0, 0, 1_000))
}
