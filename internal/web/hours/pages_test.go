package hours_test

import (
	"net/http"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/record"
	"turret/internal/web/webtest"
)

// booked is a house in which Lea, who leads A1, is a person of the register, as is Kim, who works on A1 and B1.
func booked(t *testing.T) *webtest.House {
	t.Helper()
	h := webtest.New(t)
	h.Take(record.People, "code,name\nK,Kim <b>\nL,Lea\n")
	h.Take(record.Assignments, "person,project,from,to,percent\nK,A1,2026-10-01,2026-10-31,50\nK,B1,2026-10-01,2026-10-31,50\n")
	return h
}

const kims = "/hours?person=K&week=2026-10-26"

var partID = regexp.MustCompile(`name="id" value="(\d+)"`)

// Hours are written, sent, approved by the lead whose project it is, and stand then. What is refused is shown again with what was typed.
func TestHoursByPages(t *testing.T) {
	h := booked(t)
	page := h.Page("lea", "/hours")
	assert.Contains(t, page, "Lea, week of 26 Oct 2026 to 1 Nov 2026: 0 of 40 h are written.")
	page = h.Page("ana", kims)
	assert.Contains(t, page, "Kim &lt;b&gt;, week of")
	for _, project := range []string{`value="A1"`, `value="B1"`, `value="A2"`} {
		assert.Contains(t, page, project)
	}
	page = h.Do("ana", kims, http.StatusUnprocessableEntity, "rows", "2", "p-0", "A1", "h-0-0", "25", "p-1", "B1", "h-1-1", "abc")
	assert.Contains(t, page, `value="25"`)
	assert.Contains(t, page, `aria-invalid="true"`)
	assert.Contains(t, page, "Row 2, Tuesday: “abc”, expected hours such as 7.5 or 7:30")
	page = h.Do("ana", kims, http.StatusUnprocessableEntity, "rows", "1", "p-0", "A1", "h-0-0", "1", "k-0", "NO <b>")
	assert.Contains(t, page, "Row 1, cost code: “NO &lt;b&gt;”, expected an open cost code of the tree")
	assert.Contains(t, page, `name="k-0" value="NO &lt;b&gt;"`)
	h.Do("ana", kims, http.StatusSeeOther, "rows", "2", "p-0", "A1", "h-0-0", "7:30", "b-0", "1", "p-1", "B1", "h-1-1", "4", "send", "1")
	page = h.Page("ana", kims)
	assert.Contains(t, page, "11.5 of 40 h are written")
	assert.Contains(t, page, "waits to be approved")

	page = h.Page("lea", "/hours/approve")
	assert.Contains(t, page, "1 sheet waits to be approved by you: 7.5 h.")
	assert.Contains(t, page, "the project, billable")
	assert.NotContains(t, page, "B1")
	assert.Contains(t, h.Page("lea", "/desk"), "1 week sheet waits to be approved")
	id := partID.FindStringSubmatch(page)[1]
	page = h.Do("lea", "/hours/approve", http.StatusUnprocessableEntity, "id", id, "back", "1", "reason", "")
	assert.Contains(t, page, "Reason")
	_, _, head := h.Send("lea", "/hours/approve", "id", id)
	said := webtest.ToldBy(t, head)
	assert.Contains(t, said, "1 sheet, 7.5 h, approved and booked by load ")
	assert.NotContains(t, said, "withdrawn", "who cannot withdraw is not told to")
	assert.Contains(t, h.Page("lea", "/hours/approve"), "No hours wait to be approved by you.")
	page = h.Do("lea", "/hours/approve", http.StatusUnprocessableEntity, "id", id)
	assert.Contains(t, page, "nothing was done")
	assert.Contains(t, h.Page("ana", "/hours/weeks"), "Of the last 6 weeks 12 sheets are missing, of 2 people.",
		"up to that of 19 October")
	h.Do("ana", "/hours?person=K&week=2026-10-19", http.StatusSeeOther, "rows", "1", "p-0", "A1", "h-0-0", "2")
	page = h.Page("ana", "/hours/weeks")
	assert.Contains(t, page, "11 sheets are missing")
	assert.Contains(t, page, "week of 19 Oct 2026: 0 h booked of 40 h, 2 h not booked yet")
	h.Do("ana", "/hours/remind", http.StatusSeeOther)
	page = h.Page("ana", "/hours?person=K&week=2026-11-02&copy=1")
	assert.Contains(t, page, "From the week before: 2 rows, not saved yet.")
	assert.Contains(t, page, `value="7.5"`)
}

// Those who only read see no other's hours, and whoever nobody knows is told why there is no sheet.
func TestHoursOfOthersAreNotShown(t *testing.T) {
	h := booked(t)
	assert.Contains(t, h.Page("exe", "/hours"), "Nobody in the register of people has the name that you sign in with")
	for _, path := range []string{kims, "/hours/approve", "/hours/weeks"} {
		h.Shut("exe", path, http.StatusForbidden)
	}
	for _, week := range []string{"dog", "0001-01-01", "9999-12-31"} {
		h.Shut("ana", "/hours?person=K&copy=1&week="+week, http.StatusBadRequest)
	}
}
