package publish_test

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/core/calendar"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// november is the period after that in view.
var november = calendar.Months.Of(calendar.On(2026, 11, 1))

// A period is closed once nothing stands in its way; what was published stays while new figures come, until it is opened again with a
// reason.
func TestAPeriodIsClosedAndOpenedAgain(t *testing.T) {
	h := webtest.New(t)
	const at = "?asof=2026-10-31"
	in := []string{"period", "2026-10"}
	with := func(pairs ...string) []string { return append(pairs, in...) }
	h.Do("lea", "/publish"+at, 403, in...)
	assert.Contains(t, h.Do("ana", "/publish"+at, 409, in...), "in the way", "errors and inputs that have not come")
	assert.Contains(t, h.Do("ana", "/publish/waive"+at, 422, with("what", "input", "reason", "")...), `role="alert"`)
	what := regexp.MustCompile(`name="what" value="([^"]*)"`)
	for range 20 {
		found := what.FindStringSubmatch(h.Page("ana", "/publish"+at))
		if found == nil {
			break
		}
		h.Do("ana", "/publish/waive"+at, 303, with("what", found[1], "reason", "known <b>to all")...)
	}
	assert.Contains(t, h.Page("ana", "/publish"+at), "known &lt;b&gt;to all")
	require.NotContains(t, h.Do("ana", "/publish"+at, 303, in...), "evil")

	before := h.Page("ana", "/projects/A1"+at)
	assert.Contains(t, before, "closed")
	apptest.Send(t, h.Office, apptest.Sent{Kind: record.Budget, Period: november, Text: "project,cost_code,amount,month\nA1,C,5,2026-09\n"})
	assert.Contains(t, h.Page("ana", "/projects/A1?asof=2026-11-30&trace=bac"), "€5.00", "November is open")
	assert.Contains(t, h.Page("ana", "/projects/A1"+at+"&trace=bac"), "€777,123.00", "October stays as it was published")

	h.Do("lea", "/publish/reopen"+at, 403, with("reason", "why not")...)
	assert.Contains(t, h.Do("ana", "/publish/reopen"+at, 422, with("reason", "")...), `role="alert"`)
	h.Do("ana", "/publish/reopen"+at, 303, with("reason", "the ledger was wrong")...)
	assert.NotContains(t, h.Page("ana", "/publish"+at), "Open it again")
}
