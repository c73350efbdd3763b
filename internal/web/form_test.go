package web_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/audit"
	"turret/internal/app/setting"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// hidden stands for the token of whoever asks.

// Without scripts, by plain forms alone: drop, map, give values a meaning, see the consequences, load.
func TestLoadingByPlainForms(t *testing.T) {
	h := webtest.New(t)
	status, at := h.Drop("ana", map[string]string{"plan.csv": "Project;Task ID;What;Sort;Baseline end;Forecast " +
		"end\nA1;1;Dig;Task;30.09.2026;15.11.2026\nA1;2;Gate;Stone;30.09.2026;18.12.2026\n"})
	require.Equal(t, 303, status)
	html := h.Page("ana", at+"?show=consequences")
	assert.Contains(t, html, "dates day first")
	assert.Contains(t, html, "What Task means")
	assert.Contains(t, html, "<mark>Stone</mark>")
	_, unknowns, _ := strings.Cut(html, `class="unknowns"`)
	q := webtest.Fields(t, `<form method="post" action="`+at+`"`+unknowns, at)
	for name, v := range q {
		if strings.HasPrefix(name, "was-") {
			means := map[string]string{"kind\x1fTask": "activity", "kind\x1fStone": "milestone"}[v[0]]
			q.Set(strings.Replace(name, "was-", "means-", 1), means)
		}
	}
	status, _, _ = h.Ask("ana", http.MethodPost, at, q)
	require.Equal(t, 303, status)
	html = h.Page("ana", at+"?show=consequences")
	assert.Contains(t, html, "Load 2 rows")
	assert.Contains(t, html, "Schedule</b> of A1")
	status, _, header := h.Ask("ana", http.MethodPost, at+"/load", url.Values{"_csrf": {h.Token["ana"]}})
	require.Equal(t, 303, status)
	require.Eventually(t, func() bool { return strings.Contains(h.Page("ana", header.Get("Location")), "Loaded.") }, time.Minute,
		10*time.Millisecond)
	assert.Contains(t, h.Page("ana", at), "Loaded as")
	project := h.Page("ana", "/projects/A1")
	assert.Contains(t, project, "Gate")
	assert.Contains(t, project, "18 Dec 2026")
}

// Settings as the form shows them go back unchanged; what cannot be is said at once with everything typed kept.
func TestSettingsForm(t *testing.T) {
	h := webtest.New(t)
	admin := func(method, path string, q url.Values) (int, string) {
		status, body, _ := h.Ask("admin", method, path, q)
		return status, body
	}
	before, err := h.Office.Setting.Export(access.As(context.Background(), access.Operator("x")))
	require.NoError(t, err)
	q := webtest.Fields(t, h.Page("admin", "/setup/settings"), "/setup/settings")
	status, _ := admin(http.MethodPost, "/setup/settings", q)
	require.Equal(t, 303, status)
	after, err := h.Office.Setting.Export(access.As(context.Background(), access.Operator("x")))
	require.NoError(t, err)
	assert.Equal(t, string(before), string(after))

	q.Set("limit-vac_share-0-0", "7,5")
	q.Set("scope-1", "A")
	q.Set("limit-finish_share-1-0", "5")
	q.Set("limit-finish_share-1-1", "12.5")
	q.Set("grace-1", "3")
	q.Set("burn-1", "items")
	q.Set("due-status", "9")
	status, _ = admin(http.MethodPost, "/setup/settings", q)
	require.Equal(t, 303, status)
	s, err := h.Office.Setting.Get(access.As(context.Background(), access.Operator("x")))
	require.NoError(t, err)
	assert.Equal(t, [2]float64{0.075, 0.10}, s.Tolerances[0].Of["vac_share"])
	three := 3
	assert.Equal(t, setting.Limits{Scope: "A", Of: map[string][2]float64{"finish_share": {0.05, 0.125}}, Grace: &three, Burn: "items"},
		s.Tolerances[1],
		"what is left empty is taken from above")
	assert.Equal(t, 9, s.Expected(record.Statuses).Due)

	status, _ = admin(http.MethodPost, "/setup/settings", q)
	assert.Equal(t, 303, status, "the same again changes nothing")
	q.Set("due-status", "8")
	status, body := admin(http.MethodPost, "/setup/settings", q)
	assert.Equal(t, 422, status, "the version is an old one by now")
	assert.Contains(t, body, "Somebody else changed the settings")
	q = webtest.Fields(t, h.Page("admin", "/setup/settings"), "/setup/settings")
	for name, bad := range map[string]string{"limit-cpi-0-0": "plenty", "limit-vac_share-0-1": "1", "early-0": "101", "grace-1": "soon",
		"burn-1": "hours", "due-status": "-3",
		"group": "0", "lookahead": "x"} {
		spoiled := url.Values{}
		for k, v := range q {
			spoiled[k] = v
		}
		spoiled.Set(name, bad)
		status, body := admin(http.MethodPost, "/setup/settings", spoiled)
		assert.Equal(t, 422, status, name)
		assert.Contains(t, body, "expected", name)
	}
}

