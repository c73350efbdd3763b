package chart

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/health"
)

// Of a crowd each is drawn, but those on track have no link: a page of a thousand projects stays short, and what needs attention is told.
func TestOfACrowdOnlyWhatNeedsAttentionIsNamed(t *testing.T) {
	crowd := func(n int) (list []Sight) {
		for i := range n {
			status := health.OnTrack
			if i%100 == 0 {
				status = health.Act
			}
			list = append(list, Sight{Code: fmt.Sprint("P", i), Title: "T", Href: "/p", Status: status, Finish: float64(i%7) / 100,
				Weight: 1})
		}
		return list
	}
	draw := map[string]func([]Sight) string{
		"sighting": func(l []Sight) string { return Sighting(l, health.Defaults(), 400, 300).SVG() },
		"scatter": func(l []Sight) string {
			text := func(float64) string { return "" }
			return Scatter(l, ScatterOptions{W: 400, H: 300, XText: text, YText: text}).SVG()
		}}
	for name, svg := range draw {
		few, many := svg(crowd(MostSights)), svg(crowd(MostSights+100))
		assert.Equal(t, MostSights, strings.Count(few, `href="/p"`), name)
		assert.Equal(t, MostSights+100, strings.Count(many, "<circle"), name)
		assert.Equal(t, 3, strings.Count(many, `href="/p"`), name)
	}
}
