package report_test

import (
	"bytes"
	"context"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/web/webtest"
)

// Lists, marks, notices, what is usual for a role, reviews and questions are the office's; none of it is changed by others.
func TestTheOfficesFormsAreTheOffices(t *testing.T) {
	h := webtest.New(t)
	forms := map[string][]string{"/reports/sending": {"name", "x", "report", "executive", "format", "pdf", "day", "0", "role",
		"executive"}, "/reports/sending/end": {"id", "1"},
		"/reports/sending/now": {"id", "1"}, "/reports/mark/end": {}, "/lookout/notice": {"text", "x", "until", "2099-01-01"},
		"/lookout/arrange": {"do", "role", "role", "executive", "panel", "waits"},
		"/publish/review":  {"period", "2026-10", "on", "1"}, "/projects/A1/say": {"on", "cost", "text", "why?", "asks", "1"}}
	for path, pairs := range forms {
		for _, who := range []string{"lea", "exe", "nar"} {
			if who == "nar" && path == "/projects/A1/say" {
				continue // within her scope she is the office
			}
			assert.Contains(t, []int{403, 404}, h.Post(who, path, pairs...), "%s as %s", path, who)
		}
		assert.Equal(t, 303, h.Post("", path, pairs...), "%s as nobody leads to the sign-in", path)
	}
	ctx := access.As(context.Background(), access.Operator("x"))
	lists, err := h.Office.Mailing.List(ctx)
	require.NoError(t, err)
	assert.Empty(t, lists)
	assert.Equal(t, 303, h.Post("ana", "/reports/sending", forms["/reports/sending"]...))
	assert.Equal(t, 303, h.Post("ana", "/lookout/arrange", forms["/lookout/arrange"]...))
	assert.Equal(t, 422, h.Post("ana", "/lookout/notice", "text", "x", "until", "tomorrow"))
	assert.Equal(t, 422, h.Post("ana", "/lookout/arrange", "panel", "none"))
	assert.NotContains(t, h.Page("exe", "/"), "What needs attention", "as set for the role")
	assert.Contains(t, h.Page("ana", "/"), "What needs attention")
	assert.Contains(t, h.Page("ana", "/reports/sending"), "every executive")
}

// What one keeps for oneself is not another's to see, use or take away.
func TestReportsThatPeopleKeep(t *testing.T) {
	h := webtest.New(t)
	require.Equal(t, 303, h.Post("lea", "/reports", "name", "Mine alone", "query", "part=status&columns.status=bac"))
	require.Equal(t, 303, h.Post("ana", "/reports", "name", "For all", "query", "part=status", "shared", "1"))
	assert.Equal(t, 422, h.Post("lea", "/reports", "name", "Nothing in it", "query", ""))
	assert.Equal(t, 422, h.Post("lea", "/reports", "name", "Not so", "query", "part=none"))
	assert.Equal(t, 422, h.Post("lea", "/reports", "name", " ", "query", "part=status"))
	assert.Contains(t, h.Page("lea", "/reports"), "Mine alone")
	assert.NotContains(t, h.Page("ana", "/reports"), "Mine alone")
	assert.Contains(t, h.Page("exe", "/reports"), "shared by")
	ctx := access.As(context.Background(), &access.Actor{Login: "ana", Name: "x", Role: access.Analyst})
	list, err := h.Office.Report.List(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, 403, h.Post("lea", "/reports/end", "id", "2"))
	status, _, _ := h.Ask("ana", http.MethodGet, "/reports/file/pdf?report=1", nil)
	assert.Equal(t, 404, status, "not hers to open by its number either")
	assert.Equal(t, 303, h.Post("lea", "/reports", "name", "Mine alone", "query", "part=headline"), "in its place")
	lea := access.As(context.Background(), &access.Actor{Login: "lea", Name: "x", Role: access.Lead})
	list, err = h.Office.Report.List(lea)
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, 422, h.Post("ana", "/reports/sending", "name", "x", "report", "3", "format", "pdf", "day", "0", "role", "executive"),
		"a report that is not shared is not sent")
}

// A mark comes with the token of the session, before the picture; without it nothing is read.
func TestAMarkNeedsTheToken(t *testing.T) {
	h := webtest.New(t)
	send := func(token string, picture []byte) int {
		var b bytes.Buffer
		w := multipart.NewWriter(&b)
		_ = w.WriteField("_csrf", token)
		p, _ := w.CreateFormFile("file", "mark.png")
		_, _ = p.Write(picture)
		_ = w.Close()
		r := httptest.NewRequest(http.MethodPost, "/reports/mark", &b)
		r.Host = "localhost"
		r.Header.Set("Content-Type", w.FormDataContentType())
		r.Header.Set("Cookie", h.Cookie["ana"])
		resp, err := h.Server.App.Test(r, webtest.Patient)
		require.NoError(t, err)
		defer resp.Body.Close()
		return resp.StatusCode
	}
	assert.Equal(t, 403, send("stale", []byte("x")))
	assert.Equal(t, 422, send(h.Token["ana"], []byte("x")), "no picture")
	m, err := h.Office.Setting.Mark(access.As(context.Background(), access.Operator("x")))
	require.NoError(t, err)
	assert.Nil(t, m)
}
