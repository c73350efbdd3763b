package app_test

import (
	"context"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/apptest"
	"turret/internal/app/audit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/app/lookout"
	"turret/internal/core/health"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/outbox"
	"turret/internal/record"
)

// veiled is an office whose lead Lea does not see costs: A1 is 40 % over its budget of 1,234, with a posting below zero, and a file with
// an amount of A1 and one of B1 was refused.
func veiled(t *testing.T) (o *app.Office, lea context.Context) {
	t.Helper()
	dir := t.TempDir()
	s, err := demotest.Create(apptest.Ctx, filepath.Join(dir, "v.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	now := apptest.At
	tick := func() time.Time { now = now.Add(time.Second); return now }
	o = app.NewOffice(s, tick, app.Parts{Reader: ingest.Reader{}, Outbox: outbox.In(filepath.Join(dir, "out"), "x@example.org")})
	apptest.Send(t, o, apptest.Sent{Kind: record.Structure, Period: apptest.October,
		Text: "code,name,level,parent\nPF,Portfolio,portfolio,\nA,A,programme,PF\nB,B,programme,PF\n"},
		apptest.Sent{Kind: record.CostCodes, Period: apptest.October, Text: "code,name\nC,Cost\n"},
		apptest.Sent{Kind: record.Projects, Period: apptest.October,
			Text: "code,name,parent,lead\nA1,First,A,Lea\nA2,Other,A,Lea\nB1,Second,B,Other\n"},
		apptest.Sent{Kind: record.Activities, Period: apptest.October,
			Text: "project,code,name,baseline_start,baseline_finish,start,finish,percent_complete\nA1,X,Dig,2026-09-01,2026-10-30,2026-09-01,2026-11-30,50\n"},
		apptest.Sent{Kind: record.Budget, Period: apptest.October,
			Text: "project,cost_code,amount,month\nA1,C,1234,2026-10\nA2,C,99999,2026-10\n"},
		apptest.Sent{Kind: record.Forecast, Period: apptest.October, Text: "project,cost_code,amount,month\nA1,C,1727.60,2026-11\n"},
		apptest.Sent{Kind: record.Actuals, Period: apptest.October, Text: "project,cost_code,date,amount\nA1,C,2026-10-05,-77.77\n"})
	account, err := o.Account.SaveAccount(apptest.Ctx, account.Account{Login: "lea", Name: "Lea", Email: "lea@example.org",
		Role: access.Lead, HideMoney: true,
		Active: true}, "")
	require.NoError(t, err)
	f, _, err := ingest.CSV("budget.csv", record.Budget,
		strings.NewReader("project,cost_code,amount,month\nA1,NONE,8888.88,2026-10\nB1,NONE,9999.99,2026-10\n"))
	require.NoError(t, err)
	_, err = o.Intake.Import(apptest.Ctx, []*kept.File{f}, intake.Origin{Period: apptest.October})
	require.ErrorIs(t, err, fault.ErrRefused)
	return o, access.As(context.Background(), account.Actor())
}

// What was wrong with a refused file quotes it, and so is told to those who may see the whole of it, or sent it.
func TestRefusalsQuoteNothingKept(t *testing.T) {
	o, lea := veiled(t)
	refusal := func(c context.Context) *intake.Refused {
		m, err := o.Gather.Matrix(c, apptest.October, apptest.Last)
		require.NoError(t, err)
		for _, row := range m.Rows {
			for i := range row.Slots {
				if row.Project.Code == "A1" && row.Slots[i].Kind == record.Budget {
					return row.Slots[i].Refusal
				}
			}
		}
		return nil
	}
	assert.Contains(t, refusal(apptest.Ctx).First, "NONE")
	scoped := access.As(context.Background(), &access.Actor{Login: "nar", Name: "Nar", Role: access.Analyst, Scopes: []string{"A"}})
	for _, c := range []context.Context{lea, scoped} {
		r := refusal(c)
		require.NotNil(t, r, "that it was refused is told")
		assert.Equal(t, []string{"", ""}, []string{r.First, r.File})
		assert.Empty(t, r.Projects)
	}
}

// Letters to a lead from whom costs are kept tell nothing of them: neither findings nor what was refused.
func TestLettersTellNoCosts(t *testing.T) {
	o, _ := veiled(t)
	a := apptest.Assessed(t, o, apptest.Last)
	r, err := o.Judge.SendFindings(apptest.Ctx, a, apptest.Open(t, a))
	require.NoError(t, err)
	reminded, err := o.Gather.Remind(apptest.Ctx, apptest.October, apptest.Last+30, nil)
	require.NoError(t, err)
	require.NotEmpty(t, append(r.Sent, reminded.Sent...))
	require.NotEmpty(t, reminded.Sent)
	for _, m := range append(r.Sent, reminded.Sent...) {
		for _, held := range []string{"77.77", "1,234", "8888", "8,888", "99,999", "NONE", "B1"} {
			assert.NotContains(t, m.Text, held)
		}
	}
	p, err := a.Project("A1")
	require.NoError(t, err)
	told := 0
	for _, f := range p.Checks.Findings {
		if f.Rule.Costs {
			told++
		}
	}
	assert.NotZero(t, told, "there is something to keep")
}

// Without costs, projects of one status stand by their codes: their order tells nothing of the money at stake.
func TestNoOrderTellsTheStake(t *testing.T) {
	o, lea := veiled(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Forecast, Period: apptest.October,
		Text: "project,cost_code,amount,month\nA2,C,200000,2026-11\n"})
	order := func(c context.Context) (codes []string) {
		a, err := o.Assess.Day(c, apptest.Last)
		require.NoError(t, err)
		l, err := lookout.Of(a, "", lookout.Filter{})
		require.NoError(t, err)
		for _, p := range l.Open {
			if p.Health.Overall == health.Act {
				codes = append(codes, p.Code)
			}
		}
		return codes
	}
	assert.Equal(t, []string{"A2", "A1"},
		order(access.As(context.Background(), &access.Actor{Role: access.Analyst, Scopes: []string{"A"}})),
		"the larger stake first")
	assert.Equal(t, []string{"A1", "A2"}, order(lea))
}

// Signing in does not wait for a load; it is in the trail once that is done.
func TestSigningInWaitsForNoLoad(t *testing.T) {
	s, o := apptest.Gate(t)
	a, err := o.Account.SaveAccount(apptest.Ctx, account.Account{Login: "kim", Name: "Kim", Role: access.Analyst, Active: true},
		"a password of Kim's")
	require.NoError(t, err)
	hold, began := make(chan struct{}), make(chan struct{})
	var loading sync.WaitGroup
	loading.Go(func() {
		_, err := s.Save(apptest.Ctx, kept.Batch{Check: func(kept.Reading) error { close(began); <-hold; return assert.AnError }})
		assert.ErrorIs(t, err, assert.AnError)
	})
	<-began
	in, err := o.Account.SignIn(apptest.Ctx, "kim", "a password of Kim's")
	require.NoError(t, err)
	require.NoError(t, o.Account.SignedIn(apptest.Ctx, in, "192.0.2.1"))
	acts := func() (n int) {
		list, err := o.Audit.List(apptest.Ctx, audit.Query{Act: "sign in"})
		require.NoError(t, err)
		return len(list)
	}
	assert.Zero(t, acts())
	close(hold)
	loading.Wait()
	o.Settle(t.Context())
	assert.Equal(t, 1, acts())
	assert.Equal(t, a.ID, in.ID)
}
