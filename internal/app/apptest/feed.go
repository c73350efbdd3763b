package apptest

import (
	"context"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	appfeed "turret/internal/app/feed"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/demotest"
	"turret/internal/feed"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/simulate"
	"turret/internal/store"
)

// Connected is the demonstration with the three stand-ins behind it.
type Connected struct {
	T       *testing.T
	Ctx     context.Context
	Office  *app.Office
	Store   *store.Store
	Address string
	Client  *feed.Client
}

// Connect is the demonstration with the systems that ship with it standing in for real ones.
func Connect(t *testing.T) *Connected {
	t.Helper()
	ctx := access.As(context.Background(), access.Operator("a test"))
	s := demotest.Store(t)
	systems, err := simulate.New(calendar.On(2026, 11, 1).Month())
	require.NoError(t, err)
	server := httptest.NewServer(systems.Handler())
	t.Cleanup(server.Close)
	return &Connected{t, ctx, app.NewOffice(s, demotest.Now, app.Parts{Reader: ingest.Reader{}}), s, server.URL,
		&feed.Client{Typed: ingest.Reader{}.Typed, HTTP: server.Client(), Wait: time.Millisecond}}
}

// Run draws from a stand-in in a mood, as a feed of that name.
func (c *Connected) Run(kind, mood string) (*appfeed.Run, error) {
	c.T.Helper()
	require.NoError(c.T, c.Office.Feed.Save(c.Ctx, setting.FeedSetting{Name: kind, Kind: kind, Address: c.Address + "/" + kind + mood},
		false))
	return c.Office.Feed.Run(c.Ctx, c.Client, kind)
}

// Ledger counts the postings that stand.
func (c *Connected) Ledger() int {
	c.T.Helper()
	f, err := c.Store.Rows(c.Ctx, record.Actuals, kept.Selection{})
	require.NoError(c.T, err)
	return f.Len()
}

// Role is the role of somebody of the register of people.
func (c *Connected) Role(person string) string {
	c.T.Helper()
	m, err := c.Store.Masters(c.Ctx)
	require.NoError(c.T, err)
	for i := range m.People {
		if m.People[i].Code == person {
			return m.People[i].Role
		}
	}
	return ""
}
