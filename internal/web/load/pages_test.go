package load_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/apptest"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// Withdrawing a load brings back what stood before it; it stays in the list, with the reason, and is not withdrawn twice.
func TestALoadIsWithdrawn(t *testing.T) {
	h := webtest.New(t)
	apptest.Send(t, h.Office, apptest.Sent{Kind: record.Budget, Period: apptest.October,
		Text: "project,cost_code,amount,month\nA1,C,5,2026-09\n"})
	assert.Contains(t, h.Page("ana", "/projects/A1?trace=bac"), "€5.00")
	page := h.Page("ana", "/loads/8")
	assert.Contains(t, page, "Load 8: 1 row of Budget")
	h.Do("lea", "/loads/8/withdraw", 403, "reason", "not mine")
	h.Do("nar", "/loads/8/withdraw", 403, "reason", "not of all")
	assert.Contains(t, h.Do("ana", "/loads/8/withdraw", 422, "reason", ""), `role="alert"`)
	h.Do("ana", "/loads/8/withdraw", 303, "reason", "a <b>typing slip")
	assert.Contains(t, h.Page("ana", "/projects/A1?trace=bac"), "€777,123.00")
	assert.Contains(t, h.Page("ana", "/loads/8"), "a &lt;b&gt;typing slip")
	assert.Contains(t, h.Page("ana", "/loads"), "7 loads stand")
	h.Do("ana", "/loads/8/withdraw", 409, "reason", "again")
	h.Shut("ana", "/loads/99", 404)
	h.Shut("ana", "/loads/eight", 404)
}
