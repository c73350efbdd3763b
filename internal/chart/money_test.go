package chart

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/curve"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/scene"
)

func curveOf(trend bool) (*curve.Curve, *scene.Scene) {
	c := curve.New([]*measure.Project{crowded()}, env)
	c.Commitments = 50_000_00
	if trend {
		c.Statistical = fact.Some(2_000_000_00)
	}
	return c, Curve(c, CurveOptions{W: 1216, H: 392, AsOf: env.AsOf, Currency: "EUR",
		Href: func(m calendar.Month) string { return "/money?month=" + m.String() }})
}

// rects are the rectangles of a scene of a class, groups included.
func rectsOf(s *scene.Scene, class string) []scene.Item {
	var list []scene.Item
	for _, i := range s.Items {
		if i.Kind == scene.Rect && i.Class == class {
			list = append(list, i)
		}
	}
	return list
}

// Each month can be pointed at and leads somewhere; its words hold the amounts of the account.
func TestCurveTellsEveryMonth(t *testing.T) {
	c, s := curveOf(true)
	svg := s.SVG()
	for i := range c.Budget {
		m := c.First + calendar.Month(i)
		assert.Contains(t, svg, "/money?month="+m.String())
		assert.Contains(t, svg, m.Name()+", budget "+c.Budget[i].Human("EUR"))
	}
	assert.Len(t, rectsOf(s, "hit"), len(c.Budget))
	for _, label := range []string{"budget €1.40 M", "actual €1.10 M", "and ordered €50 k", "trend €2.00 M", "estimate €"} {
		assert.Contains(t, svg, label)
	}
	_, plain := curveOf(false)
	assert.NotContains(t, plain.SVG(), "trend")
	assert.Empty(t, Curve(&curve.Curve{}, CurveOptions{W: 100, H: 100}).Items, "nothing is drawn of nothing")
}

// Labels of a curve do not lie over each other, and nothing is drawn beyond the sheet.
func TestCurveLabelsKeepApart(t *testing.T) {
	_, s := curveOf(true)
	var boxes []box
	for _, class := range []string{"label-bold", "act", "label-asof"} {
		boxes = append(boxes, labels(s, class)...)
	}
	for i := range boxes {
		for j := range boxes[:i] {
			a, b := boxes[i], boxes[j]
			assert.False(t, a.x1 < b.x2 && b.x1 < a.x2 && a.y1 < b.y2 && b.y1 < a.y2, "%+v over %+v", a, b)
		}
	}
	for _, i := range s.Items {
		for k := 0; k+1 < len(i.Points) && i.Kind != scene.Rect; k += 2 {
			assert.True(t, i.Points[k] >= 0 && i.Points[k] <= s.W && i.Points[k+1] >= 0 && i.Points[k+1] <= s.H, "%+v", i)
		}
	}
}

// The steps of a bridge hang together: each begins where the one before ended, and a step's height is to its amount as every other's.
func TestBridgeHangsTogether(t *testing.T) {
	steps := []BridgeStep{{Name: "was", Amount: 1_000_00, Whole: true}, {Name: "more", Amount: 300_00}, {Name: "less", Amount: -100_00},
		{Name: "same", Amount: 0}, {Name: "is", Amount: 1_200_00, Whole: true}}
	s := Bridge(steps, "EUR", 800, 260)
	var bars []scene.Item
	for _, i := range s.Items {
		if i.Kind == scene.Rect {
			bars = append(bars, i)
		}
	}
	require.Len(t, bars, 5)
	top := func(i int) float64 { return bars[i].Points[1] }
	foot := func(i int) float64 { return bars[i].Points[1] + bars[i].Points[3] }
	assert.InDelta(t, top(0), foot(1), 1e-6, "what is added stands on the total")
	assert.InDelta(t, top(1), top(2), 1e-6, "what is taken hangs from there")
	assert.InDelta(t, foot(2), top(4), 1e-6, "and ends where the new total stands")
	assert.InDelta(t, 3, bars[1].Points[3]/bars[2].Points[3], 1e-6)
	assert.Equal(t, []string{"act", "on-track", "ghost"}, []string{bars[1].Class, bars[2].Class, bars[3].Class})
	assert.Contains(t, s.SVG(), "+€300")
	assert.Contains(t, s.SVG(), "−€100")
}

