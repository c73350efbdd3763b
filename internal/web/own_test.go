package web_test

import (
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

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
