package load_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// A withdrawn load counts no more and pins nothing; one that a closed period pins stays.
func TestAPinnedLoadStays(t *testing.T) {
	o := apptest.House(t, apptest.Sent{Kind: record.Actuals, Period: apptest.October,
		Text: "project,cost_code,date,amount\nA,C,2026-10-05,500\n"},
		apptest.Sent{Kind: record.Actuals, Period: apptest.October, Text: "project,cost_code,date,amount\nA,C,2026-10-06,70\n"})
	loads, err := o.Load.List(apptest.Ctx)
	require.NoError(t, err)
	require.NoError(t, o.Load.Withdraw(apptest.Ctx, loads[0].ID, "the wrong file"))
	p, err := apptest.Assessed(t, o, apptest.Last).Project("A")
	require.NoError(t, err)
	assert.Equal(t, "500.00", p.Value(measure.AC).Text(measure.Money, "EUR"))
	_, err = o.Publish.Close(apptest.Ctx, apptest.October)
	require.NoError(t, err)
	assert.ErrorIs(t, o.Load.Withdraw(apptest.Ctx, loads[1].ID, "too late"), fault.ErrPinned)
}
