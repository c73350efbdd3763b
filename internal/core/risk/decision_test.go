package risk_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/risk"
)

// A decision is asked for until its state says otherwise, and its day, where there is one, has come.
func TestWhenADecisionIsStillAskedFor(t *testing.T) {
	for _, x := range []struct {
		state risk.State
		on    calendar.Date
		open  bool
	}{{"", 0, true}, {"asked for", 0, true}, {"asked for", day - 1, true}, {"put off", day, true}, {"taken", 0, false}, {"taken", day,
		false},
		{"taken", day + 1, true}, {"Refused", day - 1, false}, {"withdrawn", 0, false}, {"withdrawn", day + 1, true}} {
		d := risk.Decision{State: x.state, On: x.on}
		assert.Equal(t, x.open, d.Open(day), "%s on %s", x.state, x.on)
	}
}

// One of three is 33.33 %, two of three 66.67 %; one of eight hundred 0.125 %, which rounds to the even 0.12 %, and three 0.375 %, to 0.38
// %.
func TestProgressByChecklist(t *testing.T) {
	steps := func(done, all int) (list []risk.Step) {
		for i := range all {
			list = append(list, risk.Step{Action: "T", Done: i < done}, risk.Step{Action: "U", Done: true})
		}
		return list
	}
	for _, x := range []struct {
		done, all int
		want      int64
	}{{0, 1, 0}, {1, 1, 10_000}, {1, 3, 3333}, {2, 3, 6667}, {1, 800, 12}, {3, 800, 38}, {5000, 5000, 10_000}} {
		assert.Equal(t, fact.Some(x.want), risk.Ticked(steps(x.done, x.all), "T"), "%d of %d", x.done, x.all)
	}
	assert.False(t, risk.Ticked(steps(1, 2), "V").Given, "an action without a checklist")
	a := risk.Action{Code: "T", Percent: fact.Some(9_000)}
	assert.Equal(t, fact.Some(5_000), risk.Progress(&a, steps(1, 2)), "the checklist goes before what was typed")
	assert.Equal(t, fact.Some(9_000), risk.Progress(&a, nil))
}

func TestAge(t *testing.T) {
	assert.Equal(t, fact.Some(0), risk.Age(day, 0, day))
	assert.Equal(t, fact.Some(30), risk.Age(day-30, 0, day))
	assert.Equal(t, fact.Some(20), risk.Age(day-30, day-10, day), "days to close")
	assert.Equal(t, fact.Some(30), risk.Age(day-30, day+1, day), "not over yet")
	assert.False(t, risk.Age(0, 0, day).Given)
	assert.False(t, risk.Age(day+1, 0, day).Given, "still to come")
}
