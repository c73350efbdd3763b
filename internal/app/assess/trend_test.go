package assess_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
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

// meanwhile is a store in which something happens before each reading of closed periods but the first.
type meanwhile struct {
	assess.Store

	n  int
	do func()
}

func (m *meanwhile) PeriodValues(ctx context.Context, keys []measure.Key, scopes []int64, from, before calendar.Period,
	each func(kept.PeriodValue)) error {
	if m.n++; m.n > 1 {
		m.do()
	}
	return m.Store.PeriodValues(ctx, keys, scopes, from, before, each)
}

// Several measures of a scope are over the same periods, also where a month is closed while they are gathered: a page draws them over one
// axis.
func TestTrendsAreOverTheSamePeriods(t *testing.T) {
	s, o := apptest.Stored(t)
	close := func(m calendar.Period) {
		apptest.Send(t, o, apptest.Sent{Kind: record.Actuals, Period: m, Text: "project,cost_code,date,amount\nA,C," + m.First().String() +
			",100\nB,C," + m.First().String() + ",1\n"},
			apptest.Sent{Kind: record.Budget, Period: m, Text: "project,cost_code,amount,month\nA,C,500,2026-12\nB,C,7,2026-12\n"})
		_, err := o.Publish.Close(apptest.Ctx, m)
		require.NoError(t, err)
	}
	close(apptest.October - 2)
	a := apptest.Assessed(t, o, apptest.Last)
	office := assess.NewOffice(&meanwhile{Store: s, do: func() { close(apptest.October - 1) }}, o.Setting)
	all, err := office.Trends(apptest.Ctx, a, apptest.Open(t, a), []measure.Key{measure.AC, measure.BAC, measure.EV}, 12)
	require.NoError(t, err)
	require.Len(t, all, 3)
	for key, want := range map[measure.Key][]string{measure.AC: {"100.00", "100.00"}, measure.BAC: {"500.00", "500.00"}} {
		x := all[key]
		assert.Equal(t, []calendar.Period{apptest.October - 2, apptest.October}, x.Periods)
		var got []string
		for _, v := range x.Rows[0].Values {
			got = append(got, v.Text(measure.Money, "EUR"))
		}
		assert.Equal(t, want, got, key.String())
	}
	now, before := all[measure.BAC].Whole.Last()
	assert.Equal(t, []string{"507.00", "507.00"}, []string{now.Text(measure.Money, "EUR"), before.Text(measure.Money, "EUR")})
	for _, x := range all[measure.EV].Rows {
		assert.Len(t, x.Values, 2)
	}
	_, err = office.Trends(apptest.Ctx, a, apptest.Open(t, a), []measure.Key{measure.AC, measure.None}, 12)
	assert.ErrorIs(t, err, fault.ErrNotFound)
}
