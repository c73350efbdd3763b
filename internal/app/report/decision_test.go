package report_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/apptest"
	"turret/internal/app/report"
	"turret/internal/record"
)

// Of five issues only the one of high priority that is open and past due on the day, or due on it, asks for a decision.
func TestOnlyALateIssueOfHighPriorityIsADecision(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.Issues, Period: apptest.October, Text: "project,code,title,priority,due,state\nA,1,On the " +
		"day,high,2026-10-31,open\nA,2,Low,low,2026-10-01,open\n" +
		"A,3,Tomorrow,high,2026-11-01,open\nA,4,Closed,high,2026-10-01,closed\nA,5,No day,high,,open\n"},
		apptest.Sent{Kind: record.Changes, Period: apptest.October, Text: "project,change,title,state,amount\nB,C1,Asked,requested,10\nB,C2,Given,approved,10\nB,C3,Not,refused,10\n"})
	a := apptest.Assessed(t, o, apptest.Last)
	var got []string
	for _, d := range report.Decisions(a, apptest.Open(t, a).Projects) {
		got = append(got, d.Code)
	}
	assert.Equal(t, []string{"C1", "1"}, got)
}
