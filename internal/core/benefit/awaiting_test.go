package benefit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Months are asked for once they have ended. Of those told, exactly four fifths is enough; a month of which nothing is told counts in
// neither, and one told as nought is told.
func TestWhatIsAskedForOfABenefit(t *testing.T) {
	first := calendar.On(2026, 8, 1).Month()
	month := func(i int, planned, came money.Amount, told bool) *benefit.Benefit {
		return &benefit.Benefit{Month: first + calendar.Month(i), Planned: planned, Achieved: came, Counted: told}
	}
	day := calendar.On(2026, 10, 31)
	for _, x := range []struct {
		months []*benefit.Benefit
		asOf   calendar.Date
		untold []calendar.Month
		short  bool
	}{
		{nil, day, nil, false},
		{[]*benefit.Benefit{month(0, 100, 80, true), month(1, 100, 80, true)}, day, nil, false},
		{[]*benefit.Benefit{month(0, 100, 80, true), month(1, 100, 79, true)}, day, nil, true},
		{[]*benefit.Benefit{month(0, 100, 0, true)}, day, nil, true},
		{[]*benefit.Benefit{month(2, 100, 0, false), month(0, 100, 0, false)}, day, []calendar.Month{first, first + 2}, false},
		{[]*benefit.Benefit{month(2, 100, 0, false)}, day - 1, nil, false}, // October has not ended
		{[]*benefit.Benefit{month(2, 100, 0, true)}, day - 1, nil, false},
		{[]*benefit.Benefit{month(0, 0, 0, false), month(1, -5, -9, false)}, day, nil, false},
		{[]*benefit.Benefit{month(0, -100, -200, true)}, day, nil, false}, // nothing was to come
	} {
		a := benefit.Await(x.months, x.asOf)
		assert.Equal(t, x.untold, a.Untold)
		assert.Equal(t, x.short, a.Short())
		assert.Equal(t, x.short || len(x.untold) > 0, a.Wanted())
	}
}

func TestBenefitsByCode(t *testing.T) {
	groups := benefit.ByCode([]benefit.Benefit{{Code: "V2", Month: 2}, {Code: "V1", Month: 9}, {Code: "V2", Month: 1}})
	assert.Len(t, groups, 2)
	assert.Equal(t, "V1", groups[0][0].Code)
	assert.Equal(t, []calendar.Month{1, 2}, []calendar.Month{groups[1][0].Month, groups[1][1].Month})
	assert.Empty(t, benefit.ByCode(nil))
}
