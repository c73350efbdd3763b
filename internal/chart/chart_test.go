package chart

import (
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/scene"
)

var env = measure.Env{AsOf: calendar.On(2026, 10, 31), Currency: "EUR", Calendar: calendar.Standard, Tolerances: health.Defaults()}

// crowded is a project whose milestones stand close together and carry long names.
func crowded() *measure.Project {
	p := &measure.Project{Info: measure.Info{Code: "P", Name: `<b>"P"`}}
	for i := range 12 {
		d := calendar.On(2026, 9, 20) + calendar.Date(9*i)
		a := schedule.Activity{Code: "M", Name: "A milestone of some length", Kind: schedule.Milestone, BaselineFinish: d, Finish: d + 3}
		if i < 3 {
			a.ActualFinish = d
		}
		p.Activities = append(p.Activities, a)
	}
	p.Activities = append(p.Activities, schedule.Activity{Name: "Phase", Kind: schedule.Summary, BaselineStart: calendar.On(2026, 1, 5),
		BaselineFinish: calendar.On(2027, 1, 5), ActualStart: calendar.On(2026, 1, 5), Finish: calendar.On(2027, 2, 5),
		Percent: fact.Some(5000)})
	b := cost.NewBuilder(cost.NewRates("EUR", nil), calendar.Standard, env.AsOf)
	for m := calendar.On(2026, 1, 1).Month(); m < calendar.On(2027, 3, 1).Month(); m++ {
		b.Budget(cost.Line{Amount: 100_000_00, Currency: "EUR", Month: m})
		b.Forecast(cost.Line{Amount: 120_000_00, Currency: "EUR", Month: m})
		b.Post(cost.Posting{Code: 0, Date: m.First(), Amount: 110_000_00, Currency: "EUR"})
	}
	p.Account = b.Account()
	measure.Assess(p, env)
	return p
}

var words = regexp.MustCompile(`class="([^"]*)"`)

// Every class that a chart uses has a look in print and, by name, in the pages' styles.
func TestClassesHaveALook(t *testing.T) {
	css, err := os.ReadFile("../web/assets/scss/_scene.scss")
	require.NoError(t, err)
	for name := range scene.Print {
		assert.Regexp(t, `\.`+name+`\b`, string(css), "%s is missing in the pages' styles", name)
	}
	drawn := Strip(crowded(), env, 1200, nil).SVG() + Sighting([]Sight{{Code: "A", Status: health.Act}}, env.Tolerances, 400, 300).SVG() +
		DeviationBar(9, 1, 0.5, health.Watch).SVG() + busy().SVG() + Slips(creepers(), env.Period(), 1000, 400).SVG() +
		Pennant(health.NotAssessed, 12, true).SVG() + moneyCharts() + steps().SVG() + scattered(9).SVG() + mapped().SVG()
	groups := map[string]bool{"month": true, "scene": true, "sight": true, "milestone": true, "quiet": true}
	for _, m := range words.FindAllStringSubmatch(drawn, -1) {
		for _, class := range strings.Fields(m[1]) {
			_, ok := scene.Print[class]
			assert.True(t, ok || groups[class], "%s has no look in print", class)
		}
	}
	assert.NotContains(t, drawn, "style=", "pages allow no inline style")
	assert.NotContains(t, drawn, "<b>", "names are escaped")
}

// labels are the boxes of the texts of a scene with one of the classes.
func labels(s *scene.Scene, class string) []box {
	var list []box
	for _, i := range s.Items {
		if i.Kind == scene.Text && i.Class == class {
			list = append(list, textBox(i.Points[0], i.Points[1], 11, i.Anchor, i.Text))
		}
	}
	return list
}

func TestLabelsOfThePlotDoNotMeet(t *testing.T) {
	var list []Sight
	for i := range 30 {
		list = append(list, Sight{Code: "LW-1" + string(rune('A'+i)), Finish: float64(i%6) * 0.02, Cost: -float64(i%5) * 0.03,
			Weight: float64(i + 1), Status: health.Act})
	}
	boxes := labels(Sighting(list, env.Tolerances, 388, 372), "label")
	assert.NotEmpty(t, boxes)
	for i, b := range boxes {
		for _, o := range boxes[:i] {
			assert.False(t, b.hits(o), "%v meets %v", b, o)
		}
	}
}

func TestMilestonesStandAtTheirDates(t *testing.T) {
	p := crowded()
	st := &strip{p: p, env: env, w: 1200}
	st.span()
	assert.InDelta(t, gutter, st.x(st.first.First()), 1e-9)
	assert.InDelta(t, 1200-margin, st.after(st.last.Last()), 1e-9)
	assert.Greater(t, st.after(env.AsOf), st.x(env.AsOf))
	c := newCurves(st)
	assert.InDelta(t, 1_400_000, c.budget[len(c.budget)-1].v, 0.001)
	assert.InDelta(t, 1_100_000, c.actual[len(c.actual)-1].v, 0.001, "ten months of 110,000")
	assert.InDelta(t, 1_580_000, c.forecast[len(c.forecast)-1].v, 0.001, "and four of 120,000 to go")
	assert.InDelta(t, c.actual[len(c.actual)-1].x, c.forecast[0].x, 1e-9, "the forecast goes on where the actual cost ends")
}

func TestEmptyProjectsAreDrawn(t *testing.T) {
	p := &measure.Project{Info: measure.Info{Name: "Nothing"}}
	measure.Assess(p, env)
	assert.Contains(t, Strip(p, env, 1200, nil).SVG(), "nothing sent yet")
}

func TestSteps(t *testing.T) {
	for span, want := range map[float64]float64{0: 1, 10: 2, 0.3: 0.05, 97: 20} {
		assert.InDelta(t, want, step(span, 6), 1e-9)
	}
}
