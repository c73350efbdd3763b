package assess

import (
	"context"

	"turret/internal/core/measure"
)

// Bytes is what an assessment is taken to need.
func Bytes(a *Assessment) int64 { return bytesOf(a) }

// RunOwn runs the own checks of the settings over projects.
func RunOwn(a *Assessment, projects []*measure.Project) {
	readyOwn(a)
	runOwn(a, projects)
}

// Hold takes the turn of whoever asks, as a day of theirs that is being computed does.
func Hold(ctx context.Context, o *Office) (done func(), err error) { return o.asking.Wait(ctx) }

// Occupy has whatever is to be computed wait until done is called.
func Occupy(o *Office) (done func()) {
	o.cache.one <- struct{}{}
	return func() { <-o.cache.one }
}

// Forgive lets checks that were switched off for their work run again, as a new assessment does.
func Forgive(a *Assessment) { a.overworked = nil }
