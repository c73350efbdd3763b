package assess_test

import (
	"context"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/web/webtest"
)

// Deciding and closing are the analyst's, of the whole; a lead writes to the own projects alone; nobody does anything without a token.
func TestDecisionsNeedTheirRole(t *testing.T) {
	h := webtest.New(t)
	paths := []string{"/publish", "/publish/waive", "/publish/unwaive", "/publish/reopen", "/explain", "/check/accept", "/check/unaccept",
		"/check/send",
		"/check/rules/set", "/check/rules/own", "/projects/A1/assess/set", "/projects/A1/assess/end"}
	fill := []string{"period", "2026-10", "reason", "x", "what", "x", "id", "1", "project", "A1", "rule", "no_baseline", "record", "",
		"until", "2026-12-31",
		"on", "overall", "status", "act", "name", "Mine", "severity", "error", "grade", "error", "expression", "cpi < 1", "text", "x",
		"limit", "1"}
	for _, path := range paths {
		for _, who := range []string{"lea", "exe"} {
			status, _, _ := h.Send(who, path, fill...)
			assert.Equal(t, 403, status, "%s as %s", path, who)
		}
		status, _, _ := h.Ask("ana", http.MethodPost, path, url.Values{"period": {"2026-10"}})
		assert.Equal(t, 403, status, "%s without a token", path)
		status, _, _ = h.Ask("", http.MethodPost, path, url.Values{"period": {"2026-10"}, "id": {"1"}})
		assert.Equal(t, 303, status, "%s signed out", path)
	}
	for _, path := range paths[:5] {
		status, _, _ := h.Send("nar", path, fill...)
		assert.Equal(t, 403, status, "%s as an analyst of a part", path)
	}
	for id, want := range map[string]int{"nonsense": 404, "no_baseline": 422, "long_lag": 303} {
		status, _, _ := h.Send("ana", "/check/rules/set", "id", id, "on", "1", "limit", "12")
		assert.Equal(t, want, status, id)
	}
	status, _, _ := h.Send("lea", "/projects/B1/explain", "overall", "x")
	assert.Equal(t, 404, status, "another's project")
	status, _, head := h.Send("lea", "/projects/A1/explain", "overall", "Mine.")
	assert.Equal(t, 303, status)
	assert.Contains(t, head.Get("Location"), "/projects/A1/explain")
	closings, err := h.Store.Closings(context.Background())
	require.NoError(t, err)
	assert.Empty(t, closings)
	overrides, err := h.Store.Overrides(context.Background())
	require.NoError(t, err)
	assert.Empty(t, overrides)
}

// The way of a period by plain forms: a text, what stands in the way let pass, closed, what is then refused, reopened and closed again.
func TestAPeriodByForms(t *testing.T) {
	h := webtest.New(t)
	month := "2026-10"
	day := calendar.On(2026, 10, 31).String()
	html := func(path string) string {
		status, body, _ := h.Ask("ana", http.MethodGet, path, nil)
		require.Equal(t, 200, status, path)
		return body
	}
	at := "?asof=" + day
	status, _, _ := h.Send("ana", "/explain"+at, "text", "The **whole** in a <i>sentence</i>.")
	require.Equal(t, 303, status)
	assert.Contains(t, html("/explain"+at), "<strong>whole</strong> in a &lt;i&gt;sentence&lt;/i&gt;.")
	status, body, _ := h.Send("ana", "/explain"+at, "text", "Over what was there.")
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "Over what was there.", "what was typed is kept")
	assert.Contains(t, body, "Somebody else wrote to this meanwhile")

	status, body, _ = h.Send("ana", "/publish"+at, "period", month)
	assert.Equal(t, 409, status)
	assert.Contains(t, body, "in the way of closing October 2026")
	for n := 0; ; n++ {
		require.Less(t, n, 200)
		body := html("/publish" + at)
		_, after, found := strings.Cut(body, `name="what" value="`)
		if !found {
			break
		}
		what, _, _ := strings.Cut(after, `"`)
		if n == 0 {
			status, body, _ := h.Send("ana", "/publish/waive"+at, "period", month, "what", what, "reason", " ")
			assert.Equal(t, 422, status, "a reason is wanted")
			assert.Contains(t, body, "why, in up to 2000 characters")
		}
		status, _, _ := h.Send("ana", "/publish/waive"+at, "period", month, "what", what, "reason", "known")
		require.Equal(t, 303, status, what)
	}
	status, _, _ = h.Send("ana", "/publish"+at, "period", month)
	require.Equal(t, 303, status)
	assert.Contains(t, html("/publish"+at), "October 2026 was closed on")
	for path, pairs := range map[string][]string{
		"/publish":                {"period", month},
		"/publish/waive":          {"period", month, "what", "x", "reason", "late"},
		"/explain":                {"text", "late"},
		"/projects/A1/explain":    {"overall", "late"},
		"/projects/A1/assess/set": {"on", "overall", "status", "act", "until", "2026-12-31", "reason", "late"},
	} {
		status, body, _ := h.Send("ana", path+at, pairs...)
		assert.Contains(t, []int{409, 422}, status, path)
		assert.Contains(t, body, "closed", path)
	}
	status, _, _ = h.Send("ana", "/publish/reopen"+at, "period", month, "reason", "a ledger was missing")
	require.Equal(t, 303, status)
	status, _, _ = h.Send("ana", "/publish"+at, "period", month)
	require.Equal(t, 303, status)
	body = html("/publish" + at)
	assert.Contains(t, body, "October 2026, issue 2 was closed on")
	assert.Contains(t, body, "a ledger was missing")
	closings, err := h.Store.Closings(context.Background())
	require.NoError(t, err)
	require.Len(t, closings, 2)
	assert.Equal(t, closings[0].Digest, closings[1].Digest)
}
