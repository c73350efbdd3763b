package say_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/say"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/way"
)

func TestTheWayBackInWords(t *testing.T) {
	n := func(n int64) measure.Value { return measure.Value{Known: true, N: n} }
	index := func(f float64) measure.Value { return measure.Value{Known: true, Ratio: f} }
	none := measure.Value{Reason: "fewer than two periods tell of it"}
	for _, c := range []struct {
		w    way.Way
		want string
	}{
		{way.Way{Says: "Finish 5 working days earlier", To: health.Watch, Unit: measure.Days, Need: n(5), Best: n(6),
			By: calendar.On(2026, 11, 6)},
			"Finish 5 working days earlier by 6 Nov 2026, to be at watch; it gained 6 working days in its best period, which is enough"},
		{way.Way{Says: "Finish 1 working day earlier", To: health.OnTrack, Unit: measure.Days, Need: n(1), Best: n(0)},
			"Finish 1 working day earlier, to be on track; it has never gained a day in a period"},
		{way.Way{Says: "Complete for €5.00 less", To: health.OnTrack, Unit: measure.Money, Need: n(500), Best: n(499), Currency: "EUR"},
			"Complete for €5.00 less, to be on track; its estimate fell by €4.99 in its best period, which is not enough"},
		{way.Way{Says: "Work off the rest at a cost index of 1.09", To: health.OnTrack, Unit: measure.Index, Need: index(1.085),
			Best: index(1)}, "Work off the rest at a cost index of 1.09, to be on track; its best period had 1.00, which is not enough"},
		{way.Way{Says: "Close 2 of the late issues", To: health.Watch, Unit: measure.Count, Need: n(2), Best: none},
			"Close 2 of the late issues, to be at watch"},
		{way.Way{Says: "No index of the rest brings it back: the money is spent", To: health.Watch, Unit: measure.Index,
			Need: measure.Value{Reason: "more is spent"}, Best: index(1)}, "No index of the rest brings it back: the money is spent"},
	} {
		assert.Equal(t, c.want, say.Way(&c.w))
	}
}

// Of three projects one waits for its forecast and its dates, two for their actual costs; what as many wait for stands together.
func TestWhatHasNotCome(t *testing.T) {
	env := measure.Env{AsOf: calendar.On(2026, 10, 31)}
	waits := func(kinds ...string) *measure.Project {
		p := &measure.Project{}
		for _, k := range kinds {
			p.Awaits = append(p.Awaits, measure.Awaited{Kind: k})
		}
		return p
	}
	assert.Empty(t, say.Awaited([]*measure.Project{waits(), waits()}, env))
	assert.Equal(t, " Actual costs of 2 of 3 projects; forecasts and dates of 1 of 3 projects have not come for October 2026.",
		say.Awaited([]*measure.Project{waits("actuals"), waits("actuals", "forecast", "activities"), waits()}, env))
	assert.Equal(t, " Actual costs have not come for October 2026.", say.Awaited([]*measure.Project{waits("actuals")}, env))
}
