package api_test

import (
	"context"
	"encoding/json"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/web/webtest"
)

// The API answers to keys, each within what its owner may read, and its description names the routes that there are.
func TestAPI(t *testing.T) {
	h := webtest.New(t)
	people, err := h.Store.Accounts(context.Background())
	require.NoError(t, err)
	keys := map[string]string{}
	for i := range people {
		key, err := h.Office.Account.MakeToken(access.As(context.Background(), people[i].Actor()), "a test")
		require.NoError(t, err)
		keys[people[i].Login] = key
	}
	ask := func(who, path string) (int, map[string]any) {
		status, body, _ := h.Ask("", http.MethodGet, "/api/v1"+path, nil, "Authorization", "Bearer "+keys[who])
		var v map[string]any
		require.NoError(t, json.Unmarshal([]byte(body), &v), body)
		return status, v
	}
	status, v := ask("lea", "/projects")
	assert.Equal(t, 200, status)
	assert.Len(t, v["projects"], 1)
	_, v = ask("ana", "/measures?keys=bac,vac&asof=2026-10-31")
	assert.Len(t, v["projects"], 3)
	total := v["total"].(map[string]any)["bac"].(map[string]any)
	assert.Equal(t, "1554579.00", total["value"], "777,123 and 777,456")
	assert.Equal(t, true, v["complete"])
	assert.Equal(t, []any{}, v["missing"])
	_, v = ask("lea", "/projects?asof=2027-03-31")
	assert.Equal(t, false, v["complete"], "nothing has come for March 2027")
	assert.Equal(t, []any{map[string]any{"project": "A1", "kind": "activities", "last": "2026-10"},
		map[string]any{"project": "A1", "kind": "forecast", "last": "2026-10"}}, v["missing"])
	_, v = ask("exe", "/projects/A1")
	bac := v["measures"].(map[string]any)["bac"].(map[string]any)
	assert.Nil(t, bac["value"])
	assert.Equal(t, "costs are not shown to you", bac["reason"])
	status, _ = ask("lea", "/projects/B1")
	assert.Equal(t, 404, status)
	status, _ = ask("ana", "/measures?keys=nonsense")
	assert.Equal(t, 422, status)
	status, _ = ask("exe", "/loads")
	assert.Equal(t, 403, status)
	for before, want := range map[string]int{"1": 200, "0": 200, "-1": 422, "x": 422, "1.5": 422} {
		status, _ = ask("ana", "/loads?before="+before)
		assert.Equal(t, want, status, before)
	}
	status, v = ask("ana", "/loads/1")
	assert.Equal(t, 200, status)
	assert.Equal(t, "structure.csv", v["file"])
	status, _ = ask("nobody", "/projects")
	assert.Equal(t, 401, status)
	status, _, _ = h.Ask("ana", http.MethodGet, "/api/v1/projects", nil)
	assert.Equal(t, 401, status, "a session is no key")

	var doc struct{ Paths map[string]any }
	_, spoken, _ := h.Ask("ana", http.MethodGet, "/api/v1/openapi.json", nil)
	require.NoError(t, json.Unmarshal([]byte(spoken), &doc))
	described := map[string]bool{}
	for p := range doc.Paths {
		described["/api/v1"+strings.NewReplacer("{", ":", "}", "").Replace(p)] = true
	}
	served := map[string]bool{}
	for _, r := range h.Server.App.GetRoutes(true) {
		if strings.HasPrefix(r.Path, "/api/") && r.Method == http.MethodGet {
			served[r.Path] = true
		}
	}
	assert.Equal(t, served, described)
}
