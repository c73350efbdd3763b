package main

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// From 2 December 2026 by the calendar: 454 days to 29 February 2028 (29 in December, 365 of 2027, 60 of 2028), 32 days back
// to 31 October.
func TestShift(t *testing.T) {
	for to, days := range map[string]int64{"2028-02-29": 29 + 365 + 60, "2026-10-31": -32, "2026-12-02": 0} {
		got, err := shift(to, "2026-12-02")
		require.NoError(t, err)
		assert.Equal(t, days*86_400, got, to)
	}
	for _, wrong := range [][2]string{{"2026-02-30", "2026-12-02"}, {"2026-12-02", "today"}} {
		_, err := shift(wrong[0], wrong[1])
		require.Error(t, err)
	}
}

func TestShifted(t *testing.T) {
	got, err := shifted("func Now() Time {\n"+reads+"\n", -60)
	require.NoError(t, err)
	assert.Equal(t, "func Now() Time {\n\tsec, nsec, mono := runtimeNow()\n\tsec += -60\n\tif mono == 0 {\n", got)
	_, err = shifted("func Now() Time {\n", 60)
	require.Error(t, err, "another release")
}
