package schedule

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// What is read is written so that it is read as the same again, also codes that end in what looks like a type or a lag.
func TestNotationComesBack(t *testing.T) {
	none := func(string) bool { return false }
	for text, want := range map[string]Predecessor{
		"0 FS FS": {Code: "0 FS"}, "0 FS": {Code: "0"}, "0 +3 FS": {Code: "0 +3"}, "0 SS FS +2": {Code: "0 SS", Lag: 2},
		"0 fs SS -1": {Code: "0 fs", Type: StartStart, Lag: -1},
	} {
		list, err := ParsePredecessors(text, none)
		require.NoError(t, err, text)
		assert.Equal(t, []Predecessor{want}, list, text)
		again, err := ParsePredecessors(Predecessors(list), none)
		require.NoError(t, err, text)
		assert.Equal(t, list, again, text)
	}
	rapid.Check(t, func(t *rapid.T) {
		p := Predecessor{Code: rapid.StringMatching(`[A-Za-z0-9.]( ?[A-Za-z0-9.+-]| (FS|SS|ff|\+3|-2)){0,4}`).Draw(t, "code"),
			Type: LinkType(rapid.IntRange(0, 3).Draw(t, "type")), Lag: int32(rapid.IntRange(-9999, 9999).Draw(t, "lag"))}
		list, err := ParsePredecessors(p.String(), none)
		require.NoError(t, err, p.String())
		assert.Equal(t, []Predecessor{p}, list, p.String())
	})
}
