package edit_test

import (
	"context"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/record"
)

// What may be chosen are the codes of one's own projects.
func TestChoicesAreOnesOwnProjects(t *testing.T) {
	_, o := apptest.Gate(t)
	for who, want := range map[string][]string{"lead": {"A1"}, "analyst": {"A1", "B1"}, "scoped analyst": {"A1"}} {
		g, err := o.Edit.Grid(access.As(context.Background(), apptest.Writers[who]), record.Links, "A1")
		require.NoError(t, err)
		assert.Equal(t, want, g.Choices["from_project"], who)
	}
}

// Whoever saves a table eight times at once has one of that name.
func TestATableSavedAtOnceIsOne(t *testing.T) {
	_, o := apptest.Gate(t)
	ana := access.As(context.Background(), apptest.Writers["analyst"])
	var wait sync.WaitGroup
	for range 8 {
		wait.Go(func() { assert.NoError(t, o.Saved.SaveView(ana, "Mine", "sort=bac", true)) })
	}
	wait.Wait()
	list, err := o.Saved.Views(ana)
	require.NoError(t, err)
	assert.Len(t, list, 1)
	require.NoError(t, o.Saved.SaveView(access.As(context.Background(), apptest.Writers["administrator"]), "Mine", "sort=eac", true))
	list, err = o.Saved.Views(ana)
	require.NoError(t, err)
	assert.Len(t, list, 2, "another's of the same name is another")
}
