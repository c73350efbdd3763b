package stage_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/stage"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Two models: WORKS for whatever no other is for, its stages sent out of order, and DATA for data.
func read(t *testing.T, gates string, only ...int64) *stage.Gates {
	o := apptest.House(t,
		apptest.Sent{Kind: record.Stages, Text: "model,code,name,place,categories\nWORKS,delivery,Delivery,3,\nWORKS,idea,Idea,1,\n" +
			"WORKS,design,Design,2,\nDATA,trial,Trial,1,data\n"},
		apptest.Sent{Kind: record.Gates, Text: "project,stage,asked_on,decision,decided_on,released,currency\n" + gates})
	a := apptest.Assessed(t, o, apptest.Last)
	g, err := stage.Read(apptest.Ctx, a.Reading, only, func(code string) *measure.Project { return a.ByCode[code] })
	require.NoError(t, err)
	return g
}

func project(category, in string) *measure.Project {
	return &measure.Project{Info: measure.Info{Code: "A", Category: category, Stage: in}}
}

// Stages stand by their place. A project goes by the model of its category, else by the one that is for none.
func TestModelsAndStages(t *testing.T) {
	g := read(t, "A,idea,2026-01-01,,,,\n")
	s := g.Stand(project("roads", "design"))
	assert.Equal(t, "WORKS", s.Model.Code)
	assert.Equal(t, []string{"design", "delivery"}, []string{s.Stage().Code, s.Next().Code})
	s = g.Stand(project("data", ""))
	assert.Equal(t, "trial", s.Stage().Code, "one that names no stage is in the first")
	assert.Nil(t, s.Next())
	s = g.Stand(project("data", "design"))
	assert.Nil(t, s.Stage(), "its model does not know the stage")
	assert.Empty(t, s.Behind)
	s = g.Stand(project("", "Delivery"))
	assert.Equal(t, "delivery", s.Stage().Code, "by its name")
}

// The gates behind a project are told with what became of each last; what the one passed last released is what counts.
func TestGatesBehind(t *testing.T) {
	g := read(t, "A,idea,2026-03-01,refused,2026-03-02,,\nA,idea,2026-01-01,passed,2026-01-02,100,\n"+
		"A,design,2026-04-01,refused,2026-04-02,,\nA,delivery,2026-05-01,passed with conditions,2026-05-02,70,SEK\nB,design,2026-04-01,passed,2026-04-02,,\n")
	s := g.Stand(project("", "delivery"))
	require.Len(t, s.Behind, 2)
	assert.True(t, s.Behind[0].Passed, "once, though refused later")
	assert.Equal(t, "refused on 2 Mar 2026", s.Behind[0].Gate.Says())
	assert.False(t, s.Behind[1].Passed)
	require.Len(t, s.Skipped(), 1)
	assert.Equal(t, "design", s.Skipped()[0].Code)
	assert.Equal(t, "delivery", s.Last.Stage)
	assert.EqualValues(t, 7_000, s.Last.Released)
	assert.EqualValues(t, "SEK", s.Last.Currency)
	assert.Nil(t, s.Open)
	s = g.Stand(project("", "idea"))
	assert.Empty(t, s.Skipped(), "nothing is before the first")
	assert.Len(t, g.Of["B"], 1)
}
