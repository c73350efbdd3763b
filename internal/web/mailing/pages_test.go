package mailing_test

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

// A list says who gets which report; one that could reach nobody, or on no day, is refused with what was typed.
func TestAListOfReadersIsKept(t *testing.T) {
	h := webtest.New(t)
	list := func(who string, status int, more ...string) string {
		return h.Do(who, "/reports/sending", status, append([]string{"name", "The <i>board", "report", "Cost report", "format", "pdf",
			"how", "link",
			"day", "3", "login", "ana"}, more...)...)
	}
	list("lea", 403)
	assert.Contains(t, list("ana", 422, "day", "32"), "The &lt;i&gt;board")
	assert.Contains(t, list("ana", 422, "report", "No such report"), "The &lt;i&gt;board")
	assert.Contains(t, list("ana", 422, "login", ""), "The &lt;i&gt;board", "to nobody")
	assert.Contains(t, h.Page("ana", "/reports/sending"), "No list yet.")
	list("ana", 303)
	page := h.Page("ana", "/reports/sending")
	assert.Contains(t, page, "The &lt;i&gt;board")
	assert.NotContains(t, page, "No list yet.")
	id := regexp.MustCompile(`name="id" value="(\d+)"`).FindStringSubmatch(page)
	require.NotNil(t, id)
	h.Do("lea", "/reports/sending/end", 403, "id", id[1])
	h.Do("ana", "/reports/sending/end", 303, "id", id[1])
	assert.Contains(t, h.Page("ana", "/reports/sending"), "No list yet.")
}
