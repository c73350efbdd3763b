package judge_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/judge"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// Budget 1,000, earned and spent as they were three periods ago but for 400 earned at 500: the rest of 600 goes at 0.8, so 750 are to
// come, where the lead declares less. A gap of 50 is 5 % and within the tolerance; a cent more is not.
func TestACostGapWithinTheToleranceIsNoDisagreement(t *testing.T) {
	july := calendar.Months.Of(calendar.On(2026, 7, 1))
	files := func(toGo string) []apptest.Sent {
		return []apptest.Sent{{Kind: record.Budget, Period: july, Text: "project,cost_code,amount,month\nA,C,1000,2026-01\n"},
			{Kind: record.Statuses, Period: july, Text: "project,percent_complete\nA,0\n"},
			{Kind: record.Forecast, Period: apptest.October, Text: "project,cost_code,amount,month\nA,C," + toGo + ",2026-11\n"},
			{Kind: record.Actuals, Period: apptest.October, Text: "project,cost_code,date,amount\nA,C,2026-10-05,500\n"},
			{Kind: record.Statuses, Period: apptest.October, Text: "project,percent_complete\nA,40\n"}}
	}
	for toGo, want := range map[string]int{"700": 0, "699.99": 1, "750": 0, "800": 0} {
		o := apptest.House(t)
		for i, x := range files(toGo) {
			apptest.Send(t, o, x)
			if i == 1 {
				_, err := o.Publish.Close(apptest.Ctx, july)
				require.NoError(t, err)
			}
		}
		a := apptest.Assessed(t, o, apptest.Last)
		p, err := a.Project("A")
		require.NoError(t, err)
		require.Equal(t, "1250.00", p.Value(measure.EACByRecent).Text(measure.Money, "EUR"))
		n := 0
		for _, d := range judge.Disagreements(a, apptest.Open(t, a)) {
			if d.About == "cost" {
				n++
			}
		}
		assert.Equal(t, want, n, "%s to go", toGo)
	}
}
