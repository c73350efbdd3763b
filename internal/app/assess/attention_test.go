package assess_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/apptest"
	"turret/internal/app/assess"
)

// Act before watch; within it by money at stake: 600,000 before 25,000, then 20,000 before 10,000.
func TestAttentionGoesToTheLargestStake(t *testing.T) {
	list := slices.Clone(apptest.Seven(t).Projects)
	assess.ByAttention(list)
	assert.Equal(t, []string{"large", "small", "dearer", "late", "blank", "calm", "early"}, apptest.Codes(list))
}
