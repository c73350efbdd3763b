package forecast

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// told is a moment with figures by their keys: shares and indices as they are, all others as whole numbers.
func told(month string, figures map[measure.Key]float64) Moment {
	d := on(month + "-28")
	m := Moment{Period: calendar.Period(d.Month()), AsOf: d, Values: make([]measure.Value, len(StoryKeys))}
	for i, key := range StoryKeys {
		if x, ok := figures[key]; ok {
			m.Values[i] = measure.Value{Known: true, N: int64(x), Ratio: x}
		}
	}
	return m
}

// ended is a finished project with an outcome and the cost index of three closed periods.
func endedStory(i, outcome int, index float64) Story {
	p := &measure.Project{Info: measure.Info{Code: fmt.Sprintf("F%03d", i), Status: measure.Closed, Category: []string{"a", "b"}[i%2],
		Lead: "L"}}
	p.Activities = []schedule.Activity{{Code: "1", ActualStart: on("2025-01-06"), ActualFinish: on("2025-12-19")}}
	measure.Assess(p, env)
	p.Health.Overall = []health.Status{health.OnTrack, health.Watch, health.Act}[outcome]
	s := Story{Project: p}
	for k := range 3 {
		s.Moments = append(s.Moments, told(fmt.Sprintf("2025-%02d", 3*k+3), map[measure.Key]float64{measure.TimePassed: 0.25 * float64(k+1),
			measure.CPI: index + 0.01*float64(k), measure.BAC: 1e8, measure.BaselineFinish: 1, measure.DataScore: 80}))
	}
	return s
}

// history are so many projects whose outcome follows their cost index, with a little noise; shuffled, it follows nothing.
func history(n int, shuffled bool) []Story {
	r := rand.New(rand.NewPCG(3, 9))
	outcomes := make([]int, n)
	for i := range outcomes {
		outcomes[i] = i % 3
	}
	if shuffled {
		r.Shuffle(n, func(i, k int) { outcomes[i], outcomes[k] = outcomes[k], outcomes[i] })
	}
	list := make([]Story, n)
	for i := range list {
		list[i] = endedStory(i, outcomes[i], 1.05-0.12*float64(i%3)+0.06*(r.Float64()-0.5))
	}
	return list
}

func TestWhatTheCostIndexTellsIsLearned(t *testing.T) {
	l := Learn(history(60, false), Filter{})
	require.Empty(t, l.Reason)
	assert.Equal(t, 60, l.Projects)
	assert.Len(t, l.Validated, 180)
	assert.Greater(t, l.Skill, 0.4)
	open := endedStory(999, 0, 0.8)
	open.Project.Status = measure.Open
	p, ok := l.Predict(&open)
	require.True(t, ok)
	assert.Equal(t, 2, p.Likeliest)
	assert.InDelta(t, 1, p.Chances[0]+p.Chances[1]+p.Chances[2], 1e-12)
	assert.Equal(t, "cost index", p.Drivers[0].Feature)
	assert.Equal(t, "toward", p.Drivers[0].Direction)
	assert.Equal(t, "a cost index of 0.82", p.Drivers[0].Words, "by its latest period")
	assert.Equal(t, calendar.Period(on("2025-09-01").Month()), p.Period)
	assert.Equal(t, "cost index", l.Overall()[0].Feature)
	assert.Equal(t, "high", p.Confidence)
	open.Moments = nil
	_, ok = l.Predict(&open)
	assert.False(t, ok, "no closed period tells of it")
}

// Skill is 1 less the log loss of what was told over that of the shares of the outcomes.
func TestSkillIsByLogLoss(t *testing.T) {
	l := Learn(history(30, false), Filter{})
	loss, base := 0.0, 0.0
	for _, v := range l.Validated {
		loss += -math.Log(v.Chances[v.Outcome])
		base += math.Log(3) // a third of each
	}
	assert.InDelta(t, 1-loss/base, l.Skill, 1e-12)
	told, came := 0, 0
	for _, b := range l.Bins {
		told, came = told+b.Told, came+b.Came
	}
	assert.Equal(t, []int{3 * 90, 90}, []int{told, came}, "one of three chances comes")
	right := l.Confusion[0][0] + l.Confusion[1][1] + l.Confusion[2][2]
	assert.Greater(t, right, 70)
	assert.InDelta(t, float64(right)/90, l.Right(), 1e-12)
	assert.Equal(t, []float64{0.25, 0}, []float64{(&Bin{Told: 4, Came: 1}).Share(), (&Bin{}).Share()})
	assert.Zero(t, (&Learned{}).Right())
}

// A history whose outcomes are dealt at random has no skill, and nothing is predicted by it.
func TestShuffledOutcomesAreRefused(t *testing.T) {
	l := Learn(history(60, true), Filter{})
	assert.LessOrEqual(t, l.Skill, 0.0)
	assert.Contains(t, l.Reason, "no skill")
	s := endedStory(1, 0, 1)
	_, ok := l.Predict(&s)
	assert.False(t, ok)
}

