package web_test

import (
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

var links = regexp.MustCompile(`href="(/[^"]*)"`)

// Every address that the pages offer is walked, each template executed, and no text of a file becomes markup.
func TestEveryLinkLeadsSomewhere(t *testing.T) {
	a := webtest.Server(t, webtest.Hostile)
	seen := map[string]bool{}
	todo := []string{"/", "/projects", "/find?q=sent"}
	for len(todo) > 0 && len(seen) < 700 {
		path := todo[0]
		todo = todo[1:]
		if seen[path] || strings.HasPrefix(path, "/lookout.csv") {
			continue
		}
		seen[path] = true
		code, body, _ := webtest.Get(t, a, path)
		assert.Equal(t, 200, code, path)
		if strings.HasPrefix(path, "/assets/") || strings.HasPrefix(path, "/pack") {
			continue
		}
		for _, bad := range []string{"<script>alert", "<script>w", "<script>m", "<script>d", "<script>c", "<script>s", "<script>x",
			"<i>PF", `" onload`, "ZgotmplZ", "style="} {
			assert.NotContains(t, body, bad, path)
		}
		for _, m := range links.FindAllStringSubmatch(body, -1) {
			todo = append(todo, strings.ReplaceAll(m[1], "&amp;", "&"))
		}
	}
	assert.Greater(t, len(seen), 60)
	assert.True(t, seen["/projects/..%2Fx%3Fa=1&b%232"], "a code that looks like a path has its page")
}

func TestMarginAloneForHtmx(t *testing.T) {
	a := webtest.Server(t, webtest.Hostile)
	_, body, h := webtest.Get(t, a, "/projects/P?trace=ac", "HX-Request", "true", "HX-Target", "margin")
	assert.NotContains(t, body, "<html")
	assert.Contains(t, body, "€900.00")
	assert.Contains(t, body, "actuals.csv, row 2")
	assert.Contains(t, body, "78 more rows")
	assert.Contains(t, h.Get("Vary"), "HX-Request")
	_, body, _ = webtest.Get(t, a, "/projects/P?trace=ac&at=0", "HX-Request", "true", "HX-Target", "margin")
	assert.Contains(t, body, "actuals.csv, row 91")
	_, body, _ = webtest.Get(t, a, "/projects/P", "HX-Request", "true", "HX-Target", "margin")
	assert.Empty(t, strings.TrimSpace(body), "closing empties the margin")
}

func TestErrorsAreOurOwnAndTellNothingInside(t *testing.T) {
	a := webtest.Server(t, webtest.Hostile)
	for path, want := range map[string]int{"/nowhere": 404, "/projects/NONE": 404, "/?scope=NONE": 404, "/?sort=nonsense": 404,
		"/?status=nonsense": 404, "/projects/P?trace=nonsense": 404, "/?asof=2026-02-30": 400, "/?%zz": 400, "/lookout.csv": 500} {
		code, body, _ := webtest.Get(t, a, path)
		assert.Equal(t, want, code, path)
		assert.Contains(t, body, "To the Lookout", path)
		assert.NotContains(t, body, "secret", path)
	}
	r := httptest.NewRequest(http.MethodPost, "/", nil)
	resp, err := a.Test(r, webtest.Patient)
	require.NoError(t, err)
	assert.Equal(t, 405, resp.StatusCode)
}

func TestHeaders(t *testing.T) {
	a := webtest.Server(t, nil)
	_, body, h := webtest.Get(t, a, "/")
	assert.Contains(t, body, "There are no projects yet.")
	policy := h.Get("Content-Security-Policy")
	assert.Contains(t, policy, "script-src 'self';")
	assert.NotContains(t, policy, "unsafe")
	assert.Equal(t, "nosniff", h.Get("X-Content-Type-Options"))
	style := regexp.MustCompile(`/assets/turret-[0-9a-f]+\.css`).FindString(body)
	code, _, h := webtest.Get(t, a, style)
	assert.Equal(t, 200, code)
	assert.Contains(t, h.Get("Cache-Control"), "immutable")
}
