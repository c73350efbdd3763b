package pipeline_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/kept"
	"turret/internal/app/pipeline"
	"turret/internal/app/setting"
	"turret/internal/core/measure"
	"turret/internal/record"
)

func accept(template string) pipeline.Ruling {
	return pipeline.Ruling{Projects: []string{"N"}, Decision: record.Accepted, On: on("2026-10-20"), By: "Board", Reason: "Yes",
		Opens:    true,
		Template: template}
}

// site is an office in which N is proposed for Monday 1 March 2027, and T was planned from Monday 5 October 2026 on and is under way.
func site(t *testing.T) (*app.Office, *assess.Assessment) {
	t.Helper()
	send := func(kind record.Kind, text string) apptest.Sent {
		return apptest.Sent{Kind: kind, Period: apptest.October, Text: text}
	}
	o := apptest.House(t, send(record.Projects, "code,name,parent,status,planned_start\nN,New,PF,proposed,2027-03-01\nT,Old,PF,open,\n"),
		send(record.People, "code,name,role\nK,Kim,diver\nZ,Zoe,\n"),
		send(record.Activities,
			"project,code,name,kind,baseline_start,baseline_finish,start,finish,actual_start,percent_complete,owner,state\n"+
				"T,A,Dig,,2026-10-05,2026-10-09,2026-10-06,2026-10-13,2026-10-06,50,Kim,\nT,M,Dug,milestone,,2026-10-12,,2026-10-14,,,,\n"+
				"T,C,Drain,,2026-10-05,2026-10-06,,,,,,cancelled\nA,X,Elsewhere,,2026-10-05,2026-10-06,,,,,,\n"),
		send(record.Links, "project,from,to,lag,from_project\nT,A,M,2,\nT,X,A,,A\n"),
		send(record.Risks, "project,code,title,likelihood,owner,raised,cost_impact\nT,R,Flood,3,Kim,2026-10-05,500\n"),
		send(record.Assignments, "person,role,project,from,to,percent\nK,,T,2026-10-05,2026-10-09,50\n,diver,T,2026-10-05,2026-10-16,25\n"+
			"Z,,T,2026-10-05,2026-10-09,50\n"))
	return o, apptest.Assessed(t, o, apptest.Last)
}

func rows(t *testing.T, a *assess.Assessment, kind record.Kind, columns ...string) (list [][]string) {
	t.Helper()
	f, err := a.Reading.Rows(apptest.Ctx, kind, kept.Selection{})
	require.NoError(t, err)
	for i := range f.Len() {
		if f.OwnerOf(i) != "N" {
			continue
		}
		var row []string
		for _, c := range columns {
			row = append(row, f.Cells(i)[kind.Input().At(c)])
		}
		list = append(list, row)
	}
	return list
}

// By hand: A keeps its five working days from 1 to 5 March, M follows on the sixth, Monday the 8th. What happened to T, whom it had and
// what was
// cancelled stay behind; divers are wanted at 50 + 25 % in the first week and 25 % to the tenth working day, the 12th; Zoe has no role.
func TestAPlanFromAProject(t *testing.T) {
	o, a := site(t)
	_, err := o.Pipeline.Decide(apptest.Ctx, a, accept("T"))
	require.NoError(t, err)
	a = apptest.Assessed(t, o, apptest.Last)
	assert.Equal(t, measure.Open, a.ByCode["N"].Status)
	assert.Equal(t, [][]string{{"A", "2027-03-01", "2027-03-05", "2027-03-01", "2027-03-05", "", "", ""},
		{"M", "", "2027-03-08", "", "2027-03-08", "", "", ""}},
		rows(t, a, record.Activities, "code", "baseline_start", "baseline_finish", "start", "finish", "actual_start", "percent_complete",
			"owner"))
	assert.Equal(t, [][]string{{"A", "M", "2", ""}}, rows(t, a, record.Links, "from", "to", "lag", "from_project"))
	assert.Equal(t, [][]string{{"R", "Flood", "3", "", "", ""}}, rows(t, a, record.Risks, "code", "title", "likelihood", "owner", "raised",
		"cost_impact"))
	assert.Equal(t, [][]string{{"", "diver", "2027-03-01", "2027-03-05", "75"}, {"", "diver", "2027-03-06", "2027-03-12", "25"}},
		rows(t, a, record.Assignments, "person", "role", "from", "to", "percent"))
	assert.Equal(t, [][]string{{"T"}}, rows(t, a, record.Proposals, "template"))
	assert.Len(t, a.ByCode["T"].Activities, 3, "the template stays as it is")
}