func TestThinHistoryIsRefused(t *testing.T) {
	assert.Equal(t, "19 finished projects with closed periods to learn from, of at least 20", Learn(history(19, false), Filter{}).Reason)
	assert.NotContains(t, Learn(history(20, false), Filter{}).Reason, "at least 20")
	alike := history(30, false)
	for i := range alike {
		alike[i].Project.Health.Overall = health.Act
	}
	assert.Equal(t, "all finished projects ended alike", Learn(alike, Filter{}).Reason)
	open := history(30, false)
	for i := range 15 {
		open[i].Project.Status = measure.Open
	}
	assert.Contains(t, Learn(open, Filter{}).Reason, "15 finished projects")
	unassessed := history(30, false)
	for i := range 11 {
		unassessed[i].Project.Health.Overall = health.NotAssessed
	}
	assert.Contains(t, Learn(unassessed, Filter{}).Reason, "19 finished projects")
	assert.Contains(t, Learn(nil, Filter{}).Reason, "0 finished projects")
}

// What is learned from is before the actual finish, and as good as the filter asks for.
func TestWhatIsLearnedFrom(t *testing.T) {
	list := history(24, false)
	for i := range list {
		list[i].Moments = append(list[i].Moments, told("2025-12", map[measure.Key]float64{measure.CPI: 0.1}))
		list[i].Moments[3].AsOf = on("2025-12-19")
	}
	assert.Len(t, Learn(list, Filter{}).Validated, 72, "the day of the finish is not before it")
	for i := range list {
		list[i].Moments[0].Values[slicesIndex(measure.DataScore)] = measure.Value{Known: true, Ratio: 79.9}
		list[i].Moments[1].Values[slicesIndex(measure.BaselineFinish)] = measure.Value{}
	}
	assert.Len(t, Learn(list, Filter{Score: 80}).Validated, 48)
	assert.Len(t, Learn(list, Filter{Baseline: true}).Validated, 48)
	assert.Len(t, Learn(list, Filter{Score: 80, Baseline: true}).Validated, 24)
}

func slicesIndex(key measure.Key) int {
	for i, k := range StoryKeys {
		if k == key {
			return i
		}
	}
	return -1
}

// The features of a moment by hand: a budget of 110 on a first one of 100, two slips in a row after a month without, one revision of more
// than a hundredth.
func TestFeaturesOfAMoment(t *testing.T) {
	s := &Story{Project: &measure.Project{}}
	for i, x := range [][2]float64{{100, 1000}, {110, 1000}, {105, 1001}, {106, 1030}, {108, 1031}} {
		s.Moments = append(s.Moments, told(fmt.Sprintf("2026-%02d", i+1), map[measure.Key]float64{measure.ExpectedFinish: x[0],
			measure.EAC:            x[1],
			measure.BAC:            110,
			measure.BudgetOriginal: 100, measure.CPI: 0.9, measure.RiskExposure: 12, measure.DataScore: 88.5}))
	}
	x := observe(s, 4, -0.5)
	assert.True(t, math.IsNaN(x[elapsed]))
	assert.Equal(t, []float64{0.9, 2, 1, 88.5, 12, -0.5}, []float64{x[costIndex], x[slips], x[revisions], x[score], x[exposure],
		x[accuracy]})
	assert.InDelta(t, 0.1, x[changes], 1e-12)
	assert.InDelta(t, math.Log(110), x[size], 1e-12)
	assert.Equal(t, 1.0, observe(s, 1, 0)[slips])
	assert.Equal(t, 0.0, observe(s, 2, 0)[slips])
}

// The record of a lead is of other projects that had ended by then.
func TestTheRecordOfALead(t *testing.T) {
	mk := func(code, finish string, ac, eac float64) Story {
		p := &measure.Project{Info: measure.Info{Code: code, Lead: "L", Status: measure.Closed}}
		costed(p, int64(ac), 0)
		p.Activities = []schedule.Activity{{Code: "1", ActualStart: on("2025-01-06"), ActualFinish: on(finish)}}
		measure.Assess(p, env)
		return Story{Project: p, Moments: []Moment{told("2025-01", map[measure.Key]float64{measure.EAC: eac * 100, measure.BAC: 10_000})}}
	}
	r := recordsOf([]Story{mk("A", "2025-06-30", 120, 100), mk("B", "2025-09-30", 90, 100), mk("C", "2026-09-30", 200, 100)})
	p := &measure.Project{Info: measure.Info{Code: "X", Lead: "L"}}
	assert.InDelta(t, 0.05, r.of(p, on("2026-01-31"), ""), 1e-12, "20 over and 10 under, of 100 each")
	assert.InDelta(t, -0.1, r.of(p, on("2026-01-31"), "A"), 1e-12)
	p.Code = "B"
	assert.InDelta(t, 0.2, r.of(p, on("2026-01-31"), ""), 1e-12, "not by itself")
	assert.True(t, math.IsNaN(r.of(p, on("2025-06-30"), "")), "ended on the day is not before it")
}

