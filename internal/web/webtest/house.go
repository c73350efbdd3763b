// Package webtest gives tests of pages a server to ask: a house with two programmes and a person of each role.
package webtest

import (
	"context"
	"net"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/web"
	"turret/internal/web/page"
)

// House is a server with two programmes and a person of each role: the lead leads A1, the executive sees programme A and no
// costs, the narrow analyst sees programme B.
type House struct {
	T      *testing.T
	Server *web.Server
	Office *app.Office
	Store  *store.Store
	Cookie map[string]string
	Token  map[string]string
}

// Files are what the house has taken in, as CSV by kind.
var Files = map[record.Kind]string{
	record.Structure: "code,name,level,parent\nPF,Portfolio,portfolio,\nA,Programme A,programme,PF\nB,Programme B,programme,PF\n",
	record.CostCodes: "code,name\nC,Cost\n",
	record.Projects:  "code,name,parent,lead,status\nA1,Alpha,A,Lea,open\nA2,Amber,A,Other,open\nB1,Beta,B,Other,open\n",
	record.Activities: "project,code,name,kind,baseline_finish,finish\nA1,M,Gate,milestone,2026-09-30,2026-11-30\n" +
		"B1,M,Gate,milestone,2026-09-30,2026-11-30\n",
	record.Budget:   "project,cost_code,amount,month\nA1,C,777123,2026-09\nB1,C,777456,2026-09\n",
	record.Forecast: "project,cost_code,amount,month\nA1,C,888321,2026-11\nB1,C,888654,2026-11\n",
	record.Statuses: "project,overall,commentary\nA1,on track,fine\nB1,watch,secret of Beta\n",
}

// New is a house whose people are signed in: lea leads A1, exe is the executive, ana the analyst of all, nar that of B, and admin.
func New(t *testing.T) *House {
	t.Helper()
	return Holding(t, Files, intake.Origin{Source: "the house"})
}

// Holding is a house of the same people that has taken in other files, with the same projects and programmes.
func Holding(t *testing.T, files map[record.Kind]string, from intake.Origin) *House {
	t.Helper()
	ctx := access.As(context.Background(), access.Operator("a test"))
	s, office := Filled(t, files, from)
	h := &House{T: t, Office: office, Store: s, Cookie: map[string]string{}, Token: map[string]string{}}
	h.Server = Serve(t, office, page.Config{AsOf: func() calendar.Date { return calendar.On(2026, 10, 31) }})
	for _, a := range []account.Account{{Login: "lea", Name: "Lea", Role: access.Lead}, {Login: "exe", Name: "Exe", Role: access.Executive,
		Scopes: []string{"A"}, HideMoney: true},
		{Login: "ana", Name: "Ana", Role: access.Analyst}, {Login: "nar", Name: "Nar", Role: access.Analyst, Scopes: []string{"B"}}} {
		a.Active = true
		saved, err := office.Account.SaveAccount(ctx, a, "")
		require.NoError(t, err)
		h.Cookie[a.Login], h.Token[a.Login] = SignedIn(t, h.Server, saved)
	}
	h.Cookie["admin"] = Cookies[h.Server.App]
	return h
}

// Listening serves a house on loopback.
func (h *House) Listening() string {
	h.T.Helper()
	l, err := (&net.ListenConfig{}).Listen(context.Background(), "tcp", "127.0.0.1:0")
	require.NoError(h.T, err)
	ctx, stop := context.WithCancel(context.Background())
	done := make(chan struct{})
	go func() { defer close(done); _ = h.Server.Listen(ctx, l) }()
	h.T.Cleanup(func() { stop(); <-done })
	return l.Addr().String()
}

// AccountOf is the account of a login.
func AccountOf(t *testing.T, h *House, login string) account.Account {
	t.Helper()
	list, err := h.Office.Account.People(Ctx())
	require.NoError(t, err)
	i := slices.IndexFunc(list, func(a account.Account) bool { return a.Login == login })
	require.GreaterOrEqual(t, i, 0)
	return list[i]
}

// Ctx is the context of an operator, who may do everything.
func Ctx() context.Context { return access.As(context.Background(), access.Operator("a test")) }

// Restarted is the house after its server was stopped and started: nothing is computed, sessions are as they were.
func Restarted(t *testing.T, h *House) *app.Office {
	t.Helper()
	h.Server.Settle()
	office := app.NewOffice(h.Store, demotest.Now, app.Parts{Reader: ingest.Reader{}})
	srv, err := web.New(page.Config{Office: office, Reports: Reports{}, Sessions: h.Server.Sessions, AsOf: h.Server.AsOf})
	require.NoError(t, err)
	h.Server = srv
	t.Cleanup(office.Assess.Settle)
	return office
}

// Take takes in a file of October, as CSV.
func (h *House) Take(kind record.Kind, text string) {
	h.T.Helper()
	_, err := h.Office.Intake.Import(Ctx(), []*kept.File{read(h.T, kind, text)},
		intake.Origin{Period: calendar.Months.Of(calendar.On(2026, 10, 1))})
	require.NoError(h.T, err)
}
