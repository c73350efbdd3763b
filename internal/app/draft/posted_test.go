package draft_test

import (
	"fmt"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/core/calendar"
	drafts "turret/internal/draft"
	"turret/internal/ingest"
	"turret/internal/record"
)

// What postings would do is found without writing them anywhere, and is what taking them into a copy says: in two currencies, over two
// months, with one that stands already, one that stands with another supplier, and on days that cut a month.
func TestPostingsAreTriedWithoutACopy(t *testing.T) {
	s, _ := apptest.Stored(t,
		apptest.Sent{Kind: record.Rates, Period: apptest.October, Text: "currency,month,rate,kind\nSEK,2026-10,0.0903,month\n" +
			"SEK,2026-09,0.0901,month\nSEK,2026-01,0.09,plan\n"},
		apptest.Sent{Kind: record.Budget, Period: apptest.October,
			Text: "project,cost_code,amount,month\nA,C,500,2026-10\nB,C,300,2026-10\n"},
		apptest.Sent{Kind: record.Actuals, Period: apptest.October, Text: "project,cost_code,date,amount,currency,document,supplier\n" +
			"A,C,2026-10-05,100,EUR,D1,S\nA,C,2026-10-06,50,EUR,D2,S\n"})
	o := app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{},
		Drafts: drafts.In(filepath.Join(t.TempDir(), "drafts"), time.Time{})})
	d := dropped(t, o, "bench", "actuals.csv", "project,cost_code,date,amount,currency,document,supplier\n"+
		"A,C,2026-10-05,100,EUR,D1,S\nA,C,2026-10-06,50,EUR,D2,T\nA,C,2026-10-20,7.77,SEK,D3,S\nB,C,2026-09-30,20,EUR,D4,S\nB,C,2026-10-31,1,EUR,,S\n")
	for day := calendar.On(2026, 9, 29); day <= calendar.On(2026, 11, 1); day++ {
		_, quick, err := o.Draft.Preview(apptest.Ctx, d.ID, day)
		require.NoError(t, err)
		slow, err := o.Draft.PreviewByCopy(apptest.Ctx, d.ID, day)
		require.NoError(t, err)
		assert.Equal(t, slow.Changes, quick.Changes, day)
		assert.Equal(t, slow.Totals, quick.Totals, day)
		assert.Equal(t, slow.Warnings, quick.Warnings, day)
	}
	c := preview(t, o, d.ID)
	got := map[string]string{}
	for _, x := range c.Totals {
		got[x.Code+" "+x.Key.String()] = x.Before + " to " + x.After
	}
	assert.Equal(t, "€150.00 to €300.70", got["A ac"], "100 + 50 + 7.77 kronor at 0.0903, which are 0.70")
	assert.Equal(t, "€0.00 to €21.00", got["B ac"])
	assert.Contains(t, fmt.Sprint(c.Warnings), "1 of 5 stand in the ledger already")
	assert.Len(t, apptest.Assessed(t, o, apptest.Last).Projects, 2)
	assert.EqualValues(t, 150_00, int64(apptest.Assessed(t, o, apptest.Last).ByCode["A"].Account.Actual), "nothing was written")
}

// The first ledger of a month begins its period, so that what has not come is late: what follows from that is found without a copy too.
func TestTheFirstLedgerOfAMonthIsTriedWithoutACopy(t *testing.T) {
	g := newGathering(t)
	for period, path := range map[string]string{"2026-11": "GL-extract-2026-11.csv", "2026-09": "GL-extract-2026-11.csv"} {
		d := g.receive("Finance", period, filepath.Join("../../../examples/november-2026/finance", path))
		for _, day := range []calendar.Date{d.Period.Last(), calendar.On(2026, 11, 30), calendar.On(2026, 11, 17)} {
			_, quick, err := g.office.Draft.Preview(g.ctx, d.ID, day)
			require.NoError(t, err)
			slow, err := g.office.Draft.PreviewByCopy(g.ctx, d.ID, day)
			require.NoError(t, err)
			require.NotEmpty(t, slow.Totals)
			assert.Equal(t, slow.Totals, quick.Totals, "%s on %s", period, day)
			assert.Equal(t, slow.Changes, quick.Changes)
		}
	}
}
