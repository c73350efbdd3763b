package page

import (
	"crypto/subtle"
	"errors"
	"log/slog"
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/limiter"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/session"
)

// visit is who asks: by a session, or by a key of the API.
type visit struct {
	Account *account.Account
	Session *session.Session
}

type visitKey struct{}

// VisitOf is who is signed in; nil for nobody.
func VisitOf(c fiber.Ctx) *visit {
	v, _ := c.Locals(visitKey{}).(*visit)
	return v
}

// NotShared has an answer asked for again each time, and kept by nobody between here and the reader.
const NotShared = "private, no-cache"

// CookieName is the cookie that holds a session. Over HTTPS browsers take one of this name from this very host alone.
func CookieName(secure bool) string {
	if secure {
		return "__Host-turret"
	}
	return "turret"
}

// FormLimit bounds the bodies of requests that are no uploads.
const FormLimit = 4 << 20

// Identify finds out who asks and puts them into the context, from which app takes them.
func (s *Server) Identify(c fiber.Ctx) error {
	if strings.HasPrefix(c.Path(), "/api/") {
		key, ok := strings.CutPrefix(c.Get(fiber.HeaderAuthorization), "Bearer ")
		if !ok {
			return c.Next()
		}
		a, err := s.Office.Account.ByToken(c.Context(), key)
		if errors.Is(err, fault.ErrNotFound) {
			return c.Next()
		}
		if err != nil {
			return err
		}
		c.SetContext(access.As(c.Context(), a.Actor()))
		return c.Next()
	}
	key := c.Cookies(CookieName(s.Secure))
	if key == "" {
		return c.Next()
	}
	x, err := s.Sessions.Find(c.Context(), strings.Clone(key))
	if err != nil {
		return err
	}
	if x == nil {
		return c.Next()
	}
	a, err := s.Office.Account.Account(c.Context(), x.Account)
	if errors.Is(err, fault.ErrNotFound) { // no longer active
		return c.Next()
	}
	if err != nil {
		return err
	}
	c.Locals(visitKey{}, &visit{a, x})
	ctx := access.As(c.Context(), a.Actor())
	day, err := calendar.ParseDate(PlaceOf(c).Day)
	if err != nil {
		day = s.AsOf()
	}
	c.SetContext(intake.For(ctx, day)) // what is saved is for the period in view
	return c.Next()
}

// attached are the paths that files are attached to records by, as addresses and as routes name the kind.
var attached = regexp.MustCompile(`^/registers/(?:[a-z]+|:kind)/attach$`)

// IsUpload tells the paths that take files; they check the token themselves, from the first part.
func IsUpload(path string) bool {
	return path == "/gather/drafts" || path == "/setup/import" || path == "/reports/mark" || attached.MatchString(path)
}

var crossOrigin = http.NewCrossOriginProtection()

// Guard lets requests that change something through only where they come from a page of ours: by what the browser says of
// their origin, and by the token of the session.
func (s *Server) Guard(c fiber.Ctx) error {
	switch c.Method() {
	case fiber.MethodGet, fiber.MethodHead:
		return c.Next()
	case fiber.MethodPost:
	default:
		return fiber.ErrMethodNotAllowed
	}
	if strings.HasPrefix(c.Path(), "/api/") {
		return fiber.NewError(fiber.StatusMethodNotAllowed, "The API is for reading.")
	}
	asked := &http.Request{Method: http.MethodPost, Host: c.Host(), URL: &url.URL{Path: "/"}, Header: http.Header{}}
	for _, h := range []string{"Sec-Fetch-Site", "Origin"} {
		if v := c.Get(h); v != "" {
			asked.Header.Set(h, v)
		}
	}
	if err := crossOrigin.Check(asked); err != nil {
		return fiber.NewError(fiber.StatusForbidden, "This request did not come from a page of Turret.")
	}
	if IsUpload(c.Path()) {
		return s.change(c)
	}
	if n := c.Request().Header.ContentLength(); n > FormLimit || n < 0 {
		return fiber.NewError(fiber.StatusRequestEntityTooLarge, "That is more than a form may hold.")
	}
	if v := VisitOf(c); v != nil && !s.TokenFits(c, c.FormValue("_csrf")) {
		return Stale()
	}
	return s.change(c)
}

// change goes on to what changes something, and notes that it may have: whoever did it is shown what came of it, not older figures.
func (s *Server) change(c fiber.Ctx) error {
	err := c.Next()
	if missed := s.Office.Assess.Changed(c.Context()); missed != nil { // what was done is done, and answered
		slog.Error("what was changed is not noted", "path", c.Path(), "error", missed)
	}
	return err
}

// Stale says that a form was not made for this session.
func Stale() error {
	return fiber.NewError(fiber.StatusForbidden, "The form is from another session. Reload the page and try again; nothing was changed.")
}

// TokenFits tells whether a form, or its header, carries the token of the session.
func (s *Server) TokenFits(c fiber.Ctx, token string) bool {
	if h := c.Get("X-Csrf-Token"); h != "" {
		token = h
	}
	v := VisitOf(c)
	return v != nil && subtle.ConstantTimeCompare([]byte(token), []byte(v.Session.Token)) == 1
}

// Limited lets so many requests a minute come from an address.
func (s *Server) Limited(most int) fiber.Handler {
	return limiter.New(limiter.Config{Max: most, Expiration: time.Minute, KeyGenerator: s.From, LimitReached: func(fiber.Ctx) error {
		return fiber.NewError(fiber.StatusTooManyRequests, "Too many requests; try again in a minute.")
	}})
}

// toSignIn sends whoever is not signed in to the sign-in page, and back afterwards.
func (s *Server) toSignIn(c fiber.Ctx) error {
	if strings.HasPrefix(c.Path(), "/api/") {
		c.Set(fiber.HeaderWWWAuthenticate, "Bearer")
		return c.Status(fiber.StatusUnauthorized).JSON(fiber.Map{"error": "A key is needed: Authorization: Bearer turret_…"})
	}
	to := "/sign-in"
	if c.Method() == fiber.MethodGet && c.OriginalURL() != "/" && c.Get("HX-Request") == "" {
		to += "?to=" + url.QueryEscape(c.OriginalURL())
	}
	if c.Get("HX-Request") == "true" {
		c.Set("HX-Redirect", to)
		return c.SendStatus(fiber.StatusUnauthorized)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}

// Number reads a number from the path of an address.
func Number(c fiber.Ctx, name string) (int64, error) {
	n, err := strconv.ParseInt(c.Params(name), 10, 64)
	if err != nil {
		return 0, fiber.ErrNotFound
	}
	return n, nil
}
