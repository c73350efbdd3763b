package register_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

// Two people have the same risk open. What they change in different fields stands beside each other; where both changed one, the second
// is told what stands there and who wrote it, keeps what they typed, and may put it in its place.
func TestTwoPeopleAtOneRecord(t *testing.T) {
	h := registered(t)
	const set = "/registers/risks/set"
	edit := func(who string) string { return h.Page(who, "/registers/risks?record=A1:R1&edit=1") }
	first, second, third := webtest.Fields(t, edit("ana"), set), webtest.Fields(t, edit("lea"), set), webtest.Fields(t, edit("lea"), set)
	first.Set("c-response", "Ana digs\r\ndeeper")
	first.Set("c-title", "Ana's flood")
	status, _, _ := h.Ask("ana", http.MethodPost, set, first)
	require.Equal(t, 303, status)

	second.Set("c-likelihood", "2")
	status, _, _ = h.Ask("lea", http.MethodPost, set, second)
	require.Equal(t, 303, status, "another field")
	now := webtest.Fields(t, edit("ana"), set)
	assert.Equal(t, "2", now.Get("c-likelihood"))
	assert.Equal(t, "Ana digs\ndeeper", now.Get("c-response"), "Lea did not touch it")

	third.Set("c-response", "Lea <b>builds</b> a wall")
	status, body, _ := h.Ask("lea", http.MethodPost, set, third)
	assert.Equal(t, 422, status)
	assert.Contains(t, webtest.Text(body), "Response: yours “Lea &lt;b&gt;builds&lt;/b&gt; a wall”, theirs “Ana digs deeper”")
	assert.Contains(t, webtest.Text(body), "Save again to put yours in its place.")
	assert.Regexp(t, `It was changed on [^.]* by Ana\.`, webtest.Text(body), "not by Lea, who changed another field after it")
	assert.Equal(t, now, webtest.Fields(t, edit("ana"), set), "nothing was saved")
	again := webtest.Fields(t, body, set)
	assert.Equal(t, "Lea <b>builds</b> a wall", again.Get("c-response"), "what was typed stays")
	assert.Equal(t, "Ana's flood", again.Get("c-title"), "what was not typed is as it stands")
	status, _, _ = h.Ask("lea", http.MethodPost, set, again)
	require.Equal(t, 303, status)
	last := webtest.Fields(t, edit("ana"), set)
	assert.Equal(t, "Lea <b>builds</b> a wall", last.Get("c-response"))
	assert.Equal(t, "Ana's flood", last.Get("c-title"))
	assert.Equal(t, "2", last.Get("c-likelihood"))

	again.Set("was", "{")
	status, _, _ = h.Ask("lea", http.MethodPost, set, again)
	assert.Equal(t, 400, status)
}

// Minutes that two people write at once are not lost: the second is told, and their action is made once they save again.
func TestTwoPeopleAtOneMeeting(t *testing.T) {
	h := registered(t)
	const save = "/registers/meetings/save"
	to := h.Do("ana", save, 303, "holder", "A1", "c-title", "Site", "c-date", "2026-10-20", "c-minutes", "Begun.")
	first, second := webtest.Fields(t, h.Page("ana", to), save), webtest.Fields(t, h.Page("lea", to), save)
	first.Set("c-minutes", "Begun. The lane stays closed.")
	status, _, _ := h.Ask("ana", http.MethodPost, save, first)
	require.Equal(t, 303, status)
	long := strings.Repeat("On and on. ", 3000)
	third := webtest.Fields(t, h.Page("lea", to), save)
	third.Set("was", second.Get("was"))
	third.Set("c-minutes", long)
	status, body, _ := h.Ask("lea", http.MethodPost, save, third)
	assert.Equal(t, 422, status)
	assert.Equal(t, 1, strings.Count(body, strings.TrimSpace(long)), "a long text stands in its field, and not in the message too")
	second.Set("c-minutes", "Begun.\naction: Write to the town, @Lea")
	second.Set("c-date", "2026-10-21")
	status, body, _ = h.Ask("lea", http.MethodPost, save, second)
	assert.Equal(t, 422, status)
	assert.Contains(t, webtest.Text(body), "theirs “Begun. The lane stays closed.”")
	assert.Regexp(t, `It was changed on [^.]* by Ana\.`, webtest.Text(body))
	assert.NotContains(t, h.Page("ana", "/registers/actions?view=list"), "Write to the town")
	again := webtest.Fields(t, body, save)
	assert.Equal(t, "2026-10-21", again.Get("c-date"))
	assert.Equal(t, "Begun.\naction: Write to the town, @Lea", again.Get("c-minutes"))
	status, _, _ = h.Ask("lea", http.MethodPost, save, again)
	assert.Equal(t, 303, status)
	assert.Contains(t, h.Page("ana", "/registers/actions?view=list"), "Write to the town")
	assert.Contains(t, h.Page("ana", to), "Site, 21 Oct 2026")
}
