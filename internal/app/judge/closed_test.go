package judge_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// What is found on a closed project stands among the findings of the scope that it lies in, once, and in no other.
func TestFindingsOfClosedProjects(t *testing.T) {
	_, o := apptest.Gate(t)
	send := func(kind record.Kind, text string) apptest.Sent {
		return apptest.Sent{Kind: kind, Period: apptest.October, Text: text}
	}
	apptest.Send(t, o, send(record.Projects, "code,name,parent,status\nC1,Done,A,closed\n"),
		send(record.Activities, "project,code,name,actual_start,actual_finish\nC1,X,Dig,2026-10-01,2026-10-09\n"),
		send(record.Timesheets, "person,project,date,hours\nK,C1,2026-10-12,8\n"))
	a := apptest.Assessed(t, o, apptest.October.Last())
	for code, want := range map[string]int{"": 1, "A": 1, "C1": 1, "B": 0, "A1": 0} {
		for _, statuses := range [][]measure.State{{measure.Open}, nil} {
			s, err := a.Scope(code, statuses...)
			require.NoError(t, err)
			found, err := o.Judge.Check(apptest.Ctx, a, s)
			require.NoError(t, err)
			n := 0
			for i := range found.List {
				if found.List[i].Rule.ID == "hours_closed" {
					n++
				}
			}
			assert.Equal(t, want, n, "scope %q of %v", code, statuses)
		}
	}
}
