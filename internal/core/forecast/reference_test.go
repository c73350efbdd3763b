package forecast

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/measure"
	"turret/internal/core/schedule"
)

// peer is a finished project of a budget that cost so much of it in the end, with three closed periods at a quarter, a half and all.
func peer(code, category string, budget, final int64) Story {
	p := &measure.Project{Info: measure.Info{Code: code, Category: category, Status: measure.Closed, Lead: "L"}}
	costed(p, final, 0)
	p.Activities = []schedule.Activity{{Code: "1", BaselineStart: on("2025-01-06"), BaselineFinish: on("2025-06-30"),
		ActualStart: on("2025-01-06"), ActualFinish: on("2025-07-04")}}
	measure.Assess(p, env)
	p.Values = append([]measure.Value{}, p.Values...)
	for i, d := range measure.All() {
		if d.Key == measure.BAC {
			p.Values[i] = measure.Value{Known: true, N: budget * 100}
		}
	}
	s := Story{Project: p}
	for i, share := range []float64{0.25, 0.5, 1} {
		s.Moments = append(s.Moments, told(fmt.Sprintf("2025-%02d", 2*i+2), map[measure.Key]float64{measure.TimePassed: share,
			measure.EAC: float64(budget*100) * (1 + 0.1*float64(i)), measure.BAC: float64(budget * 100),
			measure.ExpectedFinish: float64(on("2025-06-30"))}))
	}
	return s
}

// Eight of its category and size are enough; with seven the class is widened, by size, then to every kind.
func TestTheClassIsWidenedUntilItHoldsEight(t *testing.T) {
	me := peer("ME", "dam", 100, 100).Project
	me.Status = measure.Open
	for i, d := range measure.All() {
		if d.Key == measure.TimePassed {
			me.Values[i] = measure.Value{Known: true, Ratio: 0.45}
		}
	}
	var list []Story
	for i := range 7 {
		list = append(list, peer(fmt.Sprint("N", i), "dam", 200, 200+10*int64(i)))
	}
	for i := range 3 {
		list = append(list, peer(fmt.Sprint("M", i), "dam", 400, 400))
	}
	list = append(list, peer("H", "dam", 100_000, 1), peer("O", "lock", 100, 100))
	c := Reference(me, list, 0)
	require.Len(t, c.Members, 10)
	assert.Equal(t, Widths[1], c.Width)
	assert.Equal(t, 0.5, c.Members[0].Share, "nearest to 0.45")
	assert.Equal(t, []float64{0.45, 1, 4}, []float64{c.Own.Share, c.Own.FinalCost, c.Own.FinalLate})
	assert.InDelta(t, 1.1, c.Members[0].CostThen, 1e-9)
	// Final costs: 1, 1.05, … 1.3 and three of 1: the fifth of ten is 1.05, the eighth 1.2, the ninth 1.25.
	assert.InDeltaSlice(t, []float64{1, 1.05, 1.2, 1.25}, []float64{c.Cost.P10, c.Cost.P50, c.Cost.P80, c.Cost.P90}, 1e-9)
	assert.Equal(t, 4.0, c.Late.P50, "four working days from 30 June to 4 July")
	assert.True(t, c.Known)
	// Left out, only the dearest lies beyond what the nine others' ninetieth percentile (their dearest) holds.
	assert.InDelta(t, 0.9, c.Covered, 1e-9)
	assert.Len(t, Reference(me, list, 1).Members, 7)
	assert.False(t, Reference(me, list, 1).Known)
	assert.Len(t, Reference(me, list, 3).Members, 11)
	assert.Len(t, Reference(me, list, 4).Members, 12)
	assert.Len(t, Reference(me, list[:9], 0).Members, 9)
	assert.Equal(t, Widths[3], Reference(me, list[:3], 0).Width)
	assert.Empty(t, Reference(me, nil, 0).Members)
	me.Values = make([]measure.Value, len(me.Values))
	assert.Nil(t, Reference(me, list, 0), "nothing tells how far it is")
}

// By hand: estimates of 100, 110 and 120 for what cost 120 are 10 off in the mean, of a budget of 100; 30 June for 4 July is four days.
func TestHowALeadsForecastsTurnedOut(t *testing.T) {
	list := []Story{peer("A", "dam", 100, 120), peer("B", "dam", 100, 100), peer("C", "dam", 100, 500)}
	list[2].Project.Status = measure.Open
	r := RecordOf(list, func(p *measure.Project) bool { return p.Lead == "L" })
	assert.Equal(t, []int{2, 6}, []int{r.Projects, r.Months})
	assert.InDelta(t, 0, r.Cost, 1e-9, "10 over and 10 under")
	assert.InDelta(t, 0.1, r.CostSpread, 1e-9)
	assert.InDelta(t, 4, r.Days, 1e-9)
	assert.Equal(t, Record{}, RecordOf(list, func(*measure.Project) bool { return false }))
}
