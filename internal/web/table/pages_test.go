package table_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// Tables go by fields of the office's own, and those that were saved go on where a field is closed.
func TestPagesOfOwnFields(t *testing.T) {
	h := webtest.New(t)
	send := func(kind record.Kind, text string) {
		apptest.Send(t, h.Office, apptest.Sent{Kind: kind, Period: apptest.October, Text: text})
	}
	send(record.OwnFields, "code,name,type,choices\nside,Side of the river,choice,\"left,right\"\n")
	send(record.Projects, "code,name,parent,lead,own.side\nA1,Gate,A,Lea,right\n")
	const path = "/assess/table?asof=2026-10-31&columns=own.side&columns=bac&sort=own.side"
	code, body, _ := h.Ask("ana", http.MethodGet, path+"&own.side=right", nil)
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, body, `data-project="A1"`)
	assert.Contains(t, body, "Side of the river")
	_, body, _ = h.Ask("ana", http.MethodGet, path+"&own.side=left", nil)
	assert.NotContains(t, body, `data-project="A1"`)
	_, body, _ = h.Ask("lea", http.MethodGet, "/projects/A1?asof=2026-10-31", nil)
	assert.Contains(t, body, "Side of the river")
	_, body, _ = h.Ask("exe", http.MethodGet, "/projects?asof=2026-10-31&columns=own.side&columns=bac", nil)
	assert.Regexp(t, `(?s)<thead>.*Side of the river.*</thead>`, body, "a field is no cost, and is not kept from those who see none")
	assert.NotContains(t, body, "Budget at completion")
	_, body, _ = h.Ask("ana", http.MethodGet, "/money/projects?asof=2026-10-31", nil)
	assert.NotContains(t, body, `name="columns" value="own.side"`, "columns of a table of money are figures of money")
	code, _, _ = h.Ask("lea", http.MethodGet, "/edit/own_fields", nil)
	assert.Equal(t, http.StatusForbidden, code)

	send(record.OwnFields, "code,name,type,choices,closed\nside,Side of the river,choice,\"left,right\",yes\n")
	assert.Eventually(t, func() bool { // the figures of before are shown while they are computed
		code, body, _ := h.Ask("ana", http.MethodGet, path+"&own.side=left", nil)
		return code == http.StatusOK && strings.Contains(body, `data-project="A1"`) && !strings.Contains(body, "Side of the river")
	}, 20*time.Second, 50*time.Millisecond, "a table that was saved goes on without the field")
}

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
