package place_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/web/webtest"
)

// Choosing a scope leads back to the page one came from, within one's own part of the portfolio, and never to another host.
func TestScopesLeadBackToThePage(t *testing.T) {
	h := webtest.New(t)
	page := h.Page("ana", "/places?at=/timeline%3Flevel=project&asof=2026-09-30")
	for _, href := range []string{`href="/timeline?asof=2026-09-30&amp;level=project&amp;scope=A"`,
		`href="/timeline?asof=2026-09-30&amp;level=project&amp;scope=B"`} {
		assert.Contains(t, page, href)
	}
	assert.Contains(t, page, "Amber")
	page = h.Page("nar", "/places?at=/timeline")
	assert.Contains(t, page, "Beta")
	assert.NotContains(t, page, "Amber", "beyond the scope")
	for _, at := range []string{"//evil.example/x", "https://evil.example/", "/%5Cevil.example"} {
		assert.NotContains(t, h.Page("ana", "/places?at="+at), "evil.example")
	}
}
