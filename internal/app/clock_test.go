package app

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// Moments that a machine tells, and those that are stamped: a clock that stands still or is put back by an hour is held at what it told
// last, one microsecond on; one that is put back by a day was wrong before.
func TestAClockOnlyRises(t *testing.T) {
	start := time.Date(2026, 10, 25, 2, 30, 0, 0, time.UTC)
	for _, x := range []struct {
		name       string
		told, want []time.Duration // since start
	}{
		{"it goes on", []time.Duration{0, time.Second, time.Hour}, []time.Duration{0, time.Second, time.Hour}},
		{"it stands still", []time.Duration{0, 0, 0}, []time.Duration{0, time.Microsecond, 2 * time.Microsecond}},
		{"finer than what is kept", []time.Duration{0, 400, 1700}, []time.Duration{0, time.Microsecond, 2 * time.Microsecond}},
		{"back by an hour", []time.Duration{0, -time.Hour, -time.Hour + time.Minute, time.Second},
			[]time.Duration{0, time.Microsecond, 2 * time.Microsecond, time.Second}},
		{"back by a day", []time.Duration{0, -24 * time.Hour, -23 * time.Hour}, []time.Duration{0, -24 * time.Hour, -23 * time.Hour}},
	} {
		at := 0
		now := rising(func() time.Time { at++; return start.Add(x.told[at-1]) })
		for i, want := range x.want {
			assert.Equal(t, start.Add(want), now(), "%s, the %d. time", x.name, i+1)
		}
	}
}
