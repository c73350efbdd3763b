package web_test

import (
	"encoding/base64"
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/record"
	"turret/internal/web/webtest"
)

// What an act did is told on the next page and no further; undoing it is a form of ours, whatever the cookie says.
func TestAnActIsToldOnceAndCanBeUndone(t *testing.T) {
	h := webtest.New(t)
	status, _, head := h.Ask("ana", http.MethodPost, "/gather/expect?asof=2026-10-31", url.Values{"_csrf": {h.Token["ana"]},
		"project": {"A1"}, "kind": {string(record.Budget)}, "period": {"2026-10"}, "expected": {"no"}})
	require.Equal(t, 303, status)
	assert.Contains(t, webtest.ToldBy(t, head), "Budget of A1 is no longer expected")
	var cookie string
	for _, c := range (&http.Response{Header: head}).Cookies() {
		if c.Name == "turret-told" {
			cookie = c.Name + "=" + c.Value
		}
	}
	with := h.Cookie["ana"]
	read := func(told string) (string, http.Header) {
		h.Cookie["ana"] = with + "; " + told
		_, body, head := h.Ask("ana", http.MethodGet, "/gather?asof=2026-10-31", nil)
		h.Cookie["ana"] = with
		return body, head
	}
	body, head := read(cookie)
	assert.Contains(t, body, "Budget of A1 is no longer expected")
	assert.Contains(t, body, `action="/gather/expect?asof=2026-10-31"`)
	assert.Contains(t, body, `name="expected" value="yes"`)
	gone := false
	for _, c := range (&http.Response{Header: head}).Cookies() {
		gone = gone || c.Name == "turret-told" && c.Value == ""
	}
	assert.True(t, gone, "the page takes it away")

	for _, hostile := range []string{`{"t":"<script>x</script>","u":"//evil.example/x"}`,
		`{"t":"<script>x</script>","u":"https://evil.example"}`,
		`{"t":"<script>x</script>","u":"/\\evil.example"}`} {
		body, _ = read("turret-told=" + base64.RawURLEncoding.EncodeToString([]byte(hostile)))
		assert.NotContains(t, body, "<script>x")
		assert.NotContains(t, body, "evil.example")
	}
	body, _ = read("turret-told=%%%not-base64")
	assert.NotContains(t, body, "answered")
}
