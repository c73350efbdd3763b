package risk_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/risk"
)

// By hand, as of 31 October: one is closed by then, one is closed only later, one blocks nothing.
func TestWhatBlocksAnActivity(t *testing.T) {
	by := risk.Blocking([]risk.Issue{{Code: "A", Blocks: "X", State: "open"}, {Code: "B", Blocks: "X", State: "closed", Closed: day},
		{Code: "C", Blocks: "X", State: "closed", Closed: day + 1}, {Code: "D", State: "open"}, {Code: "E", Blocks: "Y"}}, day)
	codes := map[string][]string{}
	for activity, list := range by {
		for _, x := range list {
			codes[activity] = append(codes[activity], x.Code)
		}
	}
	assert.Equal(t, map[string][]string{"X": {"A", "C"}, "Y": {"E"}}, codes)
}
