package judge_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/record"
)

// hopeful is an office whose project A is to be done by its plan on Friday, 6 November, while a risk of which nobody doubts that it comes
// takes two days more and costs 30; 20 of contingency are left. B differs in that its risk comes in three of ten runs only.
func hopeful(t *testing.T) (*app.Office, *assess.Assessment) {
	t.Helper()
	long := apptest.October - 9
	o := apptest.House(t, sent(record.CostCodes, long, "code,name,contingency\nR,Reserve,yes\n"),
		sent(record.Activities, long, "project,code,name,baseline_start,baseline_finish,start,finish\n"+
			"A,1,Dig,2026-11-02,2026-11-06,2026-11-02,2026-11-06\nB,1,Plant,2026-11-02,2026-11-06,2026-11-02,2026-11-06\n"),
		sent(record.Budget, long, "project,cost_code,amount,month\n"+
			"A,C,100,2026-11\nA,R,20,2026-11\nB,C,100,2026-11\nB,R,20,2026-11\n"),
		sent(record.Forecast, apptest.October, "project,cost_code,amount,month\nA,C,100,2026-11\nB,C,100,2026-11\n"),
		sent(record.Risks, apptest.October,
			"project,code,title,activity,probability,days_impact,cost_impact,state\n"+
				"A,R1,Clay,1,100,2,30,open\nB,R1,Frost,1,30,2,30,open\n"))
	return o, apptest.Assessed(t, o, apptest.Last)
}

func sent(kind record.Kind, p calendar.Period, text string) apptest.Sent {
	return apptest.Sent{Kind: kind, Period: p, Text: text}
}

// simulatedFound waits until projects are simulated, and tells what the checks of that find.
func simulatedFound(t *testing.T, o *app.Office, a *assess.Assessment) (list []string) {
	t.Helper()
	x, err := o.Judge.CheckAhead(apptest.Ctx, a, apptest.Open(t, a), time.Minute)
	require.NoError(t, err)
	require.False(t, x.Waiting)
	for _, f := range x.List {
		if f.Rule.Simulated() && f.Accepted == nil {
			list = append(list, f.Project.Code+" "+f.Says)
			assert.False(t, f.New)
		}
	}
	return list
}

const (
	early = "A Expected on 6 Nov 2026; only one run in ten ends by 10 Nov 2026"
	short = "A €20.00 of contingency are left, and half of the runs need more than €30.00"
)

func TestChecksOfWhatIsSimulated(t *testing.T) {
	o, a := hopeful(t)
	assert.Equal(t, []string{short, early}, simulatedFound(t, o, a), "most runs of B are within its date and its contingency")
	for _, f := range a.ByCode["A"].Checks.Findings {
		assert.False(t, f.Rule.Simulated(), "they are no part of what is counted and pinned")
	}
	hurried, err := o.Judge.CheckAhead(apptest.Ctx, apptest.Assessed(t, o, apptest.Last+1), apptest.Open(t, a), 0)
	require.NoError(t, err)
	assert.True(t, hurried.Waiting, "of another day, which nobody waits for")
	plain, err := o.Judge.Check(apptest.Ctx, a, apptest.Open(t, a))
	require.NoError(t, err)
	for _, f := range plain.List {
		assert.False(t, f.Rule.Simulated(), "nor of what files and reports tell, which may not hang on how long somebody waits")
	}

	veiled := *a
	veiled.NoMoney = true
	assert.Equal(t, []string{early}, simulatedFound(t, o, &veiled), "who may not see costs is not told of any")
}

// Such a finding is accepted as any other; one that is not there is not.
func TestAFindingOfASimulationIsAccepted(t *testing.T) {
	o, a := hopeful(t)
	simulatedFound(t, o, a)
	until := calendar.On(2026, 12, 31)
	err := o.Judge.Accept(apptest.Ctx, a, "B", check.Acceptance{Rule: "date_hopeful", Reason: "told", Until: until})
	require.ErrorIs(t, err, fault.ErrNotFound)
	require.NoError(t, o.Judge.Accept(apptest.Ctx, a, "A", check.Acceptance{Rule: "date_hopeful", Reason: "told", Until: until}))
	a = apptest.Assessed(t, o, apptest.Last)
	assert.Equal(t, []string{short}, simulatedFound(t, o, a))
}
