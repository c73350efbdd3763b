package assess_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
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
