package draft

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/record"
)

// came is a reading of deliveries alone.
type came struct {
	kept.Reading
	list    []kept.Delivery
	begun   bool
	ledgers []string
}

func (c came) LastDelivered(_ context.Context, _ []int64, each func(kept.Delivery)) error {
	for _, d := range c.list {
		each(d)
	}
	return nil
}

func (c came) Begun(context.Context, calendar.Period) (bool, []string, error) {
	return c.begun, c.ledgers, nil
}

// A ledger of November for projects 1 and 2: 1 had one by Finance in October, 2 only rows typed in; 3 is not in it.
func TestALedgerThatIsTriedHasCome(t *testing.T) {
	ctx, november := context.Background(), calendar.Months.Of(calendar.On(2026, 11, 1))
	base := came{list: []kept.Delivery{{Project: 2, Kind: record.Actuals, Period: november - 1, Source: kept.ByHand, Periods: 1},
		{Project: 1, Kind: record.Actuals, Period: november - 1, Source: "Finance", Periods: 10},
		{Project: 1, Kind: record.Budget, Period: november - 9, Source: "Finance", Periods: 1},
		{Project: 3, Kind: record.Actuals, Period: november - 1, Source: "Finance", Periods: 10}}, ledgers: []string{"Bank"}}
	p := &posted{Reading: base, period: november, source: "Ledger", by: map[int64][]cost.Posting{1: {{}}, 2: {{}}}}
	var list []kept.Delivery
	require.NoError(t, p.LastDelivered(ctx, nil, func(d kept.Delivery) { list = append(list, d) }))
	assert.Equal(t, []kept.Delivery{base.list[0], {Project: 1, Kind: record.Actuals, Period: november, Source: "Ledger", Periods: 11},
		base.list[2],
		base.list[3], {Project: 2, Kind: record.Actuals, Period: november, Source: "Ledger", Periods: 1}}, list)
	for period, want := range map[calendar.Period]bool{november - 1: true, november: true, november + 1: false} {
		begun, ledgers, err := p.Begun(ctx, period)
		require.NoError(t, err)
		assert.Equal(t, want, begun, period)
		assert.Equal(t, period == november, len(ledgers) == 2, "only for its own period")
	}
	for period, want := range map[calendar.Period]bool{november: false, november - 1: false, november - 2: true} {
		p.period = period
		late, err := p.late(ctx)
		require.NoError(t, err)
		assert.Equal(t, want, late, period)
	}
}
