package forecast

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/assess"
	"turret/internal/app/setting"
	"turret/internal/core/forecast"
)

// Simulations of single projects do not push out those of whole scopes, nor the other way about.
func TestSimulationsThatAreKept(t *testing.T) {
	var runs []*simulation
	whole := &simulation{}
	runs = lately(append(runs, whole))
	for range mostAlone + 5 {
		runs = lately(append([]*simulation{{ask: Ask{alone: true}}}, runs...))
	}
	assert.Len(t, runs, mostAlone+1)
	assert.False(t, whole.unkept.Load())
	assert.Same(t, whole, runs[len(runs)-1])
	for range mostKept {
		runs = lately(append([]*simulation{{}}, runs...))
	}
	assert.Len(t, runs, mostAlone+mostKept)
	for _, x := range runs {
		assert.NotSame(t, whole, x, "the oldest goes")
	}
	assert.True(t, whole.unkept.Load(), "and need not go on")
}

// What nobody keeps goes on as long as somebody waits for it: two who read older figures of one day would stop each other's without end.
func TestASimulationThatIsWaitedForGoesOn(t *testing.T) {
	sim := &simulation{}
	assert.True(t, sim.goesOn())
	sim.unkept.Store(true)
	assert.False(t, sim.goesOn())
	sim.waits.Add(1)
	assert.True(t, sim.goesOn())
	sim.waits.Add(-1)
	assert.False(t, sim.goesOn())
}

// By default what has a baseline is learned from.
func TestWhatIsLearnedFromFollowsTheSettings(t *testing.T) {
	a := &assess.Assessment{Settings: &setting.Settings{}}
	assert.Equal(t, forecast.Filter{Baseline: true}, FilterOf(a))
	a.Settings = &setting.Settings{LearnScore: 60, LearnAny: true}
	assert.Equal(t, forecast.Filter{Score: 60}, FilterOf(a))
}
