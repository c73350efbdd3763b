package say_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/say"
	"turret/internal/core/measure"
)

func TestHeadlineOfAProject(t *testing.T) {
	a := apptest.Seven(t)
	for code, want := range map[string]string{
		"calm":  "Job calm will cost exactly its budget and finish on its baseline. Its lead declares it on track.",
		"late":  "Job late will cost exactly its budget and finish 12 working days late. Its lead declares it on track.",
		"small": "Job small will cost €30 k more than its budget and finish on its baseline. Its lead declares it act.",
		"early": "Job early will cost €100 k less than its budget and finish 10 working days early. Its lead declares it watch.",
		"blank": "Job blank has no estimate of its cost (no forecast) and finishes on its baseline.",
	} {
		p, err := a.Project(code)
		require.NoError(t, err)
		assert.Equal(t, want, say.Headline(p, a.Env).String())
	}
	closed := a.ByCode["late"]
	closed.Status = measure.Closed
	assert.Contains(t, say.Headline(closed, a.Env).String(), "Job late cost exactly its budget and finished 12 working days late.")
}