// The weights found are those at which no slope is left, as plain descent in many small steps finds them too.
func TestWeightsAreAtTheFootOfTheLoss(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	var list []example
	for i := range 40 {
		list = append(list, example{[]float64{r.NormFloat64(), r.NormFloat64()}, i % 3, 0.5 + r.Float64()})
	}
	m := fit(list, 2, nil)
	slow := &logistic{make([]float64, 3), make([]float64, 3), make([]float64, 3)}
	for range 20_000 {
		for k := range slow {
			grad := make([]float64, 3)
			for j, w := range slow[k] {
				grad[j] = []float64{0.01, 1, 1}[j] * w
			}
			for _, e := range list {
				g := slow.chances(e.x)[k]
				if k == e.outcome {
					g--
				}
				grad[0] += e.weight * g
				grad[1] += e.weight * g * e.x[0]
				grad[2] += e.weight * g * e.x[1]
			}
			for j := range grad {
				slow[k][j] -= 0.01 * grad[j]
			}
		}
	}
	for _, e := range list { // what all outcomes have in common is held by little, so that chances are compared and not weights
		x, y := m.chances(e.x), slow.chances(e.x)
		assert.InDeltaSlice(t, y[:], x[:], 1e-4)
	}
	assert.Equal(t, m, fit(list, 2, nil), "the same bits")
	again := fit(list, 2, m)
	for _, e := range list {
		x, y := m.chances(e.x), again.chances(e.x)
		assert.InDeltaSlice(t, x[:], y[:], 1e-6, "from where it ended")
	}
}

func TestLikeliest(t *testing.T) {
	assert.Equal(t, 2, Chances{0.4, 0.2, 0.4}.Likeliest(), "the worse of equal ones")
	assert.Equal(t, 0, Chances{0.5, 0.3, 0.2}.Likeliest())
	assert.Equal(t, 1, Chances{0.3, 0.4, 0.3}.Likeliest())
}

// What runs teaches nothing; a finished project that ended otherwise, or a period that tells another figure, is learned from anew.
func TestWhatIsLearnedHolds(t *testing.T) {
	list := history(24, false)
	l := Learn(list, Filter{})
	running := history(25, false)[24:]
	running[0].Project.Status = measure.Open
	again := append(history(24, false), running...)
	assert.True(t, l.Holds(again, Filter{}))
	was, ok := l.Predict(&again[24])
	require.True(t, ok)
	is, ok := Learn(again, Filter{}).Predict(&again[24])
	require.True(t, ok)
	assert.Equal(t, is, was, "the same as if it were learned anew")
	assert.False(t, l.Holds(again, Filter{Score: 1}))
	assert.False(t, l.Holds(again[1:], Filter{}))
	for name, spoil := range map[string]func(*Story){
		"outcome":  func(s *Story) { s.Project.Health.Overall = health.Act },
		"lead":     func(s *Story) { s.Project.Lead = "M" },
		"category": func(s *Story) { s.Project.Category = "c" },
		"status":   func(s *Story) { s.Project.Status = measure.Open },
		"figure":   func(s *Story) { s.Moments[1].Values[slicesIndex(measure.CPI)].Ratio++ },
		"period":   func(s *Story) { s.Moments = s.Moments[:2] },
		"end":      func(s *Story) { s.Project.Activities[0].ActualFinish++ },
	} {
		other := history(24, false)
		spoil(&other[0])
		assert.False(t, l.Holds(other, Filter{}), name)
	}
}

// Each moment tells what a story that ends with it would.
func TestTheCourseOfAPrediction(t *testing.T) {
	l := Learn(history(24, false), Filter{})
	s := endedStory(99, 2, 0.81)
	s.Project.Status = measure.Open
	got := l.Course(&s)
	require.Len(t, got, 3)
	for k := range got {
		cut := s
		cut.Moments = s.Moments[:k+1]
		want, ok := l.Predict(&cut)
		require.True(t, ok)
		assert.Equal(t, want, got[k])
	}
	assert.NotEqual(t, got[0].Chances, got[2].Chances)
	assert.Nil(t, Learn(nil, Filter{}).Course(&s), "nothing was learned")
}

// Of a moment with a score of 70 and no baseline.
func TestWhichMomentsAreLearnedFrom(t *testing.T) {
	bare := told("2025-03", map[measure.Key]float64{measure.DataScore: 70})
	based := told("2025-03", map[measure.Key]float64{measure.DataScore: 70, measure.BaselineFinish: 1})
	unscored := told("2025-03", map[measure.Key]float64{measure.BaselineFinish: 1})
	for _, x := range []struct {
		f                     Filter
		bare, based, unscored bool
	}{{Filter{}, true, true, true}, {Filter{Baseline: true}, false, true, true}, {Filter{Score: 70}, true, true, false},
		{Filter{Score: 70.5}, false, false, false}, {Filter{Score: 70, Baseline: true}, false, true, false}} {
		assert.Equal(t, []bool{x.bare, x.based, x.unscored}, []bool{x.f.takes(&bare), x.f.takes(&based), x.f.takes(&unscored)}, x.f)
	}
}
