package app

import (
	"sync"
	"time"
)

// forgiven is how far a clock may jump back and still be held at the last moment it told; beyond that it was wrong before, and is followed.
const forgiven = 24 * time.Hour

// rising is a clock that never tells the same moment twice, in microseconds as they are kept, nor an earlier one: what is closed and what
// is decided after it are told apart by their moments, also where the machine's clock is put back meanwhile. It is safe for concurrent use.
func rising(now func() time.Time) func() time.Time {
	var mu sync.Mutex
	var last time.Time
	return func() time.Time {
		mu.Lock()
		defer mu.Unlock()
		at := now().Truncate(time.Microsecond)
		if !at.After(last) && last.Sub(at) < forgiven {
			at = last.Add(time.Microsecond)
		}
		last = at
		return at
	}
}
