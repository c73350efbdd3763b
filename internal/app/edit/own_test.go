package edit_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/edit"
	"turret/internal/app/intake"
	"turret/internal/record"
)

// Fields of the office's own are typed into the table of projects as its other columns.
func TestOwnFieldsAreTyped(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.OwnFields, Period: apptest.October,
		Text: "code,name,type,choices\nside,Side,choice,\"left,right\"\ncrew,Crew,number,\n"})
	g, err := o.Edit.Grid(apptest.Ctx, record.Projects, "A")
	require.NoError(t, err)
	side, crew := g.Input.At("own.side"), g.Input.At("own.crew")
	require.Positive(t, side)
	assert.Equal(t, []string{"left", "right"}, g.Choices["own.side"])
	typed := func(column int, value string) error {
		g, err := o.Edit.Grid(apptest.Ctx, record.Projects, "A")
		require.NoError(t, err)
		now := slices.Clone(g.Rows[0])
		now[column] = value
		_, err = o.Edit.SaveGrid(apptest.Ctx, record.Projects, "A", []intake.Edited{{Old: g.Rows[0], New: now}})
		return err
	}
	require.NoError(t, typed(side, "right"))
	require.NoError(t, typed(crew, "12.5"))
	var wrong *edit.Error
	require.ErrorAs(t, typed(crew, "many"), &wrong)
	assert.Equal(t, "own.crew", wrong.Problems[0].Column)
	g, err = o.Edit.Grid(apptest.Ctx, record.Projects, "A")
	require.NoError(t, err)
	assert.Equal(t, []string{"right", "12.5"}, []string{g.Rows[0][side], g.Rows[0][crew]})
	short := g.Rows[0][:side]
	renamed := slices.Clone(short)
	renamed[1] = "First gate"
	_, err = o.Edit.SaveGrid(apptest.Ctx, record.Projects, "A", []intake.Edited{{Old: short, New: renamed}})
	require.NoError(t, err, "a row that knows nothing of the fields")
	g, err = o.Edit.Grid(apptest.Ctx, record.Projects, "A")
	require.NoError(t, err)
	assert.Equal(t, []string{"First gate", "right", "12.5"}, []string{g.Rows[0][1], g.Rows[0][side], g.Rows[0][crew]})
	require.NoError(t, typed(side, ""))
	g, err = o.Edit.Grid(apptest.Ctx, record.Projects, "A")
	require.NoError(t, err)
	assert.Equal(t, []string{"", "12.5"}, []string{g.Rows[0][side], g.Rows[0][crew]}, "emptied by hand, the other stays")
}