func TestPeopleForm(t *testing.T) {
	h := webtest.New(t)
	q := webtest.Fields(t, h.Page("admin", "/setup/people/new"), "/setup/people/new")
	for name, v := range map[string]string{"name": "Zoë <b>", "login": "zoe", "email": "zoe@example.org", "scopes": "A, B1",
		"password": "a long enough one", "role": "executive"} {
		q.Set(name, v)
	}
	status, _, _ := h.Ask("admin", http.MethodPost, "/setup/people/new", q)
	require.Equal(t, 303, status)
	assert.Contains(t, h.Page("admin", "/setup/people"), "Zoë &lt;b&gt;")
	status, body, _ := h.Ask("admin", http.MethodPost, "/setup/people/new", q)
	assert.Equal(t, 422, status, "the name is taken")
	assert.Contains(t, body, "nobody else signs in with")
	for name, bad := range map[string]string{"login": "two words", "email": "nowhere", "role": "emperor", "password": "short", "name": ""} {
		spoiled := url.Values{"login": {"other"}, "name": {"N"}, "role": {"lead"}, "_csrf": q["_csrf"]}
		spoiled.Set(name, bad)
		status, body, _ := h.Ask("admin", http.MethodPost, "/setup/people/new", spoiled)
		assert.Equal(t, 422, status, name)
		assert.Contains(t, body, "expected", name)
		assert.NotContains(t, body, "short</", "a password is never shown")
	}
	ctx := access.As(context.Background(), access.Operator("x"))
	people, err := h.Office.Account.People(ctx)
	require.NoError(t, err)
	for _, p := range people {
		if p.Login == "admin" {
			me := webtest.Fields(t, h.Page("admin", fmt.Sprintf("/setup/people/%d", p.ID)), fmt.Sprintf("/setup/people/%d", p.ID))
			me.Set("role", "lead")
			status, _, _ := h.Ask("admin", http.MethodPost, fmt.Sprintf("/setup/people/%d", p.ID), me)
			assert.Equal(t, 422, status, "nobody takes the own role away")
		}
	}
	trail, err := h.Office.Audit.List(ctx, audit.Query{Act: "save a person"})
	require.NoError(t, err)
	for _, e := range trail {
		assert.NotContains(t, e.Before+e.After, "argon2", "no password in the trail, in no form")
	}
}

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

func TestFeedForm(t *testing.T) {
	h := webtest.New(t)
	q := webtest.Fields(t, h.Page("admin", "/feeds"), "/feeds")
	for name, v := range map[string]string{"name": "ledger", "kind": "ledger", "address": "http://127.0.0.1:1/ledger", "every": "24"} {
		q.Set(name, v)
	}
	status, _, _ := h.Ask("admin", http.MethodPost, "/feeds", q)
	require.Equal(t, 303, status)
	assert.Contains(t, h.Page("ana", "/feeds"), "24 hours")
	assert.Contains(t, h.Page("ana", "/feeds/ledger"), "It has not run yet.")
	q.Set("address", "javascript:alert(1)")
	status, body, _ := h.Ask("admin", http.MethodPost, "/feeds", q)
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "an address such as")
	status, _, _ = h.Ask("ana", http.MethodPost, "/feeds", url.Values{"_csrf": {h.Token["ana"]}, "name": {"ledger"}, "remove": {"1"}})
	assert.Equal(t, 403, status, "analysts run feeds, administrators connect them")
}
