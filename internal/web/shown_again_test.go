package web_test

import (
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/lookout"
	"turret/internal/web/webtest"
)

const fromKept = "These figures were kept when Turret was stopped"

// The first page after a start is there before anything is computed, for whom and where it was shown, and no longer once any of what it
// hangs on has changed.
func TestTheFirstPageAfterAStartIsThatOfBefore(t *testing.T) {
	h := webtest.New(t)
	before, lead := h.Page("ana", "/"), h.Page("lea", "/?scope=A")
	office := webtest.Restarted(t, h)
	shown := h.Page("ana", "/")
	assert.Contains(t, shown, fromKept)
	assert.Contains(t, shown, `data-token="token"`, "with the token of the session")
	assert.Contains(t, shown, "/computing?asof=2026-10-31&amp;kept=1")
	assert.Contains(t, shown, "/projects/A1")
	assert.NotContains(t, h.Page("nar", "/"), fromKept, "who had not seen it")
	office.Assess.Settle()
	assert.Equal(t, before, h.Page("ana", "/"), "once it is computed it is made anew")

	webtest.Restarted(t, h)
	assert.Contains(t, h.Page("lea", "/?scope=A"), fromKept)
	assert.NotEmpty(t, lead)
	assert.NotContains(t, h.Page("lea", "/?scope=A&sort=project"), fromKept, "at another address")

	webtest.Restarted(t, h)
	q := webtest.Fields(t, h.Page("admin", "/setup/settings"), "/setup/settings")
	q.Set("lookahead", "7")
	status, body, _ := h.Ask("admin", http.MethodPost, "/setup/settings", q)
	require.Less(t, status, 400, body)
	office = webtest.Restarted(t, h)
	assert.NotContains(t, h.Page("ana", "/"), fromKept, "after a setting was changed")

	a, err := office.Account.Entrant(access.As(t.Context(), access.Operator("a test")), "ana")
	require.NoError(t, err)
	h.Server.Settle()
	a.Scopes = []string{"B"}
	_, err = office.Account.SaveAccount(access.As(t.Context(), access.Operator("a test")), *a, "")
	require.NoError(t, err)
	webtest.Restarted(t, h)
	assert.NotContains(t, h.Page("ana", "/"), fromKept, "after rights were changed")
}

// What is arranged anew is shown as it is arranged, though no figure changed; what is filtered is asked for anew.
func TestAPageIsKeptAsItIsArranged(t *testing.T) {
	h := webtest.New(t)
	assert.Contains(t, h.Page("ana", "/"), "Sighting plot")
	a, err := h.Office.Account.Entrant(access.As(t.Context(), access.Operator("a test")), "ana")
	require.NoError(t, err)
	require.NoError(t, h.Office.Lookout.SavePanels(access.As(t.Context(), a.Actor()), []lookout.Panel{{Kind: "attention", Wide: "whole"}}))
	assert.NotContains(t, h.Page("ana", "/"), "Sighting plot")
	h.Page("ana", "/?status=act")
	webtest.Restarted(t, h)
	shown := h.Page("ana", "/")
	assert.Contains(t, shown, fromKept)
	assert.NotContains(t, shown, "Sighting plot")
	webtest.Restarted(t, h)
	assert.NotContains(t, h.Page("ana", "/?status=act"), fromKept)
}

// A page that would wait long says how far its figures are, and comes by itself; nothing is computed twice for it.
func TestAPageThatWouldWaitSaysHowFarItIs(t *testing.T) {
	h := webtest.New(t)
	office := webtest.Restarted(t, h)
	h.Server.Patience = 1
	status, body, head := h.Ask("ana", http.MethodGet, "/projects/A1", nil)
	assert.Equal(t, http.StatusServiceUnavailable, status)
	assert.Contains(t, body, "The figures as of 31 Oct 2026 are being computed.")
	assert.Contains(t, body, `hx-get="/computing?asof=2026-10-31"`)
	assert.Equal(t, "2", head.Get("Retry-After"))
	assert.NotEmpty(t, head.Get("Refresh"), "for browsers without scripts")
	office.Assess.Settle()
	require.Eventually(t, func() bool {
		status, _, _ := h.Ask("ana", http.MethodGet, "/projects/A1", nil)
		return status == http.StatusOK
	}, time.Minute, 5*time.Millisecond)
	status, body, head = h.Ask("ana", http.MethodGet, "/computing?asof=2026-10-31", nil)
	assert.Equal(t, []any{http.StatusOK, "", "true"}, []any{status, body, head.Get("HX-Refresh")}, "the page that waits comes again")
	status, _, head = h.Ask("ana", http.MethodGet, "/computing?asof=2026-10-31&kept=1", nil)
	assert.Equal(t, http.StatusOK, status)
	assert.Empty(t, head.Get("HX-Refresh"), "a page of kept figures stays as it is")
	status, _, _ = h.Ask("", http.MethodGet, "/computing?asof=2026-10-31", nil)
	assert.Equal(t, http.StatusSeeOther, status, "nobody signed in")
}
