package benefit_test

import (
	"context"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/ingest"
	"turret/internal/outbox"
	"turret/internal/record"
)

// house is an office as of the end of October. Of A's fees 100 came of 300 that were told of, and nothing is told of October; A's boats
// came
// as planned; B is closed and owes two months; C is only proposed.
func house(t *testing.T) (*app.Office, *assess.Assessment) {
	t.Helper()
	s, _ := apptest.Stored(t,
		apptest.Sent{Kind: record.Projects, Text: "code,name,parent,status\nA,First,PF,open\nB,Second,PF,closed\nC,Third,PF,proposed\n"},
		apptest.Sent{Kind: record.Benefits, Period: apptest.October, Text: "project,code,name,month,planned,achieved,unit,owner\n" +
			"A,V,Fees,2026-08,100,100,,Eve\nA,V,Fees,2026-09,200,0,,Ann\nA,V,Fees,2026-10,200,,,Ann\nA,V,Fees,2026-11,200,,,Ann\n" +
			"A,W,Boats,2026-09,50,50,boats,Ann\nB,V,Tolls,2026-07,10,,boats,\nB,V,Tolls,2026-08,10,,boats,Bob\nC,V,Later,2026-07,10,,,Ann\n"})
	o := app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{},
		Outbox: outbox.In(filepath.Join(t.TempDir(), "out"), "turret@localhost")})
	return o, apptest.Assessed(t, o, apptest.Last)
}

// What has waited longest stands first: B's July before A's October. Its owner is the one that is named last.
func TestWhatIsAskedFor(t *testing.T) {
	o, a := house(t)
	list, err := o.Benefit.Await(apptest.Ctx, a, a.Projects)
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, []string{"B", "Tolls", "Bob"}, []string{list[0].Project.Code, list[0].Name, list[0].Owner})
	assert.Equal(t, "nothing is told of July 2026 and 1 month since", list[0].Says())
	assert.Equal(t, []string{"A", "Fees", "Ann"}, []string{list[1].Project.Code, list[1].Name, list[1].Owner})
	assert.Equal(t, "€100.00 came of €300.00 that were due; nothing is told of October 2026", list[1].Says())
	assert.Zero(t, list[1].Reminded)
}

// Each owner gets one letter; how often they were asked is counted by benefit. One from whom costs are kept reads no amount, and one who
// cannot be written to is told of.
func TestOwnersAreReminded(t *testing.T) {
	o, a := house(t)
	_, err := o.Account.SaveAccount(apptest.Ctx, account.Account{Login: "ann", Name: "Ann", Email: "ann@example.org",
		Role: access.Executive, HideMoney: true, Active: true}, "")
	require.NoError(t, err)
	done, err := o.Benefit.Remind(apptest.Ctx, a, a.Projects)
	require.NoError(t, err)
	require.Len(t, done.Sent, 1)
	assert.Equal(t, []string{"B (Bob)"}, done.Unwritten)
	assert.Equal(t, "What came of 1 benefit", done.Sent[0].Subject)
	assert.Contains(t, done.Sent[0].Text, "A First\n  - Fees: please tell what came.")
	assert.NotContains(t, done.Sent[0].Text, "€")
	done, err = o.Benefit.Remind(apptest.Ctx, a, a.Projects)
	require.NoError(t, err)
	assert.Contains(t, done.Sent[0].Text, "You were asked 1 time before.")
	list, err := o.Benefit.Await(apptest.Ctx, a, a.Projects)
	require.NoError(t, err)
	assert.Equal(t, 2, list[1].Reminded)
	assert.Equal(t, apptest.At, list[1].Last)
	assert.Zero(t, list[0].Reminded, "of Bob's nobody was told")

	lead := access.As(context.Background(), &access.Actor{Login: "ann", Name: "Ann", Role: access.Lead})
	_, err = o.Benefit.Remind(lead, a, a.Projects)
	require.ErrorIs(t, err, access.ErrForbidden)
	blind := access.As(context.Background(), &access.Actor{Login: "ann", Name: "Ann", Role: access.Executive, HideMoney: true})
	_, err = o.Benefit.Await(blind, a, a.Projects)
	require.ErrorIs(t, err, access.ErrForbidden)
}
