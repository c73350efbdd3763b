package prefix_test

import (
	"bufio"
	"bytes"
	"net/http"
	"strings"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/compress"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/valyala/fasthttp/fasthttputil"

	"turret/internal/web/prefix"
)

const home = `<!DOCTYPE html><html lang="en"><body><a href="/money?asof=2026-10-31">Money</a> <a href="/">Home</a>` +
	`<a href="#top">Top</a><a href="?page=2">2</a><a href="//elsewhere/x">Elsewhere</a><a href="https://elsewhere/">Elsewhere</a>` +
	`<form method="post" action="/sent"><input type="hidden" name="back" value="/money"><button formaction="/draft">Keep</button></form>` +
	`<div hx-get="/rest" data-save="/money/A" data-code="A/B"></div><script src="/assets/x.js"></script>` +
	`<p>It says: href="/not" &#34;/nor&#34;</p><script type="application/json">{"a": " href=\"/nor\" src="}</script></body></html>`

// served is a server below a path: pages of all kinds, as Turret's are put together.
func served(t *testing.T, base string) func(method, target string, heads ...string) *http.Response {
	t.Helper()
	p, err := prefix.Parse(base)
	require.NoError(t, err)
	app := fiber.New(fiber.Config{ErrorHandler: func(c fiber.Ctx, _ error) error {
		c.Set("Content-Type", "text/html; charset=utf-8")
		return c.Status(http.StatusNotFound).SendString(`<html><a href="/">Home</a></html>`)
	}})
	app.Use(func(c fiber.Ctx) error {
		if err := c.Next(); err != nil {
			return c.App().ErrorHandler(c, err)
		}
		return nil
	}, compress.New(), p.Use)
	app.Get("/", func(c fiber.Ctx) error { return c.Type("html", "utf-8").SendString(home) })
	app.Get("/plain", func(c fiber.Ctx) error { return c.SendString(`<a href="/">`) })
	app.Get("/seen", func(c fiber.Ctx) error {
		return c.SendString(c.OriginalURL() + " " + c.Path() + " " + c.Get("HX-Current-URL"))
	})
	app.Get("/known", func(c fiber.Ctx) error { return c.SendString(c.Get("Cookie")) })
	app.Get("/gone", func(c fiber.Ctx) error {
		c.Cookie(&fiber.Cookie{Name: "way", Value: "1", Path: "/sign-in", HTTPOnly: true})
		c.Cookie(&fiber.Cookie{Name: "__Host-who", Value: "2", Path: "/", Secure: true, SameSite: fiber.CookieSameSiteLaxMode})
		c.Cookie(&fiber.Cookie{Name: "told", Path: "/", MaxAge: -1})
		c.Set("HX-Redirect", "/money")
		return c.Redirect().To("/money?a=/b")
	})
	app.Get("/away", func(c fiber.Ctx) error { return c.Redirect().To("https://elsewhere/sign-in") })
	server := app.Server()
	server.Handler = p.Handler(server.Handler)
	l := fasthttputil.NewInmemoryListener()
	go func() { _ = app.Listener(l, fiber.ListenConfig{DisableStartupMessage: true}) }()
	t.Cleanup(func() { _ = app.Shutdown() })
	return func(method, target string, heads ...string) *http.Response {
		conn, err := l.Dial()
		require.NoError(t, err)
		t.Cleanup(func() { _ = conn.Close() })
		r, err := http.NewRequestWithContext(t.Context(), method, "http://turret.example"+target, nil)
		require.NoError(t, err)
		for i := 0; i < len(heads); i += 2 {
			r.Header.Set(heads[i], heads[i+1])
		}
		require.NoError(t, r.Write(conn))
		res, err := http.ReadResponse(bufio.NewReader(conn), r)
		require.NoError(t, err)
		t.Cleanup(func() { _ = res.Body.Close() })
		return res
	}
}

func text(t *testing.T, r *http.Response) string {
	t.Helper()
	var b bytes.Buffer
	_, err := b.ReadFrom(r.Body)
	require.NoError(t, err)
	return b.String()
}

