package webtest

import (
	"context"
	"io"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/demotest"
	"turret/internal/draft"
	"turret/internal/ingest"
	"turret/internal/outbox"
	"turret/internal/record"
	"turret/internal/session"
	"turret/internal/store"
	"turret/internal/web"
	"turret/internal/web/page"
)

// Patient lets a request take as long as the machine needs.
var Patient = fiber.TestConfig{}

// Cookies are of the administrator signed in at each server.
var Cookies = map[*fiber.App]string{}

// Server is a server over files, as of 31 October 2026, whose administrator is signed in.
func Server(t *testing.T, files map[record.Kind]string) *fiber.App {
	t.Helper()
	_, office := Filled(t, files, intake.Origin{})
	return Serve(t, office, page.Config{AsOf: func() calendar.Date { return calendar.On(2026, 10, 31) }}).App
}

// Filled makes a store and an office over it, with files taken in.
func Filled(t *testing.T, files map[record.Kind]string, from intake.Origin) (*store.Store, *app.Office) {
	t.Helper()
	ctx := access.As(context.Background(), access.Operator("a test"))
	s, err := demotest.Create(ctx, filepath.Join(t.TempDir(), "x.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	office := app.NewOffice(s, demotest.Now, Parts(t))
	var list []*kept.File
	for _, kind := range record.Kinds() {
		if text, ok := files[kind]; ok {
			list = append(list, read(t, kind, text))
		}
	}
	_, err = office.Intake.Import(ctx, list, from)
	require.NoError(t, err)
	return s, office
}

// read reads a file of CSV that has no problems.
func read(t *testing.T, kind record.Kind, text string) *kept.File {
	t.Helper()
	f, problems, err := ingest.CSV(string(kind)+".csv", kind, strings.NewReader(text))
	require.NoError(t, err)
	require.Empty(t, problems)
	return f
}

// Parts are what an office works with, in folders of the test.
func Parts(t testing.TB) app.Parts {
	dir := t.TempDir()
	return app.Parts{Reader: ingest.Reader{}, Drafts: draft.In(filepath.Join(dir, "drafts"), time.Time{}),
		Outbox: outbox.In(filepath.Join(dir, "outbox"), "turret@localhost")}
}

// Serve makes a server over an office, with an administrator signed in.
func Serve(t testing.TB, office *app.Office, config page.Config) *web.Server {
	t.Helper()
	ctx := access.As(context.Background(), access.Operator("a test"))
	var err error
	config.Office, config.Reports = office, Reports{}
	config.Sessions, err = session.Open(ctx, ":memory:", demotest.Now)
	require.NoError(t, err)
	t.Cleanup(func() { _ = config.Sessions.Close() })
	srv, err := web.New(config)
	require.NoError(t, err)
	admin, err := office.Account.SaveAccount(ctx, account.Account{Login: "admin", Name: "Admin", Role: access.Administrator,
		Active: true}, "")
	require.NoError(t, err)
	Cookies[srv.App], _ = SignedIn(t, srv, admin)
	return srv
}

// SignedIn begins a session and returns its cookie and the token that forms carry.
func SignedIn(t testing.TB, srv *web.Server, a *account.Account) (cookie, token string) {
	t.Helper()
	key, x, err := srv.Sessions.Begin(context.Background(), a.ID, "", "")
	require.NoError(t, err)
	return "turret=" + key, x.Token
}

// Get asks a server of Server for a page as its administrator.
func Get(t *testing.T, a *fiber.App, path string, header ...string) (int, string, http.Header) {
	t.Helper()
	r := httptest.NewRequest(http.MethodGet, path, nil)
	r.Host = "localhost"
	r.Header.Set("Cookie", Cookies[a])
	for i := 0; i+1 < len(header); i += 2 {
		r.Header.Set(header[i], header[i+1])
	}
	resp, err := a.Test(r, Patient)
	require.NoError(t, err)
	b, err := io.ReadAll(resp.Body)
	require.NoError(t, err)
	return resp.StatusCode, string(b), resp.Header
}
