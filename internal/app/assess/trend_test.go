package assess_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// August was closed with 100, September with 150; October stands at 175 so far.
func TestATrendEndsWithToday(t *testing.T) {
	o := apptest.House(t)
	for i, amount := range []string{"100", "50", "25"} {
		m := apptest.October - 2 + calendar.Period(i)
		apptest.Send(t, o, apptest.Sent{Kind: record.Actuals, Period: m, Text: "project,cost_code,date,amount\nA,C," + m.First().String() +
			"," + amount + "\n"})
		if m < apptest.October {
			_, err := o.Publish.Close(apptest.Ctx, m)
			require.NoError(t, err)
		}
	}
	a := apptest.Assessed(t, o, apptest.Last)
	trend, err := o.Assess.Trend(apptest.Ctx, a, apptest.Open(t, a), measure.AC, 12)
	require.NoError(t, err)
	assert.Equal(t, []calendar.Period{apptest.October - 2, apptest.October - 1, apptest.October}, trend.Periods)
	var got []string
	for _, v := range trend.Rows[0].Values {
		got = append(got, v.Text(measure.Money, "EUR"))
	}
	assert.Equal(t, []string{"100.00", "150.00", "175.00"}, got)
	now, before := trend.Rows[0].Last()
	assert.Equal(t, []string{"175.00", "150.00"}, []string{now.Text(measure.Money, "EUR"), before.Text(measure.Money, "EUR")})
}
