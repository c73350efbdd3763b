package forecast

import (
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/forecast"
)

// former is what was last answered to an ask, whatever the figures were then, so that only what has changed since is simulated.
type former struct {
	ask  Ask
	asOf calendar.Date
	came *forecast.Reuse
}

// mostFormer is how many such answers are kept; those of a thousand projects take some megabytes each.
const mostFormer = 6

// reusable is what the same was answered to before, also where some tasks are moved now; nil where it was not asked yet.
func (o *Office) reusable(q Ask, asOf calendar.Date) *forecast.Reuse {
	q.moves = ""
	o.mu.Lock()
	defer o.mu.Unlock()
	if i := slices.IndexFunc(o.formers, func(x former) bool { return x.ask == q && x.asOf == asOf }); i >= 0 {
		return o.formers[i].came
	}
	return nil
}

// reuse keeps an answer in the place of the one before, unless it has so many runs that it weighs more than it saves.
func (o *Office) reuse(q Ask, asOf calendar.Date, came *forecast.Reuse) {
	if came == nil || q.Runs > forecast.DefaultRuns {
		return
	}
	o.mu.Lock()
	defer o.mu.Unlock()
	list := slices.DeleteFunc(slices.Clone(o.formers), func(x former) bool { return x.ask == q && x.asOf == asOf })
	o.formers = append([]former{{q, asOf, came}}, list[:min(len(list), mostFormer-1)]...)
}
