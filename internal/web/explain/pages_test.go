package explain_test

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

// What a lead writes about a project stands on its page and in the list, as it was typed; what was changed meanwhile is not overwritten.
func TestCommentaryIsWrittenAndKept(t *testing.T) {
	h := webtest.New(t)
	const at = "/projects/A1/explain?asof=2026-10-31"
	page := h.Page("lea", at)
	field := regexp.MustCompile(`name="overall-id" value="(\d+)"`).FindStringSubmatch(page)
	require.NotNil(t, field)
	h.Do("exe", at, 403, "overall", "not mine", "overall-id", field[1])
	h.Do("nar", at, 404, "overall", "beyond the scope", "overall-id", field[1])
	h.Do("lea", at, 303, "overall", "The **town** dug <b>again</b>.", "overall-id", field[1])
	page = h.Page("ana", at)
	assert.Contains(t, page, "The <strong>town</strong> dug &lt;b&gt;again&lt;/b&gt;.")
	assert.Contains(t, h.Page("ana", "/explain?asof=2026-10-31"), "dug &lt;b&gt;again")
	refused := h.Do("ana", at, 422, "overall", "Mine instead.", "overall-id", field[1])
	assert.Contains(t, refused, "Mine instead.", "what was typed is still there")
	assert.Contains(t, h.Page("ana", at), "The <strong>town</strong>")
}

// The office's note is of one period and one scope.
func TestTheNoteOfTheOffice(t *testing.T) {
	h := webtest.New(t)
	h.Do("lea", "/explain?asof=2026-10-31", 403, "id", "0", "text", "not mine")
	h.Do("ana", "/explain?asof=2026-10-31&scope=A", 303, "id", "0", "text", "Programme A is <u>held up</u>.")
	assert.Contains(t, h.Page("ana", "/explain?asof=2026-10-31&scope=A"), "is &lt;u&gt;held up&lt;/u&gt;.")
	assert.NotContains(t, h.Page("ana", "/explain?asof=2026-10-31"), "held up")
	assert.NotContains(t, h.Page("ana", "/explain?asof=2026-09-30&scope=A"), "held up")
}
