package assess_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/measure"
)

func TestScopeTakesStatusesAndPaths(t *testing.T) {
	a := apptest.Seven(t)
	a.ByCode["calm"].Status = measure.Closed
	s, err := a.Scope("PF", measure.Open)
	require.NoError(t, err)
	assert.Len(t, s.Projects, 6)
	s, err = a.Scope("")
	require.NoError(t, err)
	assert.Len(t, s.Projects, 7, "all statuses where none is named")
	path := a.Path(2)
	require.Len(t, path, 2)
	assert.Equal(t, []string{"PF", "X"}, []string{path[0].Code, path[1].Code})
}

// Open ones where nothing is said, all where that is asked for; a word that is none is named rather than answered with nothing.
func TestStatesThatAreAskedFor(t *testing.T) {
	for text, want := range map[string][]measure.State{"": {measure.Open}, "all": nil, "closed": {measure.Closed},
		"proposed,open": {measure.Proposed, measure.Open}} {
		got, err := assess.States(text)
		require.NoError(t, err)
		assert.Equal(t, want, got, text)
	}
	_, err := assess.States("open,shut")
	var field *fault.FieldError
	require.ErrorAs(t, err, &field)
	assert.Equal(t, fault.FieldError{Field: "status", Value: "shut", Expected: "open, proposed, closed, cancelled or all"}, *field)
}
