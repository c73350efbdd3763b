package risk_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/fact"
	"turret/internal/core/risk"
)

// By hand: two in one square, one in a corner; what lacks a rating or is out of bounds stands nowhere.
func TestGridOfRisks(t *testing.T) {
	var cells []risk.Cell
	for _, x := range [][2]fact.Int{{fact.Some(5), fact.Some(1)}, {fact.Some(2), fact.Some(3)}, {fact.Some(2), fact.Some(3)},
		{fact.Some(2), {}}, {{}, fact.Some(3)}, {fact.Some(0), fact.Some(3)}, {fact.Some(2), fact.Some(6)}} {
		r := risk.Rating{Likelihood: x[0], Consequence: x[1]}
		if c, ok := r.Cell(); ok {
			cells = append(cells, c)
		}
	}
	assert.Equal(t, [5][5]int{4: {0: 1}, 1: {2: 2}}, risk.Grid(cells))
}
