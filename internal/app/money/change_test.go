package money_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// What a change brings is budgeted once: by the approval, or by the line that named it before.
func TestAnApprovedChangeIsBudgetedOnce(t *testing.T) {
	for budget, want := range map[string]string{"A,C,1000,2026-01,\n": "1100.00", "A,C,1000,2026-01,\nA,C,100,2026-02,C1\n": "1100.00"} {
		o := apptest.House(t, apptest.Sent{Kind: record.Budget, Period: apptest.October, Text: "project,cost_code,amount,month,change\n" +
			budget},
			apptest.Sent{Kind: record.Changes, Period: apptest.October,
				Text: "project,change,title,state,amount,cost_code\nA,C1,More,requested,100,C\n"})
		bac := func() string {
			p, err := apptest.Assessed(t, o, apptest.Last).Project("A")
			require.NoError(t, err)
			return p.Value(measure.BAC).Text(measure.Money, "EUR")
		}
		assert.Equal(t, "1000.00", bac(), "asked for is not given")
		require.NoError(t, o.Money.DecideChange(apptest.Ctx, apptest.Assessed(t, o, apptest.Last), "A", "C1", cost.Approved, "needed"))
		assert.Equal(t, want, bac())
		assert.ErrorIs(t, o.Money.DecideChange(apptest.Ctx, apptest.Assessed(t, o, apptest.Last), "A", "C1", cost.Approved, "again"),
			fault.ErrConflict)
		assert.Equal(t, want, bac())
	}
}
