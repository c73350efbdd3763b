package intake_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/intake"
)

// A changed meaning is told until a file was loaded by it: up to and with the moment in which it changed.
func TestAChangedMeaningIsToldUntilItWasUsed(t *testing.T) {
	at := time.Date(2026, 11, 3, 8, 0, 0, 0, time.UTC)
	for used, want := range map[time.Duration]bool{-time.Second: true, 0: true, time.Second: false} {
		m := intake.Meaning{ChangedBy: "Ana", ChangedAt: at, UsedAt: at.Add(used)}
		assert.Equal(t, want, m.Fresh(), used)
		m.ChangedBy = ""
		assert.False(t, m.Fresh(), "nobody changed it")
	}
}
