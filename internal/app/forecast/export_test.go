package forecast

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
