package lookout_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/apptest"
	"turret/internal/app/lookout"
	"turret/internal/record"
)

// doneOf are the names of the first steps that are done.
func doneOf(steps []lookout.Step) (done []string) {
	for _, s := range steps {
		if s.Done {
			done = append(done, s.Name)
		}
	}
	return done
}

// A house with structure, cost codes and projects has three steps behind it; a plan is one more, and a budget of the same project ends the
// list. A plan of one project and a budget of another do not.
func TestFirstStepsUntilAProjectHasDatesAndABudget(t *testing.T) {
	plan := apptest.Sent{Kind: record.Activities, Period: apptest.October,
		Text: "project,code,name,kind,baseline_finish\nA,M1,Gate,milestone,2026-12-31\n"}
	budget := func(project string) apptest.Sent {
		return apptest.Sent{Kind: record.Budget, Period: apptest.October, Text: "project,cost_code,amount,month\n" + project + ",C,100,2026-11\n"}
	}
	o := apptest.House(t)
	steps := lookout.Begin(apptest.Assessed(t, o, apptest.October.Last()))
	assert.Equal(t, []string{"Structure", "Cost codes", "A project"}, doneOf(steps))
	assert.Equal(t, "A", steps[4].Project)
	apptest.Send(t, o, plan, budget("B"))
	steps = lookout.Begin(apptest.Assessed(t, o, apptest.October.Last()))
	assert.Equal(t, []string{"Structure", "Cost codes", "A project", "Its plan", "Its budget"}, doneOf(steps))
	apptest.Send(t, o, budget("A"))
	assert.Nil(t, lookout.Begin(apptest.Assessed(t, o, apptest.October.Last())))
}
