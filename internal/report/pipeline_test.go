package report_test

import (
	"bytes"
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	appreport "turret/internal/app/report"
	"turret/internal/record"
	"turret/internal/report"
)

// By hand: Quay has 100 x 4/5 = 80 of 100, Pond 60, Reed nothing. Of 160 BOAT, which weighs a quarter, has the 60 of Quay.
func TestThePipelineByHand(t *testing.T) {
	_, o := apptest.Gate(t)
	send := func(kind record.Kind, text string) {
		apptest.Send(t, o, apptest.Sent{Kind: kind, Period: apptest.October, Text: text})
	}
	send(record.Projects, "code,name,parent,status\nP,Pond <b>,A,proposed\nQ,Quay,A,proposed\nR,Reed,B,proposed\n")
	send(record.Budget, "project,cost_code,amount,month\nP,C,100,2027-03\nQ,C,60,2027-03\n")
	send(record.Ratings, "project,model,criterion,rating\nP,M,use,3\nQ,M,use,4\n")
	send(record.Goals, "code,name,weight\nSAFE,Safe,3\nBOAT,Boats,1\n")
	send(record.Contributions, "project,goal,rating\nP,SAFE,2\nQ,BOAT,5\n")
	send(record.Proposals, "project,decision,decided_on,decided_by,look_again\nP,put off,2026-10-13,Board,2027-03-01\n")
	told := func(who string) string {
		c := access.As(context.Background(), apptest.Writers[who])
		content, err := o.Report.Content(c, &appreport.Report{Name: "Ideas", Parts: []appreport.Part{{Key: "pipeline"}, {Key: "goals"}}},
			apptest.October.Last())
		require.NoError(t, err)
		var b bytes.Buffer
		_, err = report.Write(&b, "html", content)
		require.NoError(t, err)
		return tags.ReplaceAllString(b.String(), " ")
	}
	page := told("analyst")
	for _, want := range []string{"3 proposals, of which 2 wait for a decision. Scores are of the model M, of 100.",
		"1 Q Quay 80.0 steady €60 none yet 2 P Pond &lt;b&gt; 60.0 steady €100 put off on 13 Oct 2026 by Board, " +
			"to look at again on 1 Mar 2027 – R Reed – – none yet",
		"2 projects serve a goal, 3 serve none.", "SAFE Safe 75.0 % 62.5 % €100 1", "BOAT Boats 25.0 % 37.5 % €60 1"} {
		assert.Regexp(t, spaced(want), page)
	}
	assert.NotContains(t, told("analyst without costs"), "€")
}
