package closing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/web/webtest"
)

func TestAProjectIsClosedOnItsPage(t *testing.T) {
	h := webtest.New(t)
	page := h.Page("ana", "/projects/A1/closing")
	assert.Contains(t, page, "Before Alpha is closed, 3 things are left to be done.")
	assert.Contains(t, page, "€888,321.00 to go")
	assert.NotContains(t, h.Page("exe", "/projects/A1/closing"), "888", "costs are kept from Exe")
	assert.NotContains(t, h.Page("exe", "/projects/A1/closing"), "Close the project")
	h.Shut("nar", "/projects/A1/closing", 404)
	h.Do("exe", "/projects/A1/closing", 403, "reason", "why")
	assert.Contains(t, h.Do("ana", "/projects/A1/closing", 422, "reason", ""), "role=\"alert\"")
	h.Do("ana", "/projects/A1/closing", 303, "reason", "<b>sold</b>")
	assert.Contains(t, h.Page("ana", "/projects/A1/closing?status=all"), "Alpha is closed.")
	assert.Contains(t, h.Do("ana", "/projects/A1/closing", 422, "reason", "again"), "only an open project can be closed")
}
