package web_test

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web"
	"turret/internal/web/page"
	"turret/internal/web/webtest"
)

// Over HTTPS a browser is told to come by nothing else, and its cookie is taken from this very host alone. What is shown is kept by nobody
// in between.
func TestOverHTTPSNothingGoesAnotherWay(t *testing.T) {
	h := webtest.New(t)
	_, _, plain := h.Ask("ana", http.MethodGet, "/", nil)
	assert.Empty(t, plain.Get("Strict-Transport-Security"))
	for _, path := range []string{"/", "/assess", "/projects/A1"} {
		_, _, head := h.Ask("ana", http.MethodGet, path, nil)
		assert.Equal(t, "private, no-cache", head.Get("Cache-Control"), path)
	}
	srv, err := web.New(page.Config{Office: h.Office, Reports: webtest.Reports{}, Sessions: h.Server.Sessions, AsOf: h.Server.AsOf,
		Secure: true})
	require.NoError(t, err)
	enter := func(cookie string) (int, http.Header) {
		r := httptest.NewRequest(http.MethodGet, "/me", nil)
		r.Host = "localhost"
		r.Header.Set("Cookie", cookie)
		resp, err := srv.App.Test(r, webtest.Patient)
		require.NoError(t, err)
		require.NoError(t, resp.Body.Close())
		return resp.StatusCode, resp.Header
	}
	key := h.Cookie["ana"]
	status, head := enter(key)
	assert.Equal(t, http.StatusSeeOther, status, "a cookie that any host beside this one could have set")
	assert.Equal(t, "max-age=31536000", head.Get("Strict-Transport-Security"))
	status, _ = enter(strings.Replace(key, "turret=", "__Host-turret=", 1))
	assert.Equal(t, http.StatusOK, status)
}
