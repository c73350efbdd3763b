package timeline_test

import (
	"fmt"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

func TestTheCalendarPageShowsWhatIsAsked(t *testing.T) {
	h := webtest.Linked(t)
	html := h.Page("ana", "/timeline/calendar?day=2026-11-06")
	assert.Contains(t, html, "A1 Gate")
	assert.Contains(t, html, "November 2026")
	assert.NotContains(t, h.Page("ana", "/timeline/calendar?day=2026-11-06&kind=holiday"), "A1 Gate")
	assert.NotContains(t, h.Page("ana", "/timeline/calendar?day=2026-12-06"), "A1 Gate", "another month")
	assert.Contains(t, h.Page("ana", "/timeline/calendar?view=quarter&day=2026-12-06"), "A1 Gate")
	assert.Contains(t, h.Page("ana", "/timeline/calendar?view=week&day=2026-11-04"), "2 Nov 2026 to 8 Nov 2026")
	for _, link := range regexp.MustCompile(`href="(/timeline/calendar[^"]*)"`).FindAllStringSubmatch(html, -1) {
		status, _, _ := h.Ask("ana", "GET", strings.ReplaceAll(link[1], "&amp;", "&"), nil)
		assert.Equal(t, 200, status, link[1])
	}
}

// A rehearsal by forms alone: supposed, kept, compared, put away; by another it cannot be put away.
func TestRehearsalByForms(t *testing.T) {
	h := webtest.Linked(t)
	status, _, head := h.Ask("ana", "GET", "/timeline/rehearsal?add=1&activity=A1+W&shift=30&asof=2026-10-31", nil)
	require.Equal(t, 303, status)
	address := head.Get("Location")
	html := h.Page("ana", address)
	assert.Contains(t, html, "later by 30 working days")
	assert.Contains(t, html, "1 milestone or deliverable moves in 1 project.")
	move := url.Values{"project": {"A1"}, "activity": {"W"}, "shift": {"30"}}.Encode()
	keep := func(name string) int {
		status, _, _ := h.Ask("ana", "POST", "/timeline/rehearsal", url.Values{"_csrf": {h.Token["ana"]}, "name": {name}, "move": {move}})
		return status
	}
	assert.Equal(t, 422, keep(" "))
	require.Equal(t, 303, keep("<b>late</b>"))
	html = h.Page("ana", address)
	assert.Contains(t, html, "Saved as “&lt;b&gt;late&lt;/b&gt;”")
	html = h.Page("ana", "/timeline/rehearsal?with=1&move="+
		url.QueryEscape(url.Values{"project": {"B1"}, "activity": {"M"}, "shift": {"5"}}.Encode()))
	assert.Contains(t, html, "“&lt;b&gt;late&lt;/b&gt;”")
	assert.Contains(t, html, "hit from outside: A1 Alpha", "what waits for B1")
	assert.NotContains(t, h.Page("nar", "/timeline/rehearsal"), "&lt;b&gt;late", "its moves lie beyond her scope")
	status, _, _ = h.Ask("lea", "POST", "/timeline/rehearsal/1/end", url.Values{"_csrf": {h.Token["lea"]}})
	assert.Equal(t, 403, status)
	status, _, _ = h.Ask("ana", "POST", "/timeline/rehearsal/1/take", url.Values{"_csrf": {h.Token["ana"]}, "project": {"A1"},
		"reason": {"x"}})
	assert.Equal(t, 422, status, "a reported plan is its team's")
	status, _, _ = h.Ask("ana", "POST", "/timeline/rehearsal/1/end", url.Values{"_csrf": {h.Token["ana"]}})
	assert.Equal(t, 303, status)
	assert.Contains(t, h.Page("ana", "/timeline/rehearsal"), "None yet.")
}

func TestBaselinesAndAgreementsByForms(t *testing.T) {
	h := webtest.Linked(t)
	set := func(name, reason string) (int, string) {
		status, body, _ := h.Ask("lea", "POST", "/projects/A1/baseline", url.Values{"_csrf": {h.Token["lea"]}, "name": {name},
			"reason": {reason}, "change": {"C-1"}})
		return status, body
	}
	status, body := set("First", "")
	assert.Equal(t, 422, status)
	assert.Contains(t, body, `value="First"`, "what was typed is still there")
	status, _ = set("First", "agreed")
	require.Equal(t, 303, status)
	status, body = set("First", "again")
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "a name that no other baseline of the project has")
	html := h.Page("lea", "/projects/A1/versions")
	for _, want := range []string{"First", "agreed", "C-1", "Lea"} {
		assert.Contains(t, html, want)
	}
	mine := h.Page("lea", "/timeline/dependencies")
	deal := regexp.MustCompile(`name="deal" value="([^"]+)"`).FindStringSubmatch(mine)[1]
	assert.NotRegexp(t, `\bB1\b`, strings.ReplaceAll(mine, h.Token["lea"], ""), "not even the code of what lies beyond")
	assert.NotContains(t, mine, "Programme B", "nor who it belongs to")
	agree := func(who, day string) int {
		status, _, _ := h.Ask(who, "POST", "/timeline/dependencies", url.Values{"_csrf": {h.Token[who]}, "deal": {deal}, "promised": {day},
			"agreed": {"yes"}, "note": {"by word"}, "back": {"/timeline/dependencies"}})
		return status
	}
	assert.Equal(t, 422, agree("ana", "soon"))
	assert.Equal(t, 403, agree("exe", "2026-11-30"))
	assert.Equal(t, 303, agree("lea", "2026-11-30"), "the taker's lead has a say")
	html = h.Page("ana", "/timeline/dependencies")
	assert.Contains(t, html, "30 Nov 2026")
	assert.Contains(t, html, "by word")
	assert.Contains(t, html, fmt.Sprintf("agreed, %s", "Lea"))
}
