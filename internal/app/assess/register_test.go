package assess_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// By hand: R1 10 % of 1,000.00 SEK at the plan rate of 0.1 is 10.00, after it 5 % as likelihood 1 has it is 5.00; R2 without a probability
// 40 % of 200.00 is 80.00, before as after. R3 is raised later, R4 was closed on the day before. Of three issues one is due on the day.
func TestRegistersAsOfADay(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.Rates, Period: apptest.October,
		Text: "currency,month,rate,kind\nSEK,2026-01,0.1,plan\n"},
		apptest.Sent{Kind: record.Risks, Period: apptest.October,
			Text: "project,code,title,likelihood,consequence,probability,cost_impact," +
				"days_impact,residual_likelihood,raised,closed,state,currency\n" +
				"A,R1,Flood,2,4,10,1000,4,1,,,open,SEK\nA,R2,Strike,3,5,,200,3,,2026-10-31,,open,\n" +
				"A,R3,Later,5,5,90,9000,90,,2026-11-01,,open,\nA,R4,Gone,5,5,90,9000,90,,,2026-10-30,closed,\n"},
		apptest.Sent{Kind: record.Issues, Period: apptest.October, Text: "project,code,title,due,raised,closed,state\n" +
			"A,I1,Road,2026-10-31,,,open\nA,I2,Lane,2026-11-01,,,open\nA,I3,Path,2026-10-01,,2026-11-02,closed\n"})
	figures := func() map[measure.Key]string {
		a := apptest.Assessed(t, o, apptest.October.Last())
		p, err := a.Project("A")
		require.NoError(t, err)
		got := map[measure.Key]string{}
		for _, key := range []measure.Key{measure.RiskExpected, measure.RiskExpectedAfter} {
			got[key] = p.Value(key).Amount().Text("EUR")
		}
		for _, key := range []measure.Key{measure.RisksOpen, measure.RiskExposure, measure.RiskExposureAfter, measure.RiskDays,
			measure.RiskDaysAfter, measure.IssuesOpen,
			measure.IssuesOverdue} {
			got[key] = p.Value(key).Text(measure.Of(key).Unit, "EUR")
		}
		return got
	}
	assert.Equal(t, map[measure.Key]string{measure.RiskExpected: "90.00", measure.RiskExpectedAfter: "85.00", measure.RisksOpen: "2",
		measure.RiskExposure: "15", measure.RiskExposureAfter: "15", measure.RiskDays: "1.6", measure.RiskDaysAfter: "1.4",
		measure.IssuesOpen: "3", measure.IssuesOverdue: "2"}, figures())

	set, err := o.Setting.Get(apptest.Ctx)
	require.NoError(t, err)
	set.Likelihood = []float64{0, 0, 12.5, 60, 85}
	require.NoError(t, o.Setting.Save(apptest.Ctx, set))
	got := figures()
	assert.Equal(t, []string{"35.00", "25.00", "0.375"}, []string{got[measure.RiskExpected], got[measure.RiskExpectedAfter],
		got[measure.RiskDaysAfter]},
		"12.5 % of 200.00 beside 10.00, after it 0 % of R1")
	for _, wrong := range [][]float64{{5, 20, 40, 60}, {5, 20, 40, 60, 101}, {5, 4, 40, 60, 85}, {-1, 4, 40, 60, 85}, {0, 0, 0, 0, 0}} {
		set.Likelihood = wrong
		assert.Error(t, o.Setting.Save(apptest.Ctx, set), "%v", wrong)
	}
}

// A risk wakes on its day, or where its condition holds of its project; one that is over or not yet raised does not.
func TestRisksWake(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.OwnFields, Period: apptest.October, Text: "code,name,type\ncrew,Crew,number\n"},
		apptest.Sent{Kind: record.Projects, Period: apptest.October, Text: "code,name,own.crew\nA,First,7\n"},
		apptest.Sent{Kind: record.Risks, Period: apptest.October, Text: "project,code,title,trigger,trigger_when,raised,state\n" +
			"A,R1,Flood,2026-10-31,,,open\nA,R2,Strike,2026-11-01,,,open\nA,R3,Fire,,risks_open >= 3,,open\nA,R4,Frost,,risks_open > 90,,open\n" +
			"A,R5,Gone,2026-10-01,risks_open > 0,,closed\nA,R6,Later,2026-10-01,risks_open > 0,2026-11-01,open\n" +
			"A,R7,Crowd,,own.crew > 6,,open\nA,R8,Crane,,own.cranes > 6,,open\n"})
	a := apptest.Assessed(t, o, apptest.October.Last())
	p, err := a.Project("A")
	require.NoError(t, err)
	list := assess.Awake(a, p)
	require.Len(t, list, 4)
	assert.Equal(t, []string{"Risk R1 “Flood” wakes: its day, 31 Oct 2026, has come", "Risk R3 “Fire” wakes: risks_open >= 3",
		"Risk R7 “Crowd” wakes: own.crew > 6"}, list[:3])
	assert.Contains(t, list[3], "Risk R8 “Crane” cannot be told to wake")
	x, err := o.Explain.Of(apptest.Ctx, a, "A")
	require.NoError(t, err)
	said := ""
	for _, part := range x.Parts {
		said += strings.Join(part.Concerns, "; ")
	}
	assert.Contains(t, said, "Risk R1 “Flood” wakes", "it is of concern though no risk is rated")
}

// By hand: P1 is in PG, both in PF; a risk of each, of 12, 15 and 20. What is sent for a programme shows at once, in it and above, and in
// no project; who sees a project alone sees its risk alone.
func TestRecordsOfNodes(t *testing.T) {
	_, o := apptest.Gate(t)
	send := func(text string) {
		apptest.Send(t, o, apptest.Sent{Kind: record.Risks, Period: apptest.October,
			Text: "project,node,code,title,likelihood,consequence\n" + text})
	}
	send("A1,,R1,Flood,3,4\n")
	count := func(who, scope string) (n, exposure int64) {
		a, err := o.Assess.Day(access.As(context.Background(), apptest.Writers[who]), apptest.October.Last())
		require.NoError(t, err)
		s, err := a.Scope(scope)
		require.NoError(t, err)
		g := s.Roll(a.Env)
		return g.Value(measure.RisksOpen).N, g.Value(measure.RiskExposure).N
	}
	same := func(n, exposure int64, who, scope string) {
		t.Helper()
		gotN, gotE := count(who, scope)
		assert.Equal(t, []int64{n, exposure}, []int64{gotN, gotE}, "%s in %q", who, scope)
	}
	same(1, 12, "analyst", "")
	send(",A,R1,Strike,3,5\n,PF,R1,Drought,4,5\n")
	same(3, 20, "analyst", "")
	same(3, 20, "analyst", "PF")
	same(2, 15, "analyst", "A")
	same(0, 0, "analyst", "B")
	same(1, 12, "analyst", "A1")
	same(1, 12, "lead", "")
	same(2, 15, "scoped analyst", "")
	send(",A,R1,Strike,1,1\n,A,R2,Fire,2,3\n") // a programme that has an id by now: its projects are taken over
	same(4, 20, "analyst", "")
	same(3, 12, "analyst", "A")
	send("A1,,R1,Flood,1,1\n")
	same(3, 6, "analyst", "A")
	same(4, 20, "analyst", "")
}