func TestUsedBarsAndBills(t *testing.T) {
	s := Used(0.9, 0.5, true)
	assert.Len(t, rectsOf(s, "watch"), 1, "much more of the budget than of the time")
	assert.Empty(t, rectsOf(Used(0.5, 0.5, true), "watch"))
	assert.Contains(t, s.SVG(), "90.0 % of the budget spent, 50.0 % of the time passed")
	wide := rectsOf(Used(9, 0.5, true), "watch")[0]
	assert.LessOrEqual(t, wide.Points[0]+wide.Points[2], 96.0, "nine times the budget still fits")
	first := calendar.On(2026, 9, 1).Month()
	b := Bills(first, []money.Amount{100_00, 200_00, -5_00}, []money.Amount{50_00, 0, 0}, env.AsOf, "EUR", 600, 200)
	svg := b.SVG()
	assert.Contains(t, svg, "September 2026: planned €100.00, billed €50.00")
	assert.Equal(t, 1, strings.Count(svg, `class="work-done"`))
	pale := rectsOf(b, "baseline")
	require.GreaterOrEqual(t, len(pale), 2)
	assert.InDelta(t, 2, pale[1].Points[3]/pale[0].Points[3], 1e-6)
}

// moneyCharts are all drawings of money, for the test of their looks.
func moneyCharts() string {
	_, c := curveOf(true)
	return c.SVG() + Bridge([]BridgeStep{{Name: "<b>", Amount: 5, Whole: true}, {Name: "x", Amount: -2}}, "EUR", 400, 200).SVG() +
		Used(1.3, 0.2, true).SVG() +
		Bills(calendar.On(2026, 9, 1).Month(), []money.Amount{1, 2}, []money.Amount{1, 0}, env.AsOf, "EUR", 400, 200).SVG()
}

// In the middle of a month the as-of line stands within that month's bar, at the share of its days, and actual cost ends there: 15 of 30
// days of November are half its width.
func TestCurveEndsOnTheDay(t *testing.T) {
	mid := env
	mid.AsOf = calendar.On(2026, 11, 15)
	c := curve.New([]*measure.Project{crowded()}, mid)
	s := Curve(c, CurveOptions{W: 1216, H: 392, AsOf: mid.AsOf, Currency: "EUR"})
	bar := rectsOf(s, "hit")[int(mid.AsOf.Month()-c.First)]
	want := bar.Points[0] + bar.Points[2]/2
	for _, i := range s.Items {
		switch {
		case i.Kind == scene.Line && i.Class == "asof":
			assert.InDelta(t, want, i.Points[0], 1e-6)
		case i.Kind == scene.Polyline && i.Class == "actual":
			assert.InDelta(t, want, i.Points[len(i.Points)-2], 1e-6)
		case i.Kind == scene.Polyline && i.Class == "forecast":
			assert.InDelta(t, want, i.Points[0], 1e-6)
		}
	}
}

// Of a budget left of 100, 300 and 600 the trend rises by a tenth, three tenths and six tenths of what it has still to rise.
func TestTheTrendFollowsTheBudgetLeft(t *testing.T) {
	c := &curve.Curve{First: calendar.On(2026, 9, 1).Month(), Budget: make([]money.Amount, 4), Actual: make([]money.Amount, 4),
		ToGo: make([]money.Amount, 4), Estimate: 2500, Budgeted: 2000, Projects: 1, Statistical: fact.Some(3500),
		Sums: []curve.Sum{{Budget: 1000, Actual: 1500, Estimate: 1500}, {Budget: 1100, Actual: 1500, Estimate: 1600},
			{Budget: 1400, Actual: 1500, Estimate: 2000}, {Budget: 2000, Actual: 1500, Estimate: 2500}}}
	draw := func() []float64 {
		for _, i := range Curve(c, CurveOptions{W: 1000, H: 400, AsOf: calendar.On(2026, 9, 30), Currency: "EUR"}).Items {
			if i.Class == "trend" {
				return i.Points
			}
		}
		return nil
	}
	p := draw()
	require.Len(t, p, 8, "what is spent, and the end of each month left")
	rise := p[1] - p[7]
	require.Positive(t, rise)
	assert.InDelta(t, 0.1, (p[1]-p[3])/rise, 1e-9)
	assert.InDelta(t, 0.4, (p[1]-p[5])/rise, 1e-9)
	for i := range c.Sums {
		c.Sums[i].Budget = 1000
	}
	assert.Len(t, draw(), 4, "straight where no budget is left")
}