// Every address that leads back here gets the path once; what is no address, or leads elsewhere, stays as it was written.
func TestAddressesOfAPageGetThePath(t *testing.T) {
	ask := served(t, "/office/turret/")
	want := strings.NewReplacer(`<html lang="en">`, `<html lang="en" data-base="/office/turret">`,
		`<a href="/money`, `<a href="/office/turret/money`, `<a href="/">`, `<a href="/office/turret/">`,
		`action="/sent"`, `action="/office/turret/sent"`, `formaction="/draft"`, `formaction="/office/turret/draft"`,
		`hx-get="/rest"`, `hx-get="/office/turret/rest"`, `data-save="/money/A"`, `data-save="/office/turret/money/A"`,
		`src="/assets`, `src="/office/turret/assets`).Replace(home)
	for _, target := range []string{"/office/turret/", "/office/turret", "/"} { // the last as of a proxy that takes the path off
		assert.Equal(t, want, text(t, ask(http.MethodGet, target)), target)
	}
	assert.Equal(t, `<a href="/">`, text(t, ask(http.MethodGet, "/office/turret/plain")), "a file stays as it is")
	assert.Equal(t, `<html data-base="/office/turret"><a href="/office/turret/">Home</a></html>`,
		text(t, ask(http.MethodGet, "/office/turret/nothing")), "and the page of an error")
	packed := ask(http.MethodGet, "/office/turret/", "Accept-Encoding", "gzip")
	if packed.Header.Get("Content-Encoding") == "gzip" { // short pages are not
		assert.NotEqual(t, want, text(t, packed))
	}
	assert.Equal(t, home, text(t, served(t, "")(http.MethodGet, "/")), "without a path nothing is touched")
}

// Inside, nobody knows of the path: not in what was asked for, nor in where a part of a page was asked from.
func TestTheRestOfTheServerDoesNotKnowThePath(t *testing.T) {
	ask := served(t, "/turret")
	for target, want := range map[string]string{"/turret/seen?a=/turret/b": "/seen?a=/turret/b /seen http://turret.example/money?x=1",
		"/seen": "/seen /seen http://turret.example/money?x=1"} {
		assert.Equal(t, want, text(t, ask(http.MethodGet, target, "HX-Current-URL", "http://turret.example/turret/money?x=1")))
	}
	assert.Equal(t, "/seen /seen http://turret.example/turretish/x",
		text(t, ask(http.MethodGet, "/seen", "HX-Current-URL", "http://turret.example/turretish/x")))
	assert.Equal(t, http.StatusNotFound, ask(http.MethodGet, "/turretseen").StatusCode, "only whole segments are taken off")
}

func namesOf(list []*http.Cookie) (names []string) {
	for _, c := range list {
		names = append(names, c.Name)
	}
	return names
}

// Two below one host name get each other's cookies from the browser, and know only their own, by the names that they gave them.
func TestEachBelowOneNameHasItsOwnCookies(t *testing.T) {
	const all = "who=0; who~turret=1; who~turret~b=2"
	for base, want := range map[string]string{"/turret": "who=1", "/turret/b": "who=2", "/b": "", "": all} {
		got := text(t, served(t, base)(http.MethodGet, base+"/known", "Cookie", all))
		assert.Equal(t, want, got, base)
	}
}

func TestWhereOneIsSentAndCookiesGetThePath(t *testing.T) {
	ask := served(t, "/turret")
	r := ask(http.MethodGet, "/turret/gone")
	assert.Equal(t, "/turret/money?a=/b", r.Header.Get("Location"))
	assert.Equal(t, "/turret/money", r.Header.Get("HX-Redirect"))
	assert.Equal(t, []string{"way~turret=1; Path=/turret/sign-in; HttpOnly; SameSite=Lax",
		"__Host-who~turret=2; Path=/; Secure; SameSite=Lax", "told~turret=; Path=/; Max-Age=0; SameSite=Lax"},
		r.Header.Values("Set-Cookie"), "one bound to the host has to stand for all of it")
	r = served(t, "")(http.MethodGet, "/gone")
	assert.Equal(t, []string{"way", "__Host-who", "told"}, namesOf(r.Cookies()), "without a path they are as they were")
	assert.Equal(t, "https://elsewhere/sign-in", ask(http.MethodGet, "/turret/away").Header.Get("Location"))
}

func TestPathsThatAreNone(t *testing.T) {
	for _, wrong := range []string{"turret", "//turret", "/a b", "/a?b", "/../a", "/.a", `/"`, "https://turret.example/x", "/a//b", "/ä"} {
		_, err := prefix.Parse(wrong)
		assert.ErrorContains(t, err, "expected a path such as /turret", wrong)
	}
	for text, want := range map[string]prefix.Path{"": "", "/": "", "/turret": "/turret", "/a-1/b_c.d/": "/a-1/b_c.d"} {
		p, err := prefix.Parse(text)
		require.NoError(t, err)
		assert.Equal(t, want, p)
	}
}
