package web_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

// A view is for its owner, or for all where it is shared; another cannot take it away, and a table's views are its own.
func TestViewsOfATable(t *testing.T) {
	h := webtest.New(t)
	views := func(who, table string) string {
		code, body, _ := h.Ask(who, http.MethodGet, "/tables/"+table+"/views", nil)
		require.Equal(t, http.StatusOK, code)
		var list []struct {
			Name, Says string
			Own        bool
		}
		require.NoError(t, json.Unmarshal([]byte(body), &list), body)
		words := make([]string, len(list))
		for i, v := range list {
			words[i] = fmt.Sprintf("%s, %s, %v", v.Name, v.Says, v.Own)
		}
		return strings.Join(words, "; ")
	}
	code, made := h.SendJSON("ana", "/tables/milestones/views", `{"name":"Late","query":"t-milestones=x","shared":true}`)
	require.Equal(t, http.StatusOK, code)
	code, _ = h.SendJSON("ana", "/tables/milestones/views", `{"name":"Mine","query":"","shared":false}`)
	require.Equal(t, http.StatusOK, code)
	assert.Equal(t, "Late, your own, shared, true; Mine, your own, true", views("ana", "milestones"))
	assert.Equal(t, "Late, shared by Ana, false", views("exe", "milestones"))
	assert.Empty(t, views("ana", "dependencies"))
	end := fmt.Sprintf(`{"id":%v}`, made["id"])
	code, _ = h.SendJSON("lea", "/tables/milestones/views/end", end)
	assert.Equal(t, http.StatusForbidden, code)
	code, _ = h.SendJSON("ana", "/tables/dependencies/views/end", end)
	assert.Equal(t, http.StatusNotFound, code)
	code, _ = h.SendJSON("ana", "/tables/milestones/views/end", end)
	assert.Equal(t, http.StatusOK, code)
	assert.Equal(t, "Mine, your own, true", views("ana", "milestones"))
}

// A table is written as it was shown; one that is none, too wide, too long or of no name is refused with the reason.
func TestTablesAsShown(t *testing.T) {
	h := webtest.New(t)
	long := strings.TrimSuffix(strings.Repeat(`["x"],`, 20_001), ",")
	for _, x := range []struct {
		path, body string
		code       int
		says       string
	}{
		{"/tables/milestones.csv", `{"heads":["A"],"rows":[["1"]]}`, http.StatusOK, ""},
		{"/tables/milestones.xlsx", `{"heads":[],"rows":[]}`, http.StatusOK, ""},
		{"/tables/milestones.csv", `{"heads":["A"],"rows":[["1","2"]]}`, http.StatusUnprocessableEntity, "1 cells in row 1"},
		{"/tables/milestones.csv", `{"heads":["A"],"rows":[` + long + `]}`, http.StatusUnprocessableEntity, "at most 20000 rows"},
		{"/tables/milestones.csv", `rows`, http.StatusBadRequest, "cannot be read"},
		{"/tables/..%2Fx.csv", `{}`, http.StatusNotFound, ""},
		{"/tables/milestones/views", `{"name":"  "}`, http.StatusUnprocessableEntity, "a name of at most 80"},
		{"/tables/UPPER/views", `{"name":"x"}`, http.StatusNotFound, ""},
	} {
		code, body, _ := h.PostJSON("exe", x.path, x.body)
		assert.Equal(t, x.code, code, x.path)
		assert.Contains(t, body, x.says, x.path)
	}
	_, body, head := h.PostJSON("exe", "/tables/milestones.csv", `{"heads":["A"],"rows":[["1"]]}`)
	assert.Equal(t, "csvmilestones[A] [[1]]", body, "what the writer of files was given")
	assert.Contains(t, head.Get("Content-Disposition"), `filename="milestones.csv"`)
}
