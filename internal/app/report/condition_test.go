package report_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/condition"
	"turret/internal/app/report"
)

// A pattern of some 600 instructions over 200,000 letters would be 120 million steps.
func TestAConditionThatTakesTooMuchWork(t *testing.T) {
	const heavy = `commentary matches "(a?b?c?d?e?f?g?h?i?j?){10}z{300}"`
	a, p := apptest.Talker(t, 200_000)
	x, err := condition.Compile(heavy, "project")
	require.NoError(t, err)
	_, err = x.Holds(a, p, &condition.Work{Most: condition.MaxRunSteps})
	assert.ErrorIs(t, err, condition.ErrLong)
	_, _, err = report.Table(a, "", report.TableQuery{Where: heavy})
	assert.ErrorIs(t, err, condition.ErrLong)

	a, p = apptest.Talker(t, 1000)
	_, err = x.Holds(a, p, &condition.Work{Most: condition.MaxRunSteps})
	assert.NoError(t, err)
	w := &condition.Work{Most: condition.MaxRunSteps}
	n := 0
	for ; err == nil && n < 1000; n++ {
		_, err = x.Holds(a, p, w)
	}
	assert.ErrorIs(t, err, condition.ErrLong, "added up over many")
	assert.Greater(t, n, 100)
}
