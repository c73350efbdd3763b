// Package prefix lets Turret be served below a path of a host name, behind a proxy that keeps the path or takes it away. The rest of Turret
// knows nothing of it: addresses lose the path when they come in and get it when they go out.
package prefix

import (
	"bytes"
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strings"

	"github.com/gofiber/fiber/v3"
	"github.com/valyala/fasthttp"
	"golang.org/x/net/html"
)

// Path is what stands before every address, such as "/turret"; empty for nothing.
type Path string

var allowed = regexp.MustCompile(`^(/[A-Za-z0-9][A-Za-z0-9._-]*)+$`)

// Parse reads a path: segments of letters, digits, dots, lines and underscores, with or without a slash at the end.
func Parse(text string) (Path, error) {
	p := strings.TrimSuffix(text, "/")
	if p != "" && !allowed.MatchString(p) {
		return "", fmt.Errorf("%q: expected a path such as /turret", text)
	}
	return Path(p), nil
}

// rewritten is the mark of a request whose answer has its addresses put right.
const rewritten = "turret.prefix"

// Handler takes the path off what comes in, so that the next handler knows only its own addresses, and puts it before the addresses of
// what goes out. Requests without the path are served too: a proxy may have taken it off.
func (p Path) Handler(next fasthttp.RequestHandler) fasthttp.RequestHandler {
	if p == "" {
		return next
	}
	return func(c *fasthttp.RequestCtx) {
		c.Request.SetRequestURI(p.off(string(c.Request.Header.RequestURI())))
		if at, err := url.Parse(string(c.Request.Header.Peek("HX-Current-URL"))); err == nil && at.Host != "" {
			at.Path, at.RawPath = p.off(at.Path), ""
			c.Request.Header.Set("HX-Current-URL", at.String())
		}
		p.take(&c.Request.Header)
		next(c)
		if c.UserValue(rewritten) == nil { // an error is answered outside the middleware
			p.body(&c.Response)
		}
		p.headers(&c.Response.Header)
	}
}

// Use puts the path before the addresses of pages; it stands before what compresses them.
func (p Path) Use(c fiber.Ctx) error {
	err := c.Next()
	if p != "" && err == nil {
		p.body(c.Response())
		c.RequestCtx().SetUserValue(rewritten, true)
	}
	return err
}

// off takes the path off an address, with or without a host.
func (p Path) off(address string) string {
	rest, ok := strings.CutPrefix(address, string(p))
	switch {
	case !ok || rest != "" && rest[0] != '/' && rest[0] != '?':
		return address
	case rest == "" || rest[0] == '?':
		return "/" + rest
	}
	return rest
}

// headers puts the path before where one is sent, and into cookies.
func (p Path) headers(h *fasthttp.ResponseHeader) {
	for _, name := range []string{"Location", "HX-Redirect", "HX-Push-Url"} {
		if to := string(h.Peek(name)); ours(to) {
			h.Set(name, string(p)+to)
		}
	}
	p.give(h)
}

// mark ends the names of cookies, so that several Turrets below one host name, to which cookies belong, keep each their own. Neither paths
// nor names have its first letter.
func (p Path) mark() string { return strings.ReplaceAll(string(p), "/", "~") }

// take leaves of the cookies that came in those of this path, by their own names.
func (p Path) take(h *fasthttp.RequestHeader) {
	own := map[string]string{}
	for name, value := range h.Cookies() {
		if name, mark, _ := strings.Cut(string(name), "~"); "~"+mark == p.mark() {
			own[name] = string(value)
		}
	}
	h.DelAllCookies()
	for name, value := range own {
		h.SetCookie(name, value)
	}
}

// give marks the cookies that go out, and puts the path before that of those that do not belong to the whole host.
func (p Path) give(h *fasthttp.ResponseHeader) {
	var own []string
	for _, raw := range h.Cookies() {
		if x, err := http.ParseSetCookie(string(raw)); err == nil {
			x.Name += p.mark()
			if len(x.Path) > 1 {
				x.Path = string(p) + x.Path
			}
			own = append(own, x.String())
		}
	}
	h.DelAllCookies()
	for _, x := range own {
		h.Add("Set-Cookie", x)
	}
}

// ours reports whether an address leads to a page of this server.
func ours(address string) bool {
	return strings.HasPrefix(address, "/") && !strings.HasPrefix(address, "//")
}

// addressed are the attributes whose value may be an address. What data attributes hold is one where it begins with a slash.
var addressed = regexp.MustCompile(`(\s(?:href|src|action|formaction|hx-get|hx-post|data-[a-z-]+)=")(/[^/"]|/")`)

// body puts the path before the addresses of a page, and tells scripts of it.
func (p Path) body(r *fasthttp.Response) {
	if !bytes.HasPrefix(r.Header.ContentType(), []byte("text/html")) || r.IsBodyStream() || len(r.Header.ContentEncoding()) > 0 {
		return
	}
	var out bytes.Buffer
	out.Grow(len(r.Body()) + len(r.Body())/16)
	with := []byte("${1}" + string(p) + "${2}")
	for z := html.NewTokenizer(bytes.NewReader(r.Body())); ; {
		kind := z.Next()
		raw := bytes.Clone(z.Raw())
		if kind == html.StartTagToken || kind == html.SelfClosingTagToken {
			if name, _ := z.TagName(); string(name) == "html" {
				raw = append(raw[:len(raw)-1], ` data-base="`+string(p)+`">`...)
			} else if bytes.Contains(raw, []byte(`="/`)) {
				raw = addressed.ReplaceAll(raw, with)
			}
		}
		out.Write(raw)
		if kind == html.ErrorToken {
			break
		}
	}
	r.SetBody(out.Bytes())
}
