package lookout_test

import (
	"net/http"
	"net/url"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

// panels are the kinds of the parts of somebody's Lookout, in their order.
func panels(h *webtest.House, who string) (list []string) {
	for _, m := range regexp.MustCompile(`<section class="panel w-([a-z-]+) of-([a-z]+)"`).FindAllStringSubmatch(h.Page(who, "/"), -1) {
		list = append(list, m[2]+" "+m[1])
	}
	return list
}

// Everybody arranges their own, in the order that was sent; back to the usual is one act. What a role gets does not touch those who have
// chosen.
func TestArrangingLookout(t *testing.T) {
	h := webtest.New(t)
	usual := panels(h, "ana")
	arrange := func(who string, status int, more url.Values) string {
		q := url.Values{"_csrf": {webtest.Hidden}, "panel": {"text.1", "risks.", "figures."}, "wide.text.1": {"whole"},
			"wide.risks.":   {"half"},
			"wide.figures.": {"whole"}, "say.text.1": {"Board on <Tuesday>"}, "say.figures.": {"bac, eac"}}
		for name, list := range more {
			q[name] = list
		}
		got, body, _ := h.Ask(who, http.MethodPost, "/lookout/arrange", q)
		assert.Equal(t, status, got, body)
		return body
	}
	arrange("ana", 303, nil)
	assert.Equal(t, []string{"text whole", "risks half", "figures whole"}, panels(h, "ana"))
	assert.Contains(t, h.Page("ana", "/"), "Board on &lt;Tuesday&gt;")
	assert.Equal(t, usual, panels(h, "nar"), "another analyst's is as it was")

	for name, bad := range map[string]url.Values{"no such part": {"panel": {"weather."}}, "a width": {"wide.risks.": {"9 miles"}},
		"a measure": {"say.figures.": {"bac, luck"}}} {
		assert.Contains(t, arrange("ana", 422, bad), "expected", name)
	}
	assert.Equal(t, []string{"text whole", "risks half", "figures whole"}, panels(h, "ana"), "as it was saved")
	arrange("ana", 303, url.Values{"do": {"back"}})
	assert.Equal(t, usual, panels(h, "ana"))

	arrange("lea", 403, url.Values{"do": {"role"}, "role": {"lead"}})
	arrange("ana", 303, url.Values{"do": {"role"}, "role": {"lead"}})
	assert.Equal(t, []string{"text whole", "risks half", "figures whole"}, panels(h, "lea"))
	assert.Equal(t, usual, panels(h, "ana"))
}

// A notice stands on everybody's Lookout until its day, and ends without a text; a day that is none keeps what stands.
func TestANoticeToAll(t *testing.T) {
	h := webtest.New(t)
	until := "2099-01-05"
	h.Do("ana", "/lookout/notice", 303, "text", "The ledger comes late <today>", "until", until)
	for _, who := range []string{"lea", "exe"} {
		assert.Contains(t, h.Page(who, "/"), "The ledger comes late &lt;today&gt;", who)
	}
	assert.Equal(t, 422, h.Post("ana", "/lookout/notice", "text", "Other", "until", "soon"))
	assert.Equal(t, 403, h.Post("lea", "/lookout/notice", "text", "Mine", "until", until))
	assert.Contains(t, h.Page("lea", "/"), "The ledger comes late")
	h.Do("ana", "/lookout/notice", 303, "text", "", "until", "")
	assert.NotContains(t, h.Page("lea", "/"), "The ledger comes late")
}

// Two people write the notice at once: the second is told what stands, keeps what they typed, and may put it in its place.
func TestTwoPeopleAtTheNotice(t *testing.T) {
	h := webtest.New(t)
	const at = "/lookout/notice"
	first, second := webtest.Fields(t, h.Page("ana", "/lookout/arrange"), at), webtest.Fields(t, h.Page("ana", "/lookout/arrange"), at)
	first.Set("text", "The ledger comes late")
	first.Set("until", "2026-11-20")
	status, _, _ := h.Ask("ana", http.MethodPost, at, first)
	require.Equal(t, 303, status)
	second.Set("text", "The board meets on Friday")
	second.Set("until", "2026-11-13")
	status, body, _ := h.Ask("ana", http.MethodPost, at, second)
	assert.Equal(t, 422, status)
	assert.Contains(t, webtest.Text(body),
		"yours “The board meets on Friday, until 2026-11-13”, theirs “The ledger comes late, until 2026-11-20”")
	again := webtest.Fields(t, body, at)
	assert.Equal(t, "The board meets on Friday", again.Get("text"))
	status, _, _ = h.Ask("ana", http.MethodPost, at, again)
	assert.Equal(t, 303, status)
	assert.Equal(t, "The board meets on Friday", webtest.Fields(t, h.Page("ana", "/lookout/arrange"), at).Get("text"))
}
