package condition

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// At each bound of a condition's work it is computed, and one step beyond it is not.
func TestStepsAtTheirLimits(t *testing.T) {
	assert.NoError(t, (&Work{Most: MaxRunSteps}).take(maxSteps))
	assert.ErrorIs(t, (&Work{Most: MaxRunSteps}).take(maxSteps+1), ErrLong, "of one record")
	w := &Work{Most: 10}
	require.NoError(t, w.take(4))
	require.NoError(t, w.take(6))
	assert.ErrorIs(t, w.take(1), ErrLong, "of all records")
}

// A text of a thousand letters is a pattern of a thousand steps; a?, [a-c] and a{3,} are 2, 1 and 8 of them, counted by hand.
func TestSizeOfPatterns(t *testing.T) {
	for pattern, want := range map[string]int{strings.Repeat("a", maxPattern): maxPattern, "": 1, "a": 1, "a?": 2, "[a-c]": 1, "a{3,}": 8,
		"(ab){2,5}": 20, "(": 0} {
		assert.Equal(t, want, patternSize(pattern), pattern)
	}
	for n, ok := range map[int]bool{maxPattern: true, maxPattern + 1: false} {
		_, err := Compile(`name matches "`+strings.Repeat("a", n)+`"`, "project")
		assert.Equal(t, ok, err == nil, n)
	}
}
