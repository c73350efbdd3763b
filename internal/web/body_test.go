package web_test

import (
	"bufio"
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web"
	"turret/internal/web/page"
	"turret/internal/web/webtest"
)

// answers sends bytes on one connection and counts what comes back until it is closed.
func answers(t *testing.T, addr, sent string) []int {
	t.Helper()
	c, err := (&net.Dialer{}).DialContext(context.Background(), "tcp", addr)
	require.NoError(t, err)
	defer c.Close()
	go func() {
		_, _ = io.WriteString(c, sent)
		_ = c.(*net.TCPConn).CloseWrite()
	}()
	var list []int
	r := bufio.NewReader(c)
	for {
		_ = c.SetReadDeadline(time.Now().Add(30 * time.Second))
		resp, err := http.ReadResponse(r, nil)
		if err != nil {
			return list
		}
		list = append(list, resp.StatusCode)
		if _, err := io.Copy(io.Discard, resp.Body); err != nil {
			return list
		}
	}
}

// A body is never a request: whatever route and refusal answers without reading it, and wherever it ends beside what is read ahead (8,192
// bytes), what a handler reads (4 MB) and what is read and thrown away (1 MB more).
func TestABodyIsNoRequest(t *testing.T) {
	h := webtest.New(t)
	addr := h.Listening()
	const hidden = "GET /healthz HTTP/1.1\r\nHost: localhost\r\n\r\n"
	cookie := "Cookie: " + h.Cookie["lea"] + "\r\n"
	form := "Content-Type: application/x-www-form-urlencoded\r\n"
	multi := "Content-Type: multipart/form-data; boundary=b\r\n"
	heads := map[string]string{
		"sign out":             "POST /sign-out HTTP/1.1\r\nHost: localhost\r\n",
		"signed in, no token":  "POST /sign-out HTTP/1.1\r\nHost: localhost\r\n" + cookie + form,
		"another origin":       "POST /sign-out HTTP/1.1\r\nHost: localhost\r\nSec-Fetch-Site: cross-site\r\n" + cookie,
		"no such page":         "POST /nowhere HTTP/1.1\r\nHost: localhost\r\n" + cookie,
		"a read with a body":   "GET /healthz HTTP/1.1\r\nHost: localhost\r\n",
		"a head with a body":   "HEAD /healthz HTTP/1.1\r\nHost: localhost\r\n",
		"an asset":             "GET /assets/none.css HTTP/1.1\r\nHost: localhost\r\n",
		"a page for others":    "GET /setup/people HTTP/1.1\r\nHost: localhost\r\n",
		"a method there isn't": "PUT / HTTP/1.1\r\nHost: localhost\r\n",
		"the API":              "POST /api/v1/projects HTTP/1.1\r\nHost: localhost\r\n",
		"upload, signed out":   "POST /gather/drafts HTTP/1.1\r\nHost: localhost\r\n" + multi,
		"upload of no form":    "POST /gather/drafts HTTP/1.1\r\nHost: localhost\r\n" + cookie,
		"upload, no token":     "POST /gather/drafts HTTP/1.1\r\nHost: localhost\r\n" + cookie + multi,
		"restore, no right":    "POST /setup/import HTTP/1.1\r\nHost: localhost\r\n" + cookie + multi,
		"sign in":              "POST /sign-in HTTP/1.1\r\nHost: localhost\r\n" + form,
		"asked to continue":    "POST /sign-out HTTP/1.1\r\nHost: localhost\r\nExpect: 100-continue\r\n",
		"an older version":     "POST /sign-out HTTP/1.0\r\nHost: localhost\r\nConnection: keep-alive\r\n",
	}
	for name, head := range heads {
		for _, ahead := range []int{0, 1, 8191 - len(hidden), 8192 - len(hidden), 8191, 8192, 8193, 20_000} {
			body := strings.Repeat("a", ahead) + hidden
			got := answers(t, addr, fmt.Sprintf("%sContent-Length: %d\r\n\r\n%s", head, len(body), body))
			if name == "asked to continue" && len(got) > 0 && got[0] == 100 {
				got = got[1:]
			}
			assert.Len(t, got, 1, "%s, %d bytes before: %v", name, ahead, got)
		}
	}
	for _, ahead := range []int{page.FormLimit - 1, page.FormLimit, page.FormLimit + 1, page.Drained - len(hidden), page.Drained,
		page.Drained + 1} {
		body := strings.Repeat("a", ahead) + hidden
		got := answers(t, addr, fmt.Sprintf("%sContent-Length: %d\r\n\r\n%s", heads["sign out"], len(body), body))
		assert.LessOrEqual(t, len(got), 1, "%d bytes before: %v", ahead, got)
	}
}

