package edit_test

import (
	"context"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
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

// People are offered where they stand by name: those of the register and those who lead or sponsor, each once; and why something was
// changed stays with the load.
func TestPeopleAreOffered(t *testing.T) {
	_, o := apptest.Gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.People, Period: apptest.October, Text: "code,name\nP1,Zoe\nP2,Lea\n"},
		apptest.Sent{Kind: record.Risks, Period: apptest.October, Text: "project,code,title\nA1,R1,Flood\n"})
	g, err := o.Edit.Grid(apptest.Ctx, record.Risks, "A1")
	require.NoError(t, err)
	names := g.Choices["owner"]
	assert.True(t, slices.IsSorted(names))
	assert.Contains(t, names, "Zoe")
	assert.Len(t, slices.Compact(slices.Clone(names)), len(names))
	assert.NotContains(t, names, "")
	assert.Nil(t, g.Choices["title"])
	own, err := o.Edit.Grid(access.As(context.Background(), apptest.Writers["lead"]), record.Risks, "A1")
	require.NoError(t, err)
	assert.Nil(t, own.Choices["owner"], "a lead does not learn who else there is")
	row := slices.Clone(g.Rows[0])
	row[g.Input.At("owner")] = "Nobody before"
	r, err := o.Edit.SaveGridBecause(apptest.Ctx, record.Risks, "A1", []intake.Edited{{Old: g.Rows[0], New: row}}, " asked by the board ")
	require.NoError(t, err)
	assert.Equal(t, "asked by the board", r.Loads[0].Note)
	_, err = o.Edit.SaveGridBecause(apptest.Ctx, record.Risks, "A1", nil, strings.Repeat("x", 3000))
	var field *fault.FieldError
	require.ErrorAs(t, err, &field)
}
