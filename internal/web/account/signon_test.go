package account_test

import (
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/audit"
	"turret/internal/signon"
	"turret/internal/simulate"
	"turret/internal/web/webtest"
)

// comer is a browser at the house and at its identity provider.
type comer struct {
	t      *testing.T
	h      *webtest.House
	jar    map[string]string
	at     *simulate.SignOn
	client *http.Client
}

// entrance is the house with an identity provider, at which ana's address is ana@example.org.
func entrance(t *testing.T) *comer {
	t.Helper()
	h := webtest.New(t)
	ctx := access.As(t.Context(), access.Operator("a test"))
	for login, email := range map[string]string{"ana": "Ana@Example.org", "lea": "two@example.org", "exe": "two@example.org"} {
		a, err := h.Office.Account.Entrant(ctx, login)
		require.NoError(t, err)
		a.Email = email
		_, err = h.Office.Account.SaveAccount(ctx, *a, "")
		require.NoError(t, err)
	}
	provider := &simulate.SignOn{Now: time.Now, Client: "turret", Secret: "hush", People: []string{"ana@example.org"}}
	server := httptest.NewServer(provider.Handler())
	t.Cleanup(server.Close)
	provider.Issuer = server.URL
	h.Server.SignOn = &signon.Provider{Issuer: server.URL, Client: "turret", Secret: "hush", Label: "the staff register",
		Back: "http://localhost/sign-in/back"}
	client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	return &comer{t: t, h: h, jar: map[string]string{}, at: provider, client: client}
}

// house asks the house with the cookies that it gave.
func (c *comer) house(path string) (int, string, string) {
	c.t.Helper()
	r := httptest.NewRequest(http.MethodGet, path, nil)
	r.Host = "localhost"
	for name, value := range c.jar {
		r.AddCookie(&http.Cookie{Name: name, Value: value})
	}
	resp, err := c.h.Server.App.Test(r, webtest.Patient)
	require.NoError(c.t, err)
	defer resp.Body.Close()
	for _, k := range resp.Cookies() {
		if c.jar[k.Name] = k.Value; k.Value == "" {
			delete(c.jar, k.Name)
		}
		assert.True(c.t, k.HttpOnly, k.Name)
	}
	b, err := io.ReadAll(resp.Body)
	require.NoError(c.t, err)
	return resp.StatusCode, string(b), resp.Header.Get("Location")
}

// provider has somebody choose who they are, and returns where they are sent.
func (c *comer) provider(address, as string) *url.URL {
	c.t.Helper()
	r, err := http.NewRequestWithContext(c.t.Context(), http.MethodGet, address+"&as="+url.QueryEscape(as), nil)
	require.NoError(c.t, err)
	resp, err := c.client.Do(r)
	require.NoError(c.t, err)
	defer resp.Body.Close()
	back, err := url.Parse(resp.Header.Get("Location"))
	require.NoError(c.t, err)
	require.Equal(c.t, "/sign-in/back", back.Path)
	return back
}

// comes signs somebody in, and returns the last answer of the house.
func (c *comer) comes(as string) (int, string, string) {
	c.t.Helper()
	_, _, to := c.house("/sign-in/with?to=/assess")
	return c.house(c.provider(to, as).RequestURI())
}

// Whoever the provider vouches for comes in as the account of that address, where they wanted to go.
func TestWhomTheProviderVouchesForComesIn(t *testing.T) {
	c := entrance(t)
	_, page, _ := c.house("/sign-in?to=/assess")
	assert.Contains(t, page, "Sign in with the staff register")
	status, body, to := c.comes("ana@example.org")
	assert.Equal(t, []any{http.StatusSeeOther, "/assess"}, []any{status, to}, body)
	_, page, _ = c.house("/me")
	assert.Contains(t, page, "Ana")
	trail, err := c.h.Office.Audit.List(access.As(t.Context(), access.Operator("a test")), audit.Query{Act: "sign in"})
	require.NoError(t, err)
	require.NotEmpty(t, trail)
	assert.Equal(t, "Ana", trail[0].Who)
}

// Nobody comes in whom the provider does not vouch for, who has no account of their own, or whose answer is not of this sign-in.
func TestWhoIsNotVouchedForStaysOut(t *testing.T) {
	stays := func(c *comer, status int, body, says string) {
		t.Helper()
		assert.Equal(t, http.StatusUnprocessableEntity, status)
		assert.Contains(t, body, says)
		_, _, to := c.house("/me")
		assert.Contains(t, to, "/sign-in", "not signed in")
	}
	for as, says := range map[string]string{"eve@example.org": "Nobody here has the address “eve@example.org”",
		"two@example.org": "Nobody here has the address"} {
		c := entrance(t)
		status, body, _ := c.comes(as)
		stays(c, status, body, says)
	}
	c := entrance(t)
	c.at.Unverified = true
	status, body, _ := c.comes("ana@example.org")
	stays(c, status, body, "Nobody here has the address")

	c = entrance(t)
	c.at.Nonce = "of another sign-in"
	status, body, _ = c.comes("ana@example.org")
	stays(c, status, body, "did not say who you are")

	c = entrance(t)
	c.at.Secret = "another"
	status, body, _ = c.comes("ana@example.org")
	stays(c, status, body, "did not say who you are")

	c = entrance(t) // an answer that was meant for another browser
	_, _, to := c.house("/sign-in/with")
	back := c.provider(to, "ana@example.org")
	c.jar = map[string]string{}
	status, body, _ = c.house(back.RequestURI())
	stays(c, status, body, "was begun elsewhere")

	c = entrance(t) // an answer that is given twice
	_, _, to = c.house("/sign-in/with")
	back = c.provider(to, "ana@example.org")
	status, _, _ = c.house(back.RequestURI())
	assert.Equal(t, http.StatusSeeOther, status)
	delete(c.jar, "turret")
	status, body, _ = c.house(back.RequestURI())
	stays(c, status, body, "was begun elsewhere")

	c = entrance(t)
	_, _, to = c.house("/sign-in/with")
	status, body, _ = c.house("/sign-in/back?error=access_denied&state=" + stateOf(t, to))
	stays(c, status, body, "did not let you in: “access_denied”")

	c = entrance(t)
	c.h.Server.SignOn = &signon.Provider{Issuer: "http://127.0.0.1:1", Client: "turret", Label: "the staff register"}
	status, body, _ = c.house("/sign-in/with")
	stays(c, status, body, "The staff register cannot be reached")

	c = entrance(t)
	c.h.Server.SignOn = nil
	status, _, _ = c.house("/sign-in/with")
	assert.Equal(t, http.StatusNotFound, status)
	status, _, _ = c.house("/sign-in/back?state=x")
	assert.Equal(t, http.StatusNotFound, status)
}

func stateOf(t *testing.T, address string) string {
	t.Helper()
	at, err := url.Parse(address)
	require.NoError(t, err)
	return at.Query().Get("state")
}

// An address in a sign-in leads nowhere else afterwards.
func TestAfterSigningInOneStaysHere(t *testing.T) {
	c := entrance(t)
	_, _, to := c.house("/sign-in/with?to=https://elsewhere.example")
	_, _, to = c.house(c.provider(to, "ana@example.org").RequestURI())
	assert.Equal(t, "/", to)
}
