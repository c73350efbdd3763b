package publish_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// What is apptest.Sent for November counts in no figure of October, whether that is closed or not; October closed twice without a change
// has the same digest.
func TestAPeriodHoldsWhatWasSentForIt(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.Actuals, Period: apptest.October,
		Text: "project,cost_code,date,amount\nA,C,2026-10-05,500\n"},
		apptest.Sent{Kind: record.Actuals, Period: apptest.October + 1, Text: "project,cost_code,date,amount\nA,C,2026-10-06,70\n"})
	spent := func() string {
		p, err := apptest.Assessed(t, o, apptest.Last).Project("A")
		require.NoError(t, err)
		return p.Value(measure.AC).Text(measure.Money, "EUR")
	}
	assert.Equal(t, "500.00", spent())
	_, err := o.Publish.Close(apptest.Ctx, apptest.October+1)
	require.NoError(t, err, "the first to be closed may be any")
	_, err = o.Publish.Close(apptest.Ctx, apptest.October)
	assert.ErrorIs(t, err, fault.ErrConflict, "November is closed already")
	_, err = o.Publish.Close(apptest.Ctx, apptest.October+3)
	assert.ErrorIs(t, err, fault.ErrConflict, "December comes first")

	o = apptest.House(t, apptest.Sent{Kind: record.Actuals, Period: apptest.October,
		Text: "project,cost_code,date,amount\nA,C,2026-10-05,500\n"})
	first, err := o.Publish.Close(apptest.Ctx, apptest.October)
	require.NoError(t, err)
	_, err = o.Publish.Close(apptest.Ctx, apptest.October)
	assert.ErrorIs(t, err, fault.ErrConflict)
	require.NoError(t, o.Publish.Reopen(apptest.Ctx, apptest.October, "look again"))
	second, err := o.Publish.Close(apptest.Ctx, apptest.October)
	require.NoError(t, err)
	assert.Equal(t, []any{first.Digest, 2}, []any{second.Digest, second.Issue})
}

// A status that a person set meanwhile is a figure of the period: closed again it has another digest.
func TestTheDigestOfAPeriodIsOverItsFigures(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.Budget, Period: apptest.October,
		Text: "project,cost_code,amount,month\nA,C,1000,2026-10\n"})
	first, err := o.Publish.Close(apptest.Ctx, apptest.October)
	require.NoError(t, err)
	require.NoError(t, o.Publish.Reopen(apptest.Ctx, apptest.October, "look again"))
	require.NoError(t, o.Judge.SetStatus(apptest.Ctx, apptest.Assessed(t, o, apptest.Last), "A",
		health.Override{On: health.Schedule, Status: health.Watch,
			Reason: "the road is closed", Until: apptest.Last + 30}))
	second, err := o.Publish.Close(apptest.Ctx, apptest.October)
	require.NoError(t, err)
	assert.NotEqual(t, first.Digest, second.Digest)
}

// Loads of later periods and withdrawn ones are not pinned: of five loads, of which one is for November and one was withdrawn, the
// masters' three and the postings that count are.
func TestWhatAPeriodPins(t *testing.T) {
	s, o := apptest.Stored(t, apptest.Sent{Kind: record.Actuals, Period: apptest.October,
		Text: "project,cost_code,date,amount\nA,C,2026-10-05,500\n"},
		apptest.Sent{Kind: record.Actuals, Period: apptest.October, Text: "project,cost_code,date,amount\nA,C,2026-10-06,70\n"},
		apptest.Sent{Kind: record.Actuals, Period: apptest.October + 1, Text: "project,cost_code,date,amount\nA,C,2026-11-02,9\n"})
	require.NoError(t, o.Load.Withdraw(apptest.Ctx, 5, "the wrong file"))
	p, err := o.Publish.Close(apptest.Ctx, apptest.October)
	require.NoError(t, err)
	pins, _, err := s.Frozen(apptest.Ctx, p.Serial)
	require.NoError(t, err)
	var loads []int64
	for _, x := range pins {
		loads = append(loads, x.Load)
	}
	assert.Equal(t, []int64{1, 2, 3, 4}, loads)
	assert.NoError(t, o.Load.Withdraw(apptest.Ctx, 6, "not pinned"))
}
