package assess_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/record"
)

// By hand, from 1 November 2026, a Sunday, on: Kim is wanted at 60 % by A1 from the 2nd to the 29th and at 50 % by B1 from the 9th to 4
// December: 110 % in the weeks from the 9th to the 29th, three of them, but for that of the 16th in which she is away, so that the runs
// are
// of one week each. Lou is wanted the same and is never away. What is only proposed or cancelled wants nobody.
func TestOverloadsOfWeeks(t *testing.T) {
	_, o := apptest.Gate(t)
	rows := ""
	for _, who := range []string{"K", "L"} {
		rows += who + ",A1,2026-11-02,2026-11-29,60\n" + who + ",B1,2026-11-09,2026-12-04,50\n" + who + ",N1,2026-11-02,2026-12-31,90\n"
	}
	rows += "L,B2,2026-12-07,2026-12-31,100\n"
	apptest.Send(t, o, apptest.Sent{Kind: record.Projects, Period: apptest.October,
		Text: "code,name,parent,status\nN1,Not,A,cancelled\nB2,Two,B,open\n"},
		apptest.Sent{Kind: record.People, Period: apptest.October, Text: "code,name,to\nK,Kim,\nL,Lou,2026-12-24\n"},
		apptest.Sent{Kind: record.Absences, Period: apptest.October, Text: "person,from,to\nK,2026-11-16,2026-11-20\n"},
		apptest.Sent{Kind: record.Assignments, Period: apptest.October, Text: "person,project,from,to,percent\n" + rows})
	a := apptest.Assessed(t, o, apptest.October.Last())
	found := func(project, rule string) (list []string) {
		p := a.ByCode[project]
		require.NotNil(t, p)
		for _, f := range p.Checks.Findings {
			if f.Rule.ID == rule {
				list = append(list, f.Says)
			}
		}
		return list
	}
	says := []string{"L is overloaded for 3 weeks from 9 Nov 2026 on"}
	assert.Equal(t, says, found("A1", "overload"))
	assert.Equal(t, says, found("B1", "overload"))
	assert.Empty(t, found("B2", "overload"), "it has no part in it")
	assert.Equal(t, []string{"L is assigned until 31 Dec 2026 and leaves on 24 Dec 2026"}, found("B2", "assigned_gone"))
	assert.NotZero(t, a.ByCode["A1"].Checks.Tested)
}

// The closed project ended on 9 October: hours on the 12th and the 13th are late, those on the 9th and what takes some back are not. One
// that is open is not told of, nor one that is closed and has work left.
func TestHoursOnClosedProjects(t *testing.T) {
	_, o := apptest.Gate(t)
	send := func(kind record.Kind, text string) apptest.Sent {
		return apptest.Sent{Kind: kind, Period: apptest.October, Text: text}
	}
	apptest.Send(t, o, send(record.Projects, "code,name,parent,status\nC1,Done,A,closed\nC2,Open end,A,closed\nC3,Open,A,open\n"),
		send(record.Activities, "project,code,name,actual_start,actual_finish\nC1,X,Dig,2026-10-01,2026-10-09\nC2,X,Dig,2026-10-01,\n"+
			"C3,X,Dig,2026-10-01,2026-10-09\n"),
		send(record.Timesheets, "person,project,date,hours\nK,C1,2026-10-09,8\nK,C1,2026-10-12,8\nK,C1,2026-10-13,4\nK,C1,2026-10-14,-4\n"+
			"K,C1,2026-11-02,8\nK,C2,2026-10-12,8\nK,C3,2026-10-12,8\n"))
	a := apptest.Assessed(t, o, apptest.October.Last())
	require.Len(t, a.ByCode["C1"].Checks.Findings, 1)
	f := a.ByCode["C1"].Checks.Findings[0]
	assert.Equal(t, "hours_closed", f.Rule.ID)
	assert.Equal(t, "2 rows of hours booked on a closed project after its finish, the last on 13 Oct 2026", f.Says)
	found, err := o.Judge.Check(apptest.Ctx, a, apptest.Open(t, a))
	require.NoError(t, err)
	var of []string
	for i := range found.List {
		if found.List[i].Rule.ID == "hours_closed" {
			of = append(of, found.List[i].Project.Code)
		}
	}
	assert.Equal(t, []string{"C1"}, of, "it stands among the findings of open projects")
	assert.Empty(t, a.ByCode["C2"].Checks.Findings)
	for _, f := range a.ByCode["C3"].Checks.Findings {
		assert.NotEqual(t, "hours_closed", f.Rule.ID)
	}
	assert.Empty(t, a.ByCode["C2"].Checks.Tested, "a closed project in which nothing is wrong weighs nothing")
}

// What is cancelled wants nobody, what is proposed only where that is asked for; closed projects count by the dates of their assignments.
func TestWhichProjectsWantPeople(t *testing.T) {
	_, o := apptest.Gate(t)
	send := func(kind record.Kind, text string) apptest.Sent {
		return apptest.Sent{Kind: kind, Period: apptest.October, Text: text}
	}
	apptest.Send(t, o, send(record.Projects, "code,name,parent,status\nO,Open,A,open\nC,Closed,A,closed\nP,Proposed,A,proposed\nN,Not,A,cancelled\n"),
		send(record.People, "code,name\nK,Kim\n"),
		send(record.Assignments, "person,project,from,to,percent\nK,O,2026-11-02,2026-11-06,10\nK,C,2026-11-02,2026-11-06,20\n"+
			"K,P,2026-11-02,2026-11-06,30\nK,N,2026-11-02,2026-11-06,40\n"))
	a := apptest.Assessed(t, o, apptest.October.Last())
	wanted := func(proposals bool) map[string]int64 {
		by := map[string]int64{}
		for _, x := range assess.StaffOf(a, a.All, proposals).Assigned {
			by[a.All[x.Project].Code] = x.Percent
		}
		return by
	}
	assert.Equal(t, map[string]int64{"O": 10_00, "C": 20_00}, wanted(false))
	assert.Equal(t, map[string]int64{"O": 10_00, "C": 20_00, "P": 30_00}, wanted(true))
}
