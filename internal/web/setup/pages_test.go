package setup_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/audit"
	"turret/internal/app/setting"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

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
