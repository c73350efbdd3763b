package assess_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/record"
)

// plain reads a ledger posting by posting, whoever would take sums.
type plain struct{ kept.Reading }

func (p plain) Ledger(ctx context.Context, projects []int64, _ func(int64, int64, *cost.MonthSum) bool,
	row func(int64, *cost.Posting)) error {
	return p.Reading.Ledger(ctx, projects, func(int64, int64, *cost.MonthSum) bool { return false }, row)
}

// A is in euros and finished on 15 September, B is partly in kronor and open; both have documents twice, within one load and over two.
// Whatever day is told, sums kept by month come to what the postings come to one by one: where the day cuts a month, where a project
// finished within one, in a currency that is converted row by row, and after a withdrawal.
func TestKeptSumsComeToTheirPostings(t *testing.T) {
	s, o := apptest.Stored(t,
		apptest.Sent{Kind: record.Rates, Period: apptest.October,
			Text: "currency,month,rate,kind\nSEK,2026-08,0.0899,month\nSEK,2026-09,0.0901,month\n" +
				"SEK,2026-10,0.0903,month\nSEK,2026-01,0.0907,plan\n"},
		apptest.Sent{Kind: record.Activities, Period: apptest.October,
			Text: "project,code,name,kind,baseline_start,baseline_finish,start,finish,actual_start,actual_finish,percent_complete\n" +
				"A,1,Build,activity,2026-08-03,2026-09-15,2026-08-03,2026-09-15,2026-08-03,2026-09-15,100\n" +
				"B,1,Build,activity,2026-08-03,2026-11-13,2026-08-03,2026-11-13,2026-08-03,,50\n"},
		apptest.Sent{Kind: record.Actuals, Period: apptest.October - 1,
			Text: "project,cost_code,date,amount,currency,cost_centre,document\n" +
				"A,C,2026-08-31,100.10,EUR,X,D1\nA,C,2026-09-14,1.00,EUR,X,D2\nA,C,2026-09-15,2.00,EUR,X,D3\nA,C,2026-09-16,4.00,EUR,X,D4\n" +
				"A,C,2026-09-16,4.00,EUR,Y,D4\nB,C,2026-08-31,10.05,SEK,X,D1\nB,C,2026-08-31,10.05,SEK,X,D5\nB,C,2026-09-30,7.77,EUR,X,\n"},
		apptest.Sent{Kind: record.Actuals, Period: apptest.October, Text: "project,cost_code,date,amount,currency,cost_centre,document\n" +
			"A,C,2026-09-14,1.00,EUR,X,D2\nA,C,2026-10-01,8.00,EUR,X,D6\nA,C,2026-10-31,-16.00,EUR,X,D7\nB,C,2026-10-15,33.33,EUR,X,D8\n" +
			"B,C,2026-10-15,10.05,SEK,X,D9\nB,C,2026-11-02,1.00,EUR,X,D10\n"},
		apptest.Sent{Kind: record.Actuals, Period: apptest.October,
			Text: "project,cost_code,date,amount,document\nA,C,2026-10-02,999,D1\n"})
	loads, err := s.Loads(apptest.Ctx)
	require.NoError(t, err)
	require.NoError(t, o.Load.Withdraw(apptest.Ctx, loads[0].ID, "sent in error"))
	for day := calendar.On(2026, 8, 29); day <= calendar.On(2026, 11, 4); day++ {
		quick, err := o.Assess.AssessFrom(apptest.Ctx, s, day, nil)
		require.NoError(t, err)
		slow, err := o.Assess.AssessFrom(apptest.Ctx, plain{s}, day, nil)
		require.NoError(t, err)
		for i, p := range slow.Projects {
			assert.Equal(t, p.Account, quick.Projects[i].Account, "%s on %s", p.Code, day)
			assert.Equal(t, p.Audit, quick.Projects[i].Audit, "%s on %s", p.Code, day)
		}
	}
	a := apptest.Assessed(t, o, apptest.Last)
	first, second := a.ByCode["A"], a.ByCode["B"]
	ledger := first.Audit.Ledger
	assert.EqualValues(t, 104_10, int64(first.Account.Actual), "100.10 + 1 + 2 + 4 + 4 + 1 + 8 - 16")
	assert.Equal(t, 4, ledger.AfterFinish, "twice on 16 September, twice in October")
	assert.Equal(t, apptest.Last, ledger.LastPosting)
	assert.Equal(t, 8, ledger.Documents)
	require.Len(t, ledger.Twice, 2)
	assert.Equal(t, []any{"D2", 2, int32(2)}, []any{ledger.Twice[0].Document, ledger.Twice[0].Rows, ledger.Twice[0].Ref.Row},
		"the later of two loads")
	assert.Equal(t, []any{"D4", 2, int32(6)}, []any{ledger.Twice[1].Document, ledger.Twice[1].Rows, ledger.Twice[1].Ref.Row})
	// 10.05 SEK at 0.0899 are 0.90 EUR (0.903), twice; 10.05 SEK at 0.0903 are 0.91 (0.9075); added up first they would be 1.81.
	assert.EqualValues(t, 90+90+777+33_33+91, int64(second.Account.Actual))
	assert.Empty(t, second.Audit.Ledger.Twice)
}
