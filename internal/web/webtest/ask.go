package webtest

import (
	"bytes"
	"encoding/json"
	"io"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"sort"
	"strings"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Ask sends a request of somebody, "" for nobody, with a form where there is one, and returns the status, the page and the head.
func (h *House) Ask(who, method, path string, form url.Values, header ...string) (int, string, http.Header) {
	h.T.Helper()
	var body io.Reader
	if form.Get("_csrf") == Hidden {
		form.Set("_csrf", h.Token[who])
	}
	if form != nil {
		body = strings.NewReader(form.Encode())
	}
	r := httptest.NewRequest(method, path, body)
	r.Host = "localhost"
	if form != nil {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	if c := h.Cookie[who]; c != "" {
		r.Header.Set("Cookie", c)
	}
	for i := 0; i+1 < len(header); i += 2 {
		r.Header.Set(header[i], header[i+1])
	}
	resp, err := h.Server.App.Test(r, Patient)
	require.NoError(h.T, err)
	defer resp.Body.Close()
	b, err := io.ReadAll(resp.Body)
	require.NoError(h.T, err)
	return resp.StatusCode, string(b), resp.Header
}

// Drop posts files as the browser does.
func (h *House) Drop(who string, names map[string]string) (int, string) {
	h.T.Helper()
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	_ = w.WriteField("_csrf", h.Token[who])
	_ = w.WriteField("source", "somebody")
	_ = w.WriteField("period", "2026-10")
	var order []string
	for n := range names {
		order = append(order, n)
	}
	sort.Strings(order)
	for _, n := range order {
		p, _ := w.CreateFormFile("files", n)
		_, _ = io.WriteString(p, names[n])
	}
	require.NoError(h.T, w.Close())
	r := httptest.NewRequest(http.MethodPost, "/gather/drafts", &b)
	r.Host = "localhost"
	r.Header.Set("Content-Type", w.FormDataContentType())
	r.Header.Set("Cookie", h.Cookie[who])
	resp, err := h.Server.App.Test(r, Patient)
	require.NoError(h.T, err)
	defer resp.Body.Close()
	return resp.StatusCode, resp.Header.Get("Location")
}

// Page is what somebody is shown, without the token of its forms: that is drawn by chance, and may hold the code of a project.
func (h *House) Page(who, path string) string {
	h.T.Helper()
	status, body, _ := h.Ask(who, http.MethodGet, path, nil)
	require.Equal(h.T, 200, status, path)
	if h.Token[who] == "" {
		return body
	}
	return strings.ReplaceAll(body, h.Token[who], Hidden)
}

// Send posts a form of pairs with the token of whoever sends it.
func (h *House) Send(who, path string, pairs ...string) (int, string, http.Header) {
	h.T.Helper()
	form := url.Values{"_csrf": {h.Token[who]}}
	for i := 0; i+1 < len(pairs); i += 2 {
		form.Set(pairs[i], pairs[i+1])
	}
	return h.Ask(who, http.MethodPost, path, form)
}

// Shut asks for an address that must not answer with a page.
func (h *House) Shut(who, path string, status int) {
	h.T.Helper()
	got, body, _ := h.Ask(who, http.MethodGet, path, nil)
	assert.Equal(h.T, status, got, body)
}

// Do sends a form of registers and returns where it leads; the answer is a redirect unless status says otherwise.
func (h *House) Do(who, path string, status int, pairs ...string) string {
	h.T.Helper()
	q := url.Values{"_csrf": {h.Token[who]}}
	for i := 0; i+1 < len(pairs); i += 2 {
		q.Set(pairs[i], pairs[i+1])
	}
	got, body, head := h.Ask(who, http.MethodPost, path, q)
	require.Equal(h.T, status, got, body)
	if status != http.StatusSeeOther {
		return body
	}
	return head.Get("Location")
}

// Post sends a form of pairs, of which a name may stand in several, and returns the status.
func (h *House) Post(who, path string, pairs ...string) int {
	h.T.Helper()
	q := url.Values{"_csrf": {h.Token[who]}}
	for i := 0; i+1 < len(pairs); i += 2 {
		q.Add(pairs[i], pairs[i+1])
	}
	status, _, _ := h.Ask(who, http.MethodPost, path, q)
	return status
}

// SendJSON sends as scripts do and reads what is answered.
func (h *House) SendJSON(who, path, body string) (int, map[string]any) {
	h.T.Helper()
	code, text, _ := h.PostJSON(who, path, body)
	var out map[string]any
	_ = json.Unmarshal([]byte(text), &out)
	return code, out
}

// PostJSON sends as scripts do, which want errors as JSON too.
func (h *House) PostJSON(who, path, body string) (int, string, http.Header) {
	h.T.Helper()
	r := httptest.NewRequest(http.MethodPost, path, strings.NewReader(body))
	r.Host = "localhost"
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set("Accept", "application/json")
	r.Header.Set("Cookie", h.Cookie[who])
	r.Header.Set("X-Csrf-Token", h.Token[who])
	resp, err := h.Server.App.Test(r, Patient)
	require.NoError(h.T, err)
	defer resp.Body.Close()
	b, err := io.ReadAll(resp.Body)
	require.NoError(h.T, err)
	return resp.StatusCode, string(b), resp.Header
}
