package register_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/apptest"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// Minutes make the actions and decisions that their lines ask for, in the words of the lines, once, however often they are saved.
func TestMinutesMakeRecords(t *testing.T) {
	h := registered(t)
	to := h.Do("ana", "/registers/meetings/save", 303, "holder", "A1", "c-title", "Site", "c-date", "2026-10-20", "c-people", "Lea, Ana",
		"c-minutes", "The lane stays closed.\naction: Write to the town, @Lea, 2026-11-02\ndecision: Take the second way in")
	assert.Contains(t, to, "/registers/meetings/A1/M1")
	page := h.Page("ana", to)
	assert.Contains(t, page, "Site, 20 Oct 2026, of ")
	assert.Contains(t, page, ": 1 decision, 1 action.")
	assert.Contains(t, page, "The lane stays closed.")
	actions := h.Page("ana", "/registers/actions?view=list&scope=A1")
	assert.Contains(t, webtest.RowOf(t, actions, "Write to the town"), "2 Nov 2026")
	list := h.Page("ana", "/registers/meetings")
	assert.Contains(t, list, "1 meeting, with 0 decisions still to be answered.")

	q := webtest.Fields(t, page, "/registers/meetings/save")
	q.Set("c-people", "Lea")
	status, _, head := h.Ask("ana", http.MethodPost, "/registers/meetings/save", q)
	assert.Equal(t, 303, status)
	assert.Contains(t, h.Page("ana", head.Get("Location")), ": 1 decision, 1 action.", "what was made is not made again")
}

// What is wrong is said where it was typed, with all that was typed; nothing is kept of it.
func TestMinutesThatAreRefused(t *testing.T) {
	h := registered(t)
	for _, x := range []struct{ holder, date, title, says string }{
		{"", "2026-10-20", "Site", "belongs to"}, {"A1", "some day", "Site", "some day"}, {"A1", "2026-10-20", "", "title"}} {
		status, body, _ := h.Send("ana", "/registers/meetings/save", "holder", x.holder, "c-title", x.title, "c-date", x.date, "c-minutes",
			"action: <b>Never</b>")
		assert.Equal(t, 422, status, x.says)
		assert.Contains(t, body, x.says)
		assert.Contains(t, body, "action: &lt;b&gt;Never&lt;/b&gt;", "what was typed stays")
	}
	assert.Contains(t, h.Page("ana", "/registers/meetings"), "No meeting has been held here.")
	assert.NotContains(t, h.Page("ana", "/registers/actions?view=list"), "Never")
	h.Do("lea", "/registers/meetings/save", 403, "holder", "B1", "c-title", "Ours", "c-date", "2026-10-20")
	h.Do("exe", "/registers/meetings/save", 403, "holder", "A1", "c-title", "Ours", "c-date", "2026-10-20")
	h.Shut("ana", "/registers/meetings/A1/M9", 404)
	h.Shut("lea", "/registers/meetings/B1/M1", 404)
}

// A decision that was asked for is answered where the board meets, and an action follows; a day that is none keeps nothing.
func TestDecisionsAreAnswered(t *testing.T) {
	h := registered(t)
	apptest.Send(t, h.Office, apptest.Sent{Kind: record.Meetings, Period: apptest.October,
		Text: "project,node,code,date,title,people\n,A,M1,2026-10-20,Board,Ana\n"})
	apptest.Send(t, h.Office, apptest.Sent{Kind: record.Decisions, Period: apptest.October,
		Text: "project,node,code,title,meeting,state\n,A,D1,Buy a second pump,M1,asked for\n"})
	const at = "/registers/meetings/A/M1"
	assert.Contains(t, h.Page("ana", "/registers/meetings"), "1 meeting, with 1 decision still to be answered.")
	answer := func(due string) {
		h.Do("ana", "/registers/decisions/decide", 303, "holder", "A", "code", "D1", "state", "taken", "by", "Ana", "reason",
			"The old one leaks",
			"follow", "Order the pump", "owner", "Lea", "due", due, "meeting", "M1", "back", at)
	}
	answer("soon")
	assert.Contains(t, h.Page("ana", "/registers/meetings"), "1 decision still to be answered.")
	answer("2026-11-16")
	page := h.Page("ana", at)
	assert.Contains(t, page, "Order the pump, Lea")
	assert.Contains(t, h.Page("ana", "/registers/meetings"), "0 decisions still to be answered.")
	assert.Contains(t, webtest.RowOf(t, h.Page("ana", "/registers/actions?view=list"), "Order the pump"), "16 Nov 2026")
}

// Lessons are found by their words, whatever the ending, the best match first, and by their grouping.
func TestLessonsAreSearched(t *testing.T) {
	h := registered(t)
	apptest.Send(t, h.Office, apptest.Sent{Kind: record.Lessons, Period: apptest.October,
		Text: "project,code,title,text,category,raised_by,raised\nA1,L1,Bore closer,The ground was softer between borings,ground,Lea,2026-09-30\n" +
			"A1,L2,Ask the town early,Permits took ten weeks,consents,Lea,2026-10-02\n"})
	assert.Contains(t, h.Page("ana", "/registers/lessons"), "2 lessons.")
	found := h.Page("ana", "/registers/lessons?q=permit")
	assert.Contains(t, found, "1 lesson with these words, the best match first.")
	assert.Contains(t, found, "Ask the town early")
	assert.NotContains(t, found, "Bore closer")
	assert.Contains(t, h.Page("ana", "/registers/lessons?category=ground"), "Bore closer")
	assert.NotContains(t, h.Page("ana", "/registers/lessons?category=ground"), "Ask the town early")
	assert.Contains(t, h.Page("ana", "/registers/lessons?q=%3Cscript%3E"), "0 lessons with these words")
	assert.NotContains(t, h.Page("nar", "/registers/lessons"), "Bore closer", "another's project")
}
