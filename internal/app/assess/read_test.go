package assess

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// newcomer is a store into which a load brings a project between the reading of projects and of rows.
type newcomer struct{ Store }

var asOf = calendar.On(2026, 10, 31)

func (newcomer) Activities(_ context.Context, _ []int64, each func(int64, *kept.ActivityFact)) error {
	each(1, &kept.ActivityFact{Activity: schedule.Activity{Code: "known"}})
	each(99, &kept.ActivityFact{Activity: schedule.Activity{Code: "new"}})
	return nil
}

func (newcomer) Lines(_ context.Context, _ record.Kind, _ []int64, each func(int64, cost.Line)) error {
	each(99, cost.Line{Currency: "EUR", Month: asOf.Month()})
	return nil
}

func (newcomer) Ledger(_ context.Context, _ []int64, take func(int64, int64, *cost.MonthSum) bool, each func(int64, *cost.Posting)) error {
	take(99, 1, &cost.MonthSum{Code: 1, Month: asOf.Month(), Amount: 100, Rows: 1, Currency: "EUR"})
	each(99, &cost.Posting{Code: 1, Date: asOf, Amount: 100, Currency: "EUR"})
	return nil
}

func (newcomer) Commitments(_ context.Context, _ []int64, each func(int64, cost.Commitment)) error {
	each(99, cost.Commitment{Amount: 100, Currency: "EUR"})
	return nil
}

func (newcomer) Changes(_ context.Context, _ []int64, each func(int64, cost.Change)) error {
	each(99, cost.Change{Code: "C", Amount: 100, Currency: "EUR"})
	return nil
}

func (newcomer) Shares(_ context.Context, _ []int64, each func(int64, cost.Share)) error {
	each(99, cost.Share{Funder: "F", Percent: cost.Whole, Currency: "EUR"})
	return nil
}

func (newcomer) Billings(_ context.Context, _ []int64, each func(int64, cost.Billing)) error {
	each(99, cost.Billing{Code: "R", Month: asOf.Month(), Planned: 100, Currency: "EUR"})
	return nil
}

func (newcomer) Bookings(_ context.Context, _ []int64, each func(int64, *cost.Booking)) error {
	each(99, &cost.Booking{Person: "P", Date: asOf, Hours: cost.HourUnits})
	return nil
}

func (newcomer) Declared(_ context.Context, _ []int64, each func(int64, measure.Declared)) error {
	each(0, measure.Declared{})
	each(99, measure.Declared{})
	return nil
}

func TestRowsOfAProjectNotYetReadArePassedOver(t *testing.T) {
	m := &kept.Masters{Reporting: "EUR", Projects: []measure.Info{{ID: 1, Code: "A"}}}
	calendars := map[string]*calendar.Calendar{DefaultCalendar: calendar.Standard}
	a := New(m, calendars, asOf)
	require.NoError(t, readFacts(context.Background(), a, newcomer{}, calendars, nil))
	require.Len(t, a.Projects, 1)
	require.Len(t, a.Projects[0].Activities, 1)
	assert.Equal(t, "known", a.Projects[0].Activities[0].Code)
	assert.Nil(t, a.Projects[0].Declared)
}
