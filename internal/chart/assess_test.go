package chart

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/scene"
)

// within holds that everything of a drawing is a number and lies on it.
func within(t require.TestingT, s *scene.Scene) {
	for _, i := range s.Items {
		for k, v := range i.Points {
			require.False(t, math.IsNaN(v) || math.IsInf(v, 0), "%v of %q", i.Kind, i.Class)
			if i.Kind == scene.Rect && k >= 2 {
				continue // widths
			}
			most := s.W
			if k%2 == 1 {
				most = s.H
			}
			require.GreaterOrEqual(t, v, -1.0, "%q in %s", i.Class, s.Title)
			require.LessOrEqual(t, v, most+1, "%q in %s", i.Class, s.Title)
		}
	}
}

func months(n int) []calendar.Period {
	list := make([]calendar.Period, n)
	for i := range list {
		list[i] = calendar.Months.Of(calendar.On(2025, 6, 1)) + calendar.Period(i)
	}
	return list
}

// Any figures stay on the drawing, gaps and single values and values without a difference included, and every series is named.
func TestLinesStayOnTheirDrawing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 24).Draw(t, "months")
		var lines []Line
		any := false
		for i := range rapid.IntRange(0, 5).Draw(t, "series") {
			values := rapid.SliceOfN(rapid.Float64Range(-1e9, 1e9), n, n).Draw(t, "values")
			for k := range values {
				if rapid.Bool().Draw(t, "gap") {
					values[k] = math.NaN()
				} else {
					any = true
				}
			}
			lines = append(lines, Line{Name: fmt.Sprintf("series %d", i), Values: values})
		}
		s := Lines(lines, LinesOptions{W: 700, H: 300, Title: "t", Periods: months(n),
			Write:  func(v float64) string { return fmt.Sprintf("%.1f", v) },
			Limits: []Limit{{"watch", 0.95}}})
		within(t, s)
		if any {
			assert.NotEmpty(t, s.Items)
		}
		within(t, Spark(rapid.SliceOfN(rapid.Float64Range(-1e6, 1e6), 0, 12).Draw(t, "spark"), "small"))
	})
}

// Many lines that end at the bottom have their names beside one another, on the drawing.
func TestNamesOfLinesThatEndLow(t *testing.T) {
	var lines []Line
	for i := range 5 {
		lines = append(lines, Line{Name: fmt.Sprintf("series %d", i), Values: []float64{1, 1, 1, 1, 1, 1 + float64(i/4)*4.5, 1}})
	}
	s := Lines(lines, LinesOptions{W: 700, H: 300, Title: "t", Periods: months(7), Write: func(v float64) string { return fmt.Sprint(v) }})
	within(t, s)
	named := 0
	for _, i := range s.Items {
		if i.Kind == scene.Text && i.Class == "label" {
			named++
		}
	}
	assert.Equal(t, 5, named)
}

// However many periods there are, the names of those that are named do not meet, and the last is among them.
func TestNamesOfPeriodsDoNotMeet(t *testing.T) {
	for _, w := range []float64{300, 560, 1200} {
		for n := 1; n <= 60; n++ {
			s := Lines([]Line{{Name: "x", Values: make([]float64, n)}}, LinesOptions{W: w, H: 200, Periods: months(n),
				Write: func(float64) string { return "" }})
			end, last := -1.0, ""
			for _, i := range s.Items {
				if i.Kind == scene.Text && i.Class == "label-soft" && i.Anchor == scene.Middle && i.Text != "" {
					half := scene.Width(i.Text, 11) / 2
					assert.Greater(t, i.Points[0]-half, end, "%s of %d at %g", i.Text, n, w)
					end, last = i.Points[0]+half, i.Text
				}
			}
			assert.Equal(t, months(n)[n-1].Brief(), last)
		}
	}
}

// Nothing has no sign, also where the axis begins below it.
func TestNothingIsWrittenWithoutASign(t *testing.T) {
	s := Lines([]Line{{Name: "x", Values: []float64{0, 4}}}, LinesOptions{W: 500, H: 200, Periods: months(2),
		Write: func(v float64) string { return fmt.Sprintf("%.0f", v) }})
	var written []string
	for _, i := range s.Items {
		if i.Kind == scene.Text && i.Anchor == scene.End {
			written = append(written, i.Text)
		}
	}
	assert.Contains(t, written, "0")
	assert.NotContains(t, written, "-0")
}

// On the plane, better is right and up: who earned more for its cost stands higher, who is faster farther right.
func TestThePlaneKeepsItsDirections(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		of := func(name string) float64 { return rapid.Float64Range(0.1, 3).Draw(t, name) }
		points := []PlanePoint{{calendar.Months.Of(calendar.On(2026, 9, 1)), of("cost"), of("pace")},
			{calendar.Months.Of(calendar.On(2026, 10, 1)), of("cost now"), of("pace now")}}
		s := Plane(points, health.Tolerance{Watch: 0.95, Act: 0.9}, health.Tolerance{Watch: 0.95, Act: 0.85}, 500, 400)
		within(t, s)
		var dots []scene.Item
		for _, i := range s.Items {
			if i.Kind == scene.Circle {
				dots = append(dots, i)
			}
		}
		require.GreaterOrEqual(t, len(dots), 2)
		a, b := dots[0].Points, dots[len(dots)-1].Points
		if points[0].Pace < points[1].Pace-1e-9 {
			assert.LessOrEqual(t, a[0], b[0])
		}
		if points[0].Cost < points[1].Cost-1e-9 {
			assert.GreaterOrEqual(t, a[1], b[1])
		}
	})
	assert.Empty(t, Plane(nil, health.Tolerance{}, health.Tolerance{}, 500, 400).Items)
}

// A tail leads from where a project stood to where it stands, both on the plot; without a former place there is none.
func TestTailsOfTheSightingPlot(t *testing.T) {
	list := []Sight{{Code: "A", Finish: 0.5, Cost: -0.3, Weight: 9, Status: health.Act, From: &[2]float64{-0.4, 0.6}},
		{Code: "B", Finish: 0.01, Cost: 0, Weight: 1, Status: health.OnTrack}}
	s := Sighting(list, health.Defaults(), 520, 400)
	within(t, s)
	tails := 0
	for i, x := range s.Items {
		if x.Class != "tail" {
			continue
		}
		tails++
		assert.Less(t, x.Points[0], x.Points[2], "later now")
		assert.Less(t, x.Points[1], x.Points[3], "dearer now, which is lower")
		for _, y := range s.Items[:i] {
			assert.NotEqual(t, scene.Circle, y.Kind, "marks stand over tails")
		}
	}
	assert.Equal(t, 1, tails)
	assert.Equal(t, 1, strings.Count(s.SVG(), `class="tail"`))
}
