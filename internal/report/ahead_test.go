package report_test

import (
	"bytes"
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	appreport "turret/internal/app/report"
	"turret/internal/app/saved"
	"turret/internal/record"
	"turret/internal/report"
)

// toldBy writes sections of a report as HTML, for one of the writers, without its tags.
func toldBy(t *testing.T, o *app.Office, who string, keys ...string) string {
	t.Helper()
	r := &appreport.Report{Name: "Ahead"}
	for _, k := range keys {
		r.Parts = append(r.Parts, appreport.Part{Key: k})
	}
	content, err := o.Report.Content(access.As(context.Background(), apptest.Writers[who]), r, apptest.October.Last())
	require.NoError(t, err)
	var b bytes.Buffer
	_, err = report.Write(&b, "html", content)
	require.NoError(t, err)
	return tags.ReplaceAllString(b.String(), " ")
}

func gated(t *testing.T, list ...[2]string) *app.Office {
	t.Helper()
	_, o := apptest.Gate(t)
	for _, x := range list {
		apptest.Send(t, o, apptest.Sent{Kind: record.Kind(x[0]), Period: apptest.October, Text: x[1]})
	}
	return o
}

// dug is five days of work with a budget of 100, 90 to come after 20 spent, and a risk of two days and 10.00 with a probability in percent.
func dug(t *testing.T, probability string) *app.Office {
	t.Helper()
	return gated(t, [2]string{"activities", "project,code,name,baseline_start,baseline_finish,duration,start,finish\n" +
		"A1,1,Dig <b>,2026-11-02,2026-11-06,5,2026-11-02,2026-11-06\n"},
		[2]string{"budget", "project,cost_code,amount,month\nA1,C,100,2026-11\n"},
		[2]string{"forecast", "project,cost_code,amount,month\nA1,C,90,2026-11\n"},
		[2]string{"actuals", "project,cost_code,date,amount\nA1,C,2026-10-05,20\n"},
		[2]string{"risks", "project,code,title,activity,probability,days_impact,cost_impact,state\nA1,R1,Clay,1," + probability + ",2,10,open\n"})
}

// By hand: Dig is five days from Monday 2 November on, and a certain risk adds two and 10.00 to 90 to come after 20 spent: every run ends
// on
// Tuesday the 10th for 120, which the budget of 100 never covers, four days after the baseline of the 6th. Nothing is finished that could
// be learned from.
func TestRangesAndPredictionByHand(t *testing.T) {
	o := dug(t, "100")
	page := toldBy(t, o, "analyst", "ranges", "prediction")
	for _, want := range []string{"2 projects over 2,000 runs: in eight of ten all is finished by 10 Nov 2026.",
		"First A1 · Lea 6 Nov 2026 10 Nov 2026 10 Nov 2026 +2 0 % €120 €120 0 %", "Nothing is predicted: "} {
		assert.True(t, spaced(want).MatchString(page), want)
	}
	hidden := toldBy(t, o, "analyst without costs", "ranges")
	assert.True(t, spaced("First A1 · Lea 6 Nov 2026 10 Nov 2026 10 Nov 2026 +2 0 %").MatchString(hidden))
	assert.NotContains(t, hidden, "€")
}

// The same with a risk that strikes in three of ten runs: half of them end without it, eight of ten with it.
func TestRangesTellHalfAndEightOfTen(t *testing.T) {
	o := dug(t, "30")
	page := toldBy(t, o, "analyst", "ranges")
	assert.True(t, spaced("First A1 · Lea 6 Nov 2026 6 Nov 2026 10 Nov 2026 +2").MatchString(page))
	assert.True(t, spaced("€110 €120").MatchString(page))
}

// By hand: P waits at the gate of Idea with no lead; of 150 a choice of at most 120 in 2027 takes P, which has the higher score for 100.
func TestGatesRoadmapAndChoicesByHand(t *testing.T) {
	o := gated(t, [2]string{"projects", "code,name,parent,status,stage,planned_start,planned_finish\n" +
		"P,Pond <b>,A,proposed,Idea,2027-03-01,2027-05-31\nQ,Quay,A,proposed,Idea,2027-06-01,2027-12-31\n"},
		[2]string{"budget", "project,cost_code,amount,month\nP,C,100,2027-03\nQ,C,50,2027-06\n"},
		[2]string{"ratings", "project,model,criterion,rating\nP,M,use,4\nQ,M,use,3\n"},
		[2]string{"stages", "model,code,name,place\nW,idea,Idea,1\nW,plan,Planning,2\n"},
		[2]string{"gate_needs", "model,stage,code,name,need,of\nW,idea,a,Somebody leads it,field,lead\n"},
		[2]string{"gates", "project,stage,asked_on,asked_by\nP,idea,2026-10-05,Lea\n"})
	c := access.As(context.Background(), apptest.Writers["analyst"])
	for name, query := range map[string]string{"Small": "limit.2027=120", "Broken": "limit.2027=much"} {
		_, err := o.Saved.Keep(c, saved.View{Kind: "shown:pipeline-selection", Name: name, Query: query}, 10)
		require.NoError(t, err)
	}
	page := toldBy(t, o, "analyst", "gates", "roadmap", "selection")
	for _, want := range []string{"1 project waits at a gate, of 4 projects that run or are proposed.", "Idea 2 2 1 €0 €150",
		"Pond &lt;b&gt; P · Idea waits since 5 Oct 2026 Somebody leads it: not given", "0 projects run, and 2 are proposed.",
		"A Pond &lt;b&gt; P · proposed 1 Mar 2027 31 May 2027 rank 1",
		"2 choices are kept by name.",
		"Small: 1 proposal, 80.0 in all by score of M, for €100; 2027 at most 120.00, used 100.00.", "Pond &lt;b&gt; P · €100 – chosen",
		"Quay Q · €50 – not chosen", "Broken: it cannot be computed any more;"} {
		assert.True(t, spaced(want).MatchString(page), want)
	}
	without := access.As(context.Background(), apptest.Writers["analyst without costs"])
	_, err := o.Saved.Keep(without, saved.View{Kind: "shown:pipeline-selection", Name: "Mine", Query: "limit.2027=120"}, 10)
	require.NoError(t, err)
	hidden := toldBy(t, o, "analyst without costs", "gates", "roadmap", "selection")
	assert.NotContains(t, hidden, "€")
	assert.NotContains(t, hidden, "120.00")
	assert.True(t, spaced("Mine: it cannot be computed any more; limits of money: not allowed.").MatchString(hidden))
}
