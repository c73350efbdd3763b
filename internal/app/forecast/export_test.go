package forecast

// Held is how many lessons and simulations are held on to.
func Held(o *Office) (lessons, simulations int) {
	o.mu.Lock()
	defer o.mu.Unlock()
	return len(o.learned), len(o.runs)
}
