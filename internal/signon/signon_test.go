package signon

import (
	"context"
	"net/http"
	"net/http/httptest"
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/account"
	"turret/internal/simulate"
)

func provided(t *testing.T) (*Provider, *simulate.SignOn) {
	t.Helper()
	stand := &simulate.SignOn{Now: time.Now, Client: "turret", Secret: "hush"}
	server := httptest.NewServer(stand.Handler())
	t.Cleanup(server.Close)
	stand.Issuer = server.URL
	return &Provider{Issuer: server.URL, Client: "turret", Secret: "hush", Back: "http://here/sign-in/back", Label: "X"}, stand
}

// coded is the code that somebody comes back with.
func coded(t *testing.T, p *Provider, nonce, verifier string) string {
	t.Helper()
	to, err := p.Ask(context.Background(), "the state", nonce, verifier)
	require.NoError(t, err)
	client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	r, err := http.NewRequestWithContext(t.Context(), http.MethodGet, to+"&as=ana@example.org", nil)
	require.NoError(t, err)
	resp, err := client.Do(r)
	require.NoError(t, err)
	require.NoError(t, resp.Body.Close())
	back, err := url.Parse(resp.Header.Get("Location"))
	require.NoError(t, err)
	assert.Equal(t, "here", back.Host)
	assert.Equal(t, "the state", back.Query().Get("state"))
	return back.Query().Get("code")
}

const verifier = "a-secret-of-forty-three-letters-and-a-few-more-of-them"

func TestACodeIsAnsweredWithWhoCame(t *testing.T) {
	p, stand := provided(t)
	code := coded(t, p, "n1", verifier)
	who, err := p.Answer(context.Background(), code, "n1", verifier)
	require.NoError(t, err)
	assert.Equal(t, &account.Identity{Email: "ana@example.org", Verified: true}, who)
	_, err = p.Answer(context.Background(), code, "n1", verifier)
	assert.ErrorIs(t, err, ErrProvider, "a code is taken once")
	stand.Unverified = true
	who, err = p.Answer(context.Background(), coded(t, p, "n2", verifier), "n2", verifier)
	require.NoError(t, err)
	assert.False(t, who.Verified)
}

// What was meant for another sign-in, client, or provider is not believed.
func TestAnswersThatAreNotForThisSignIn(t *testing.T) {
	p, _ := provided(t)
	_, err := p.Answer(context.Background(), coded(t, p, "n1", verifier), "n2", verifier)
	assert.ErrorIs(t, err, ErrProvider, "another nonce")
	_, err = p.Answer(context.Background(), coded(t, p, "n1", verifier), "n1", verifier+"x")
	assert.ErrorIs(t, err, ErrProvider, "another secret")
	other := &Provider{Issuer: p.Issuer + "/", Client: "turret"}
	_, err = other.Ask(context.Background(), "s", "n", verifier)
	assert.ErrorIs(t, err, ErrProvider, "a provider of another name")
	gone := &Provider{Issuer: "http://127.0.0.1:1"}
	_, err = gone.Ask(context.Background(), "s", "n", verifier)
	assert.ErrorIs(t, err, ErrProvider)
}
