package judge_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/apptest"
	"turret/internal/app/judge"
)

// The largest stake first: large 600,000, dearer 20,000 and late 10,000; what is declared worse than computed is no disagreement here.
func TestDisagreementsByStake(t *testing.T) {
	a := apptest.Seven(t)
	var got []string
	for _, d := range judge.Disagreements(a, apptest.Open(t, a)) {
		if d.About == "status" {
			got = append(got, d.Project.Code+": "+d.Said+", "+d.Computed)
			assert.Len(t, d.Evidence, 2)
			assert.NotEmpty(t, d.Evidence[0])
		}
	}
	assert.Equal(t, []string{"large: watch, act", "dearer: on track, watch", "late: on track, watch"}, got)
}
