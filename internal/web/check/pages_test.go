package check_test

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

// A finding is accepted with a reason until a day by an analyst, counts no longer, and does again once that is taken back.
func TestAFindingIsAcceptedForATime(t *testing.T) {
	h := webtest.New(t)
	page := h.Page("ana", "/check")
	assert.Contains(t, page, "No activity has a baseline finish")
	assert.Regexp(t, `1 error\b.*2 warnings\b.*2 notices\b`, page)
	assert.NotContains(t, h.Page("nar", "/check"), "Amber", "of programme A")

	finding := []string{"project", "A2", "rule", "no_baseline", "record", "", "until", "2026-11-30"}
	accept := func(who string, status int, more ...string) string {
		return h.Do(who, "/check/accept?asof=2026-10-31", status, append(finding, more...)...)
	}
	assert.Contains(t, accept("ana", 422, "reason", " "), `role="alert"`, "a reason is wanted")
	assert.Contains(t, accept("ana", 422, "reason", "x", "until", "soon"), "a day as YYYY-MM-DD")
	accept("exe", 403, "reason", "x")
	accept("nar", 404, "reason", "x")
	accept("ana", 303, "reason", "its <b>plan</b> comes")
	page = h.Page("ana", "/check")
	assert.Regexp(t, `\b0 errors\b.*2 warnings\b.*2 notices\b`, page, "it is among what was accepted")
	assert.Contains(t, page, "its &lt;b&gt;plan&lt;/b&gt; comes")
	id := regexp.MustCompile(`name="id" value="(\d+)"`).FindStringSubmatch(page)
	require.NotNil(t, id, "a form that takes it back")
	h.Do("ana", "/check/unaccept?asof=2026-10-31", 303, "project", "A2", "id", id[1])
	assert.Regexp(t, `\b1 error\b.*2 warnings\b`, h.Page("ana", "/check"))
}
