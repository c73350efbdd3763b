package check_test

import (
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/web/webtest"
)

// Two people set the limit of a check at once: the second is told and changes nothing; one who only switches it off leaves the limit that
// the other set.
func TestTwoPeopleAtOneLimit(t *testing.T) {
	h := webtest.New(t)
	const at, id = "/check/rules/set", "long_duration"
	set := func(was, limit, on string) http.Header {
		status, _, head := h.Ask("ana", http.MethodPost, at, url.Values{"_csrf": {h.Token["ana"]}, "id": {id}, "was": {was},
			"limit": {limit}, "on": {on}})
		require.Equal(t, 303, status)
		return head
	}
	stands := func() (float64, bool) {
		s, err := h.Office.Setting.Get(apptest.Ctx)
		require.NoError(t, err)
		return s.CheckLimits[id], len(s.ChecksOff) == 0
	}
	const shown = `{"limit":"44","on":"1"}`
	assert.Contains(t, h.Page("ana", "/check/rules"), `name="was" value="{&#34;limit&#34;:&#34;44&#34;,&#34;on&#34;:&#34;1&#34;}"`)
	set(shown, "30", "1")
	head := set(shown, "60", "1")
	assert.Contains(t, webtest.ToldBy(t, head), "yours “60”, theirs “30”. Set it again to put yours in its place.")
	limit, on := stands()
	assert.Equal(t, 30.0, limit)
	assert.True(t, on)
	set(shown, "44", "")
	limit, on = stands()
	assert.Equal(t, 30.0, limit, "only the switch was touched")
	assert.False(t, on)
	set(`{"limit":"30","on":""}`, "60", "")
	limit, on = stands()
	assert.Equal(t, 60.0, limit)
	assert.False(t, on)
}