// After a form that fails in its middle, and after what follows the last part of one.
func TestWhatFollowsAFormIsNoRequest(t *testing.T) {
	h := webtest.New(t)
	addr := h.Listening()
	const hidden = "GET /healthz HTTP/1.1\r\nHost: localhost\r\n\r\n"
	part := func(name, value string) string {
		return "--b\r\nContent-Disposition: form-data; name=\"" + name + "\"\r\n\r\n" + value + "\r\n"
	}
	token := part("_csrf", h.Token["lea"])
	file := "--b\r\nContent-Disposition: form-data; name=\"files\"; filename=\"x.csv\"\r\n\r\na,b\r\n1,2\r\n"
	for name, body := range map[string]string{
		"a wrong period":            token + part("period", "never") + strings.Repeat("x", 9000) + hidden,
		"after the last part":       token + part("period", "2026-10") + file + "--b--\r\n" + strings.Repeat("x", 9000) + hidden,
		"a part that does not end":  token + file + strings.Repeat("y", 9000) + hidden,
		"a token that does not fit": part("_csrf", "none") + file + strings.Repeat("x", 9000) + hidden,
	} {
		got := answers(t, addr, fmt.Sprintf("POST /gather/drafts HTTP/1.1\r\nHost: localhost\r\nCookie: %s\r\nContent-Type: "+
			"multipart/form-data; boundary=b\r\nContent-Length: %d\r\n\r\n%s",
			h.Cookie["lea"], len(body), body))
		assert.Len(t, got, 1, "%s: %v", name, got)
	}
}

// What is read in two ways is refused: a length told twice, a length and chunks, chunks told oddly.
func TestLengthsToldInTwoWays(t *testing.T) {
	h := webtest.New(t)
	addr := h.Listening()
	const hidden = "GET /healthz HTTP/1.1\r\nHost: localhost\r\n\r\n"
	for _, lengths := range []string{
		"Content-Length: 5\r\nTransfer-Encoding: chunked\r\n", "Transfer-Encoding: chunked\r\nContent-Length: 5\r\n",
		"Transfer-Encoding: chunked\r\nTransfer-Encoding: identity\r\n",
		"transfer-encoding: chunked\r\nCONTENT-LENGTH: 5\r\n", "Content-Length: 5\r\nContent-Length: 6\r\n", "Content-Length: +5\r\n",
		"Content-Length: 5, 5\r\n", "Content-Length: 0x5\r\n",
		"Transfer-Encoding: xchunked\r\n", "Transfer-Encoding: chunked, identity\r\n", "Transfer-Encoding : chunked\r\n",
		"Transfer-Encoding:\tchunked\r\nContent-Length : 5\r\n", "Content-Length: -1\r\n",
		"Transfer-Encoding: identity\r\nContent-Length: 5\r\n", "X: y\r\n Content-Length: 5\r\n",
	} {
		got := answers(t, addr, "POST /sign-out HTTP/1.1\r\nHost: localhost\r\n"+lengths+"\r\n0\r\n\r\n"+hidden)
		assert.LessOrEqual(t, len(got), 1, "%q: %v", lengths, got)
		for _, status := range got {
			assert.Equal(t, 400, status, "%q", lengths)
		}
	}
	assert.Len(t, answers(t, addr, "POST /sign-out HTTP/1.0\r\nHost: localhost\r\nConnection: keep-alive\r\nTransfer-Encoding: "+
		"chunked\r\n\r\n0\r\n\r\n"+hidden), 1)
	assert.Len(t, answers(t, addr, "POST /sign-out HTTP/1.1\r\nHost: localhost\r\nTransfer-Encoding: chunked\r\n\r\n0\r\n\r\n"+hidden), 1,
		"one in chunks is the last of its connection")
	assert.Len(t, answers(t, addr, hidden+hidden), 2, "requests one after the other are answered")
}

