package assess_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/say"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// regular is project A that has spent 500 by September of a budget to date of 400, with a ledger for August and one for September.
var regular = []apptest.Sent{
	{Kind: record.Budget, Period: apptest.October - 2, Text: "project,cost_code,amount,month\nA,C,400,2026-08\nA,C,400,2026-12\n"},
	{Kind: record.Actuals, Period: apptest.October - 2, Text: "project,cost_code,date,amount\nA,C,2026-08-05,300\n"},
	{Kind: record.Actuals, Period: apptest.October - 1, Text: "project,cost_code,date,amount\nA,C,2026-09-05,200\n"},
	{Kind: record.Forecast, Period: apptest.October - 1, Text: "project,cost_code,amount,month\nA,C,400,2026-12\n"},
	{Kind: record.Projects, Period: apptest.October - 1, Text: "code,name,parent,earned_value\nA,First,PF,no\n"},
}

func costOf(t *testing.T, o *app.Office, code string) (*measure.Project, measure.Value) {
	t.Helper()
	a := apptest.Assessed(t, o, apptest.October.Last())
	p, err := a.Project(code)
	require.NoError(t, err)
	cost := p.Value(measure.CostHealth)
	return p, cost
}

// 500 spent against 400 to date is act; but October's costs have not come, so that nothing is said of cost, and that is said.
func TestCostIsNotAssessedWhileActualCostsAreAwaited(t *testing.T) {
	o := apptest.House(t, regular...)
	p, cost := costOf(t, o, "A")
	assert.Equal(t, health.NotAssessed, cost.Status())
	assert.Equal(t, "actual costs of October 2026 have not come; the last are of September 2026", cost.Note)
	assert.Equal(t, []measure.Awaited{{Kind: "forecast", Last: apptest.October - 1},
		{Kind: "actuals", Last: apptest.October - 1, Regular: true}}, p.Awaits)
	assert.Contains(t, say.Headline(p, apptest.Assessed(t, o, apptest.October.Last()).Env).String(),
		"Actual costs and forecasts have not come for October 2026.")

	apptest.Send(t, o, apptest.Sent{Kind: record.Actuals, Period: apptest.October,
		Text: "project,cost_code,date,amount\nA,C,2026-10-05,1\n"})
	p, cost = costOf(t, o, "A")
	assert.Equal(t, health.Act, cost.Status(), "501 of 400")
	assert.Len(t, p.Awaits, 1, "the forecast")
}

// A ledger of the same sender that tells of other projects only tells that this one had no cost.
func TestALedgerWithoutTheProjectIsStillItsLedger(t *testing.T) {
	other := apptest.Sent{Kind: record.Actuals, Period: apptest.October, Text: "project,cost_code,date,amount\nB,C,2026-10-05,1\n"}
	o := apptest.House(t, append(regular[:len(regular):len(regular)], other)...)
	_, cost := costOf(t, o, "A")
	assert.Equal(t, health.Act, cost.Status())

	o = apptest.House(t, regular...)
	_, err := o.Intake.Import(apptest.Ctx, []*kept.File{apptest.Read(t, record.Actuals, other.Text)},
		intake.Origin{Period: apptest.October, Source: "another"})
	require.NoError(t, err)
	_, cost = costOf(t, o, "A")
	assert.Equal(t, health.NotAssessed, cost.Status(), "another's ledger tells nothing of it")
}

// What came once is no rhythm; and what is not expected is not awaited.
func TestWhatIsNotAwaited(t *testing.T) {
	once := append(regular[:1:1], regular[2:]...)
	p, cost := costOf(t, apptest.House(t, once...), "A")
	assert.Equal(t, health.OnTrack, cost.Status(), "200 of 400 to date")
	require.Len(t, p.Awaits, 2)
	assert.False(t, p.Awaits[1].Regular)

	o := apptest.House(t, regular...)
	require.NoError(t, o.Gather.Expect(apptest.Ctx, "A", record.Actuals, false))
	p, cost = costOf(t, o, "A")
	assert.Equal(t, health.Act, cost.Status())
	assert.Len(t, p.Awaits, 1)
	assert.Empty(t, say.Awaited(nil, measure.Env{}))
}

// As of the end of October the input for October is not due yet, that for September is.
func TestAnInputIsLateOnceTheNextWasDue(t *testing.T) {
	status := apptest.Sent{Kind: record.Statuses, Period: apptest.October, Text: "project,overall\nB,watch\n"}
	o := apptest.House(t, append(regular[:len(regular):len(regular)], status)...)
	p, _ := costOf(t, o, "A")
	assert.Empty(t, p.Audit.Late, "what came for September is followed by October's, due in November")
	o = apptest.House(t, append(regular[:2:2], status)...)
	p, _ = costOf(t, o, "A")
	require.Len(t, p.Audit.Late, 1, "what came for August is followed by September's, due early in October")
	assert.Equal(t, "August 2026", p.Audit.Late[0].Last)
}
