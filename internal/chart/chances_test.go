package chart

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/health"
)

// The fan reaches from the tenth to the ninetieth of a hundred runs, its core to the eightieth; what they are held against is named, and
// texts cannot run as markup.
func TestChances(t *testing.T) {
	var values []float64
	for i := range 100 {
		values = append(values, float64(i+1))
	}
	opt := ChancesOptions{W: 1024, H: 200, Title: "Finish <b>", Text: func(v float64) string {
		return "day " + strings.Repeat("i",
			int(v)/10)
	},
		Marks: []ChanceMark{{50, "baseline <i>", "limit"}, {50, "required", "limit"}}}
	svg := Chances(values, opt).SVG()
	assert.Contains(t, svg, "P10 day i, P50 day iiiii, P80 day iiiiiiii, P90 day iiiiiiiii")
	assert.Contains(t, svg, "baseline &lt;i&gt;")
	assert.NotContains(t, svg, "<i>")
	// From 1 to 99 with 4 % of air: a unit is 1000 / (98 × 1.08) wide.
	unit := 1000 / (98 * 1.08)
	d := &chances{values: values, low: 1 - 0.04*98, high: 99 + 0.04*98, left: 12, right: 1012}
	assert.InDelta(t, 80*unit, d.x(d.at(90))-d.x(d.at(10)), 1e-9)
	// Sixty parts of 105.84 from -2.92 on: the first of 1 is the third, 100 is in the fifty-ninth.
	assert.Equal(t, 57, strings.Count(svg, `class="chance"`))
	assert.NotContains(t, Chances(nil, opt).SVG(), "fan")
	one := Chances([]float64{7}, opt).SVG()
	assert.NotContains(t, one, "NaN")
	assert.NotContains(t, one, "Inf")
}

func TestForeseen(t *testing.T) {
	for _, st := range []health.Status{health.OnTrack, health.Watch, health.Act} {
		assert.Equal(t, 4, strings.Count(Foreseen(st, 14).SVG(), "<circle"))
	}
}