// Behind a proxy that shares one connection, nobody gets an answer that was made for another.
func TestNobodyGetsTheAnswerOfAnotherBehindAProxy(t *testing.T) {
	h := webtest.New(t)
	to, err := url.Parse("http://" + h.Listening())
	require.NoError(t, err)
	proxy := httputil.NewSingleHostReverseProxy(to)
	proxy.Transport = &http.Transport{MaxConnsPerHost: 1, MaxIdleConnsPerHost: 1}
	front := httptest.NewServer(proxy)
	defer front.Close()
	ask := func(method, path, body, cookie string) (int, string) {
		r, err := http.NewRequestWithContext(context.Background(), method, front.URL+path, strings.NewReader(body))
		require.NoError(t, err)
		r.Header.Set("Cookie", cookie)
		resp, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		defer resp.Body.Close()
		b, err := io.ReadAll(resp.Body)
		require.NoError(t, err)
		return resp.StatusCode, string(b)
	}
	for range 3 {
		ask(http.MethodPost, "/sign-out", strings.Repeat("a", 8192)+"GET /people/me HTTP/1.1\r\nHost: localhost\r\nX: ", h.Cookie["lea"])
		status, html := ask(http.MethodGet, "/healthz", "", h.Cookie["admin"])
		assert.Equal(t, 200, status)
		assert.Equal(t, "ok", html)
	}
}

// Every form that is one byte larger than a form may be is refused, by whoever sends it, and nothing of it is done.
func TestEveryFormIsBounded(t *testing.T) {
	h := webtest.New(t)
	body := "_csrf=" + h.Token["ana"] + "&x="
	body += strings.Repeat("x", page.FormLimit+1-len(body))
	before, err := h.Store.Loads(context.Background())
	require.NoError(t, err)
	n := 0
	for _, route := range h.Server.App.GetRoutes(true) {
		if route.Method != http.MethodPost || page.IsUpload(route.Path) {
			continue
		}
		n++
		path := strings.NewReplacer(":id", "1", ":code", "A1", ":name", "x", ":kind", "status", ":file", "x", ":sheet", "0", ":key",
			"x").Replace(route.Path)
		for _, who := range []string{"", "ana", "lea"} {
			r := httptest.NewRequest(http.MethodPost, path, strings.NewReader(body))
			r.Host = "localhost"
			r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
			r.Header.Set("Cookie", h.Cookie[who])
			resp, err := h.Server.App.Test(r, webtest.Patient)
			require.NoError(t, err)
			assert.Contains(t, []int{403, 405, 413, 429}, resp.StatusCode, "%s as %q", path, who)
			require.NoError(t, resp.Body.Close())
		}
	}
	assert.Greater(t, n, 30)
	after, err := h.Store.Loads(context.Background())
	require.NoError(t, err)
	assert.Equal(t, len(before), len(after))
}

// Who asks for much and reads nothing is let go, and the server ends at once.
func TestAReaderThatNeverReads(t *testing.T) {
	was := *web.Slowest
	*web.Slowest = 500 * time.Millisecond
	t.Cleanup(func() { *web.Slowest = was })
	h := webtest.New(t)
	path := ""
	for _, name := range regexp.MustCompile(`/assets/turret-[0-9a-f]+\.css`).FindAllString(h.Page("ana", "/"), 1) {
		path = name
	}
	require.NotEmpty(t, path)
	addr := h.Listening()
	c, err := (&net.Dialer{}).DialContext(context.Background(), "tcp", addr)
	require.NoError(t, err)
	defer c.Close()
	require.NoError(t, c.(*net.TCPConn).SetReadBuffer(4096))
	gone := make(chan error, 1)
	go func() { // writes until the server has given the connection up
		for {
			if _, err := io.WriteString(c, "GET "+path+" HTTP/1.1\r\nHost: localhost\r\n\r\n"); err != nil {
				gone <- err
				return
			}
		}
	}()
	select {
	case err := <-gone:
		assert.Error(t, err)
	case <-time.After(time.Minute):
		t.Fatal("the connection is held though nothing is read")
	}
	assert.Equal(t, []int{200}, answers(t, addr, "GET /healthz HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n"))
}
