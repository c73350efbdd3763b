package edit_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/web/webtest"
)

// A table goes back as it was shown without a load; a new row, a changed cell and a bad one are told apart.
func TestTableForm(t *testing.T) {
	h := webtest.New(t)
	path := "/edit/activities?project=A1"
	html := h.Page("lea", path)
	q := webtest.Fields(t, html, path)
	status, _, header := h.Ask("lea", http.MethodPost, path, q)
	require.Equal(t, 303, status)
	assert.Contains(t, webtest.ToldBy(t, header), "Nothing was changed", "nothing changed, nothing saved, and said")
	q.Set("c-0-8", "2026-12-24")
	q.Set("c-new0-1", "M9")
	q.Set("c-new0-2", "Keys handed over")
	q.Set("c-new0-4", "milestone")
	status, _, header = h.Ask("lea", http.MethodPost, path, q)
	require.Equal(t, 303, status)
	assert.Contains(t, webtest.ToldBy(t, header), "1 activity added and 1 activity changed.")
	html = h.Page("lea", path)
	assert.Contains(t, html, "Keys handed over")
	assert.Contains(t, html, "2026-12-24")
	q = webtest.Fields(t, html, path)
	q.Set("c-0-8", "after Christmas")
	status, html, _ = h.Ask("lea", http.MethodPost, path, q)
	assert.Equal(t, 422, status)
	assert.Contains(t, html, "expected a day of the calendar")
	assert.Contains(t, html, "after Christmas", "what was typed is still there")
	year := h.Page("ana", "/edit/calendars?year=2026")
	assert.Contains(t, year, "261 working days", "Monday to Friday of 2026, a year that begins on a Thursday")
	q = webtest.Fields(t, year, "/edit/calendars")
	for i, v := range map[int]string{0: "default", 1: "2026-12-25", 3: "no", 4: "Holiday"} {
		q.Set(fmt.Sprintf("c-new0-%d", i), v)
	}
	status, _, _ = h.Ask("ana", http.MethodPost, "/edit/calendars", q)
	require.Equal(t, 303, status)
	assert.Contains(t, h.Page("ana", "/edit/calendars?year=2026"), "260 working days")
}

// Undoing a saved table leads back to the table, in its place, and to nowhere outside.
func TestUndoingATableLeadsBackToIt(t *testing.T) {
	h := webtest.New(t)
	at := "/edit/projects?asof=2026-10-31&project=A1&scope=A"
	q := webtest.Fields(t, h.Page("ana", at), "/edit/projects?asof=2026-10-31&amp;project=A1&amp;scope=A")
	for name, v := range q {
		if v[0] == "Alpha" {
			q.Set(name, "Alpha+")
		}
	}
	status, _, head := h.Ask("ana", http.MethodPost, at, q)
	require.Equal(t, 303, status)
	var told struct {
		U string
		F []struct{ Name, Value string }
	}
	require.NoError(t, json.Unmarshal([]byte(webtest.ToldBy(t, head)), &told))
	undo := url.Values{"_csrf": {h.Token["ana"]}}
	for _, f := range told.F {
		undo.Set(f.Name, f.Value)
	}
	status, _, head = h.Ask("ana", http.MethodPost, told.U, undo)
	require.Equal(t, 303, status)
	assert.Equal(t, "/edit/projects?asof=2026-10-31&project=A1&scope=A", head.Get("Location"))
	assert.NotContains(t, h.Page("ana", at), "Alpha+")
	undo.Set("back", "https://evil.example")
	_, _, head = h.Ask("ana", http.MethodPost, told.U, undo)
	assert.NotContains(t, head.Get("Location"), "evil")
}

// The table of changes shows how each was decided, without a control for it, and leads to where that is done, in the period in view.
func TestTheTableOfChangesDecidesNothing(t *testing.T) {
	h := webtest.New(t)
	html := h.Page("ana", "/edit/changes?project=A1&asof=2026-09-30")
	assert.Contains(t, html, `href="/money/changes?asof=2026-09-30"`)
	assert.NotContains(t, html, "<option>approved")
	assert.Contains(t, html, "<option>even", "other choices are there")
}

// A table is saved for the period in view, and says so; in a closed one nothing is saved, and the way on is told.
func TestATableIsSavedForThePeriodInView(t *testing.T) {
	h := webtest.New(t)
	path := "/edit/projects?project=A1"
	_, err := h.Office.Publish.Close(webtest.Ctx(), calendar.Months.Of(calendar.On(2026, 10, 1)))
	require.NoError(t, err)
	at := path + "&asof=2026-12-31"
	q := webtest.Fields(t, h.Page("ana", at), "/edit/projects?asof=2026-12-31&amp;project=A1")
	status, _, head := h.Ask("ana", http.MethodPost, at, q)
	require.Equal(t, 303, status)
	assert.Contains(t, webtest.ToldBy(t, head), "Nothing was changed")
	for name, v := range q {
		if v[0] == "Alpha" {
			q.Set(name, "Alpha+")
		}
	}
	status, body, head := h.Ask("ana", http.MethodPost, at, q)
	require.Equal(t, 303, status, body)
	assert.Contains(t, webtest.ToldBy(t, head), "Saved for December 2026 as load")

	q = webtest.Fields(t, h.Page("ana", at), "/edit/projects?asof=2026-12-31&amp;project=A1")
	for name, v := range q {
		if v[0] == "Alpha+" {
			q.Set(name, "Beta")
		}
	}
	closed := path + "&asof=2026-10-31"
	status, _, head = h.Ask("ana", http.MethodGet, closed, nil)
	require.Equal(t, 303, status)
	read := head.Get("Location")
	assert.Equal(t, "/projects/A1/records/projects?asof=2026-10-31", read, "what stood then is read, not what stands now")
	page := h.Page("ana", read)
	assert.Contains(t, page, "Nothing in it can be changed here")
	assert.Contains(t, page, "/projects/A1/records/projects?asof=2026-11-30", "the way to the open period")
	assert.Contains(t, page, `href="/publish?asof=2026-10-31"`, "the way to reopen it")
	loads, err := h.Office.Load.List(webtest.Ctx())
	require.NoError(t, err)
	status, body, _ = h.Ask("ana", http.MethodPost, closed, q)
	assert.Equal(t, 409, status)
	assert.Contains(t, body, `value="Beta"`, "what was typed is still there")
	assert.Contains(t, body, "October 2026 is closed and stays as it is; reopen it, or go on in November 2026")
	after, err := h.Office.Load.List(webtest.Ctx())
	require.NoError(t, err)
	assert.Len(t, after, len(loads), "nothing was saved")
}
