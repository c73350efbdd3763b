package assess_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
)

func TestScopeTakesStatusesAndPaths(t *testing.T) {
	a := apptest.Seven(t)
	a.ByCode["calm"].Status = "closed"
	s, err := a.Scope("PF", "open")
	require.NoError(t, err)
	assert.Len(t, s.Projects, 6)
	s, err = a.Scope("")
	require.NoError(t, err)
	assert.Len(t, s.Projects, 7, "all statuses where none is named")
	path := a.Path(2)
	require.Len(t, path, 2)
	assert.Equal(t, []string{"PF", "X"}, []string{path[0].Code, path[1].Code})
}
