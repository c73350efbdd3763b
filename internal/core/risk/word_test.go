package risk

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestStatesByTheirWords(t *testing.T) {
	for _, s := range []State{"closed", " Closed ", "DONE", "resolved", "occurred", "cancelled", "dropped", "expired", "complete",
		"completed"} {
		assert.True(t, s.Over(), s)
		assert.False(t, s.Settled(), s)
	}
	for _, s := range []State{"", "open", "in work", "waiting", "close", "not done", "taken"} {
		assert.False(t, s.Over(), s)
	}
	for _, s := range []State{"taken", "Refused", " withdrawn"} {
		assert.True(t, s.Settled(), s)
	}
	for _, s := range []State{"", "put off", "asked", "done"} {
		assert.False(t, s.Settled(), s)
	}
}

func TestPrioritiesByTheirWords(t *testing.T) {
	for p, want := range map[Priority]int{"high": 0, "Highest": 0, "very high": 0, " urgent": 0, "CRITICAL": 0, "1": 0,
		"medium": 1, "Medium ": 1,
		"low": 2, "": 3, "2": 3, "whenever": 3, "higher": 3} {
		assert.Equal(t, want, p.Weight(), p)
		assert.Equal(t, want == 0, p.High(), p)
	}
}
