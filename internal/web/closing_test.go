package web

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestAProjectIsClosedOnItsPage(t *testing.T) {
	h := newHouse(t)
	page := h.page("ana", "/projects/A1/closing")
	assert.Contains(t, page, "Before Alpha is closed, 3 things are left to be done.")
	assert.Contains(t, page, "€888,321.00 to go")
	assert.NotContains(t, h.page("exe", "/projects/A1/closing"), "888", "costs are kept from Exe")
	assert.NotContains(t, h.page("exe", "/projects/A1/closing"), "Close the project")
	h.shut("nar", "/projects/A1/closing", 404)
	h.do("exe", "/projects/A1/closing", 403, "reason", "why")
	assert.Contains(t, h.do("ana", "/projects/A1/closing", 422, "reason", ""), "role=\"alert\"")
	h.do("ana", "/projects/A1/closing", 303, "reason", "<b>sold</b>")
	assert.Contains(t, h.page("ana", "/projects/A1/closing?status=all"), "Alpha is closed.")
	assert.Contains(t, h.do("ana", "/projects/A1/closing", 422, "reason", "again"), "only an open project can be closed")
}