// The small template: 10, 20, 60 and 10 working days one after another; by hand the first ends on 12 March, the second on 9 April, and it
// is handed over on
// the 100th working day, 16 July.
func TestAPlanFromAShippedTemplate(t *testing.T) {
	o, a := site(t)
	_, err := o.Pipeline.Decide(apptest.Ctx, a, accept("small"))
	require.NoError(t, err)
	a = apptest.Assessed(t, o, apptest.Last)
	got := rows(t, a, record.Activities, "code", "start", "finish")
	require.Len(t, got, 5)
	assert.Equal(t, [][]string{{"A1", "2027-03-01", "2027-03-12"}, {"A2", "2027-03-15", "2027-04-09"}}, got[:2])
	assert.Equal(t, []string{"A5", "", "2027-07-16"}, got[4])
	assert.Len(t, rows(t, a, record.Links, "from"), 4)
	assert.Zero(t, a.ByCode["N"].Value(measure.FinishDeviation).N, "nothing of a new plan has moved")

	for _, shipped := range pipeline.Shipped() {
		name := shipped.Name // nothing of them begins before what it waits for has ended
		o, a := site(t)
		_, err := o.Pipeline.Decide(apptest.Ctx, a, accept(name))
		require.NoError(t, err, name)
		a = apptest.Assessed(t, o, apptest.Last)
		start, finish := map[string]string{}, map[string]string{}
		for _, r := range rows(t, a, record.Activities, "code", "start", "finish") {
			start[r[0]], finish[r[0]] = r[1], r[2]
		}
		for _, l := range rows(t, a, record.Links, "from", "to") {
			if start[l[1]] == "" { // a milestone, at the end of its day
				assert.LessOrEqual(t, finish[l[0]], finish[l[1]], l)
				continue
			}
			assert.Less(t, finish[l[0]], start[l[1]], l)
		}
		assert.Contains(t, shipped.Words(), "activities and milestones")
	}
}

func TestPlansThatAreRefused(t *testing.T) {
	o, a := site(t)
	for _, template := range []string{"large", "B", "<b>"} { // B has no plan
		_, err := o.Pipeline.Decide(apptest.Ctx, a, accept(template))
		require.ErrorContains(t, err, "the name of a template, or the code of a project", template)
	}
	a = apptest.Assessed(t, o, apptest.Last)
	assert.Equal(t, measure.Proposed, a.ByCode["N"].Status, "nothing was decided")
	apptest.Send(t, o, apptest.Sent{Kind: record.Activities, Period: apptest.October,
		Text: "project,code,name,baseline_finish\nN,OWN,Own,2027-03-05\n"})
	a = apptest.Assessed(t, o, apptest.Last)
	_, err := o.Pipeline.Decide(apptest.Ctx, a, accept("small"))
	require.NoError(t, err)
	a = apptest.Assessed(t, o, apptest.Last)
	assert.Equal(t, [][]string{{"OWN"}}, rows(t, a, record.Activities, "code"), "a proposal with a plan keeps it")
}

// What a project that is a template is asked for, and what it is held against, holds for what it becomes the template of; its category says
// through which stages that goes.
func TestATemplatePassesOnWhatItIsHeldAgainst(t *testing.T) {
	o, _ := site(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Projects, Period: apptest.October,
		Text: "code,name,parent,status,category\nT,Old,PF,open,dam\n"})
	s, err := o.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	s.NotExpected = map[string][]record.Kind{"T": {record.Forecast}}
	s.Tolerances = append(s.Tolerances, setting.Limits{Scope: "T", Of: map[string][2]float64{"vac_share": {0.01, 0.02}}})
	require.NoError(t, o.Setting.Save(apptest.Ctx, s))
	a := apptest.Assessed(t, o, apptest.Last)
	_, err = o.Pipeline.Decide(apptest.Ctx, a, accept("T"))
	require.NoError(t, err)
	assert.Equal(t, "dam", apptest.Assessed(t, o, apptest.Last).ByCode["N"].Category)
	s, err = o.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	assert.Equal(t, []record.Kind{record.Forecast}, s.NotExpected["N"])
	assert.Equal(t, setting.Limits{Scope: "N", Of: map[string][2]float64{"vac_share": {0.01, 0.02}}}, s.Tolerances[len(s.Tolerances)-1])
}
