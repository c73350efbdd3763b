package intake_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/ingest"
	"turret/internal/record"
)

func criteriaOf(t *testing.T, rows string) *kept.File {
	t.Helper()
	return apptest.Read(t, record.Criteria, "model,code,name,weight,direction,lowest,highest,measure\n"+rows)
}

// What proposals are weighed by is refused where it contradicts itself, what is there, or what came with it.
func TestPipelinesThatAreRefused(t *testing.T) {
	o := apptest.House(t)
	scale := criteriaOf(t, "M,use,Use,2,value,1,10,\n")
	goal := apptest.Read(t, record.Goals, "code,name\nSAFE,Safe\n")
	for _, x := range []struct {
		kind                 record.Kind
		text, column, expect string
	}{
		{record.Criteria, "model,code,name,weight\nM,use,Use,-1\n", "weight", "0 or more"},
		{record.Criteria, "model,code,name,weight,lowest,highest\nM,use,Use,1,5,5\n", "highest", "more than the lowest, 5"},
		{record.Criteria, "model,code,name,weight,lowest\nM,use,Use,1,5\n", "highest", "more than the lowest, 5"},
		{record.Criteria, "model,code,name,weight,measure\nM,use,Use,1,bax\n", "measure", "key of a measure"},
		{record.Criteria, "model,code,name,weight,measure\nM,use,Use,1,expected_finish\n", "measure", "that is a number"},
		{record.Goals, "code,name,weight\nS,Safe,-0.5\n", "weight", "0 or more"},
		{record.Contributions, "project,goal,rating\nA,SAFE,5.1\n", "rating", "0 to 5"},
		{record.Contributions, "project,goal,rating\nA,SAFE,-1\n", "rating", "0 to 5"},
		{record.Contributions, "project,goal,rating\nA,NONE,1\n", "goal", "a code in goals or taken in before"},
		{record.Ratings, "project,model,criterion,rating\nA,M,use,0.9999\n", "rating", "1 to 10"},
		{record.Ratings, "project,model,criterion,rating\nA,M,use,10.5\n", "rating", "1 to 10"},
		{record.Ratings, "project,model,criterion,rating\nA,M,ease,3\n", "criterion", "a criterion of M"},
		{record.Ratings, "project,model,criterion,rating\nA,N,use,3\n", "model", "a model in criteria or taken in before"},
		{record.Requirements, "project,kind,other\nA,must,B\n", "other", "nothing"},
		{record.Requirements, "project,kind\nA,needs\n", "other", "another project"},
		{record.Requirements, "project,kind,other\nA,needs,A\n", "other", "another project than itself"},
		{record.Requirements, "project,kind,other\nA,not with,Z\n", "other", "taken in before"},
		{record.Proposals, "project,decided_on\nA,2026-10-05\n", "decided_on", "no decision"},
		{record.Proposals, "project,decision\nA,perhaps\n", "decision", "accepted"},
	} {
		_, problems, err := ingest.CSV(string(x.kind)+".csv", x.kind, strings.NewReader(x.text))
		require.NoError(t, err)
		if len(problems) == 0 {
			f := apptest.Read(t, x.kind, x.text)
			_, err := o.Intake.Import(apptest.Ctx, []*kept.File{goal, scale, f}, intake.Origin{Period: apptest.October, DryRun: true})
			problems = fault.ProblemsIn(err)
		}
		require.NotEmpty(t, problems, x.text)
		assert.Equal(t, []any{int32(2), x.column}, []any{problems[0].Row, problems[0].Column}, x.text)
		assert.Contains(t, problems[0].Expected, x.expect)
	}
	both := apptest.Read(t, record.Requirements, "project,kind,other\nA,must,\nA,never,\nB,needs,A\nB,not with,A\n")
	_, err := o.Intake.Import(apptest.Ctx, []*kept.File{both}, intake.Origin{Period: apptest.October})
	list := fault.ProblemsIn(err)
	require.Len(t, list, 2)
	assert.Equal(t, []int32{3, 5}, []int32{list[0].Row, list[1].Row})
}

// Ratings at both ends of a scale are taken in, and a scale that would leave them outside later is refused, unless they come anew with it.
func TestAScaleHoldsTheRatingsGiven(t *testing.T) {
	o := apptest.House(t)
	send := func(files ...*kept.File) []fault.Problem {
		_, err := o.Intake.Import(apptest.Ctx, files, intake.Origin{Period: apptest.October})
		if list := fault.ProblemsIn(err); len(list) > 0 {
			return list
		}
		require.NoError(t, err)
		return nil
	}
	ratings := func(rows string) *kept.File {
		return apptest.Read(t, record.Ratings, "project,model,criterion,rating\n"+rows)
	}
	require.Empty(t, send(criteriaOf(t, "M,use,Use,2,value,-1,10,\n"), ratings("A,M,use,-1\nB,M,use,10\n")))
	list := send(criteriaOf(t, "M,use,Use,2,value,0,10,\n"))
	require.Len(t, list, 1)
	assert.Equal(t, []string{"lowest", "0"}, []string{list[0].Column, list[0].Value})
	assert.Equal(t, "a scale that holds the rating -1 of A, which stands", list[0].Expected)
	list = send(criteriaOf(t, "M,use,Use,2,value,-1,9,\n"), ratings("A,M,use,3\n"))
	require.Len(t, list, 1)
	assert.Equal(t, "a scale that holds the rating 10 of B, which stands", list[0].Expected)
	require.Empty(t, send(criteriaOf(t, "M,use,Use,2,value,0,9,\n"), ratings("A,M,use,0\nB,M,use,9\n")))
}
