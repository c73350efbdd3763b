package feed_test

import (
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

func TestFeedForm(t *testing.T) {
	h := webtest.New(t)
	q := webtest.Fields(t, h.Page("admin", "/feeds"), "/feeds")
	for name, v := range map[string]string{"name": "ledger", "kind": "ledger", "address": "http://127.0.0.1:1/ledger", "every": "24"} {
		q.Set(name, v)
	}
	status, _, _ := h.Ask("admin", http.MethodPost, "/feeds", q)
	require.Equal(t, 303, status)
	assert.Contains(t, h.Page("ana", "/feeds"), "24 hours")
	assert.Contains(t, h.Page("ana", "/feeds/ledger"), "It has not run yet.")
	q.Set("address", "javascript:alert(1)")
	status, body, _ := h.Ask("admin", http.MethodPost, "/feeds", q)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "an address such as")
	status, _, _ = h.Ask("ana", http.MethodPost, "/feeds", url.Values{"_csrf": {h.Token["ana"]}, "name": {"ledger"}, "remove": {"1"}})
	assert.Equal(t, 403, status, "analysts run feeds, administrators connect them")
}
