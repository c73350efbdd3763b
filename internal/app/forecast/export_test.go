package forecast

import "turret/internal/core/calendar"

// Drawn is how a project of the office finished in each run, as it was drawn.
func Drawn(r *Ranges, project int) []calendar.Date { return r.sim.result.Of[project].Finish }

// Formers is of how many asks the last answer is kept.
func Formers(o *Office) int {
	o.mu.Lock()
	defer o.mu.Unlock()
	return len(o.formers)
}

// Held is how many lessons and simulations are held on to.
func Held(o *Office) (lessons, simulations int) {
	o.mu.Lock()
	defer o.mu.Unlock()
	return len(o.learned), len(o.runs)
}

// Unkeep lets go of all simulations under way and tells how many somebody waited for.
func Unkeep(o *Office) (awaited int64) {
	o.mu.Lock()
	defer o.mu.Unlock()
	for _, x := range o.runs {
		if n := x.waits.Load(); n > 0 {
			awaited += n
			x.unkept.Store(true)
		}
	}
	if awaited > 0 {
		o.runs = nil
	}
	return awaited
}
