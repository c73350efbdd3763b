package web

import (
	"crypto/subtle"
	"errors"
	"log/slog"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/limiter"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/fault"
	"turret/internal/session"
)

// visit is who asks: by a session, or by a key of the API.
type visit struct {
	account *account.Account
	session *session.Session
}

type visitKey struct{}

func visitOf(c fiber.Ctx) *visit {
	v, _ := c.Locals(visitKey{}).(*visit)
	return v
}

const cookieName = "turret"

// formLimit bounds the bodies of requests that are no uploads.
const formLimit = 4 << 20

// identify finds out who asks and puts them into the context, from which app takes them.
func (s *Server) identify(c fiber.Ctx) error {
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
	key := c.Cookies(cookieName)
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
	c.SetContext(access.As(c.Context(), a.Actor()))
	return c.Next()
}

// uploads are the paths that take files; they check the token themselves, from the first part.
func isUpload(path string) bool {
	return path == "/gather/drafts" || path == "/setup/import" || path == "/reports/mark"
}

var crossOrigin = http.NewCrossOriginProtection()

// guard lets requests that change something through only where they come from a page of ours: by what the browser says of
// their origin, and by the token of the session.
func (s *Server) guard(c fiber.Ctx) error {
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
	if isUpload(c.Path()) {
		return s.change(c)
	}
	if n := c.Request().Header.ContentLength(); n > formLimit || n < 0 {
		return fiber.NewError(fiber.StatusRequestEntityTooLarge, "That is more than a form may hold.")
	}
	if v := visitOf(c); v != nil && !s.tokenFits(c, c.FormValue("_csrf")) {
		return stale()
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

func stale() error {
	return fiber.NewError(fiber.StatusForbidden, "The form is from another session. Reload the page and try again; nothing was changed.")
}

func (s *Server) tokenFits(c fiber.Ctx, token string) bool {
	if h := c.Get("X-Csrf-Token"); h != "" {
		token = h
	}
	v := visitOf(c)
	return v != nil && subtle.ConstantTimeCompare([]byte(token), []byte(v.session.Token)) == 1
}

func (s *Server) limited(most int) fiber.Handler {
	return limiter.New(limiter.Config{Max: most, Expiration: time.Minute, KeyGenerator: s.from, LimitReached: func(fiber.Ctx) error {
		return fiber.NewError(fiber.StatusTooManyRequests, "Too many requests; try again in a minute.")
	}})
}

func (s *Server) accessRoutes() {
	s.app.Get("/sign-in", s.signInPage)
	s.app.Post("/sign-in", s.limited(20), s.signIn)
	s.app.Post("/sign-out", s.signOut)
	s.app.Get("/begin", s.beginPage)
	s.app.Post("/begin", s.limited(20), s.begin)
	s.app.Post("/enter", s.enter)
	s.app.Get("/me", s.me)
	s.app.Post("/me/password", s.limited(20), s.changePassword)
	s.app.Post("/me/sessions/:id/end", s.endSession)
	s.app.Post("/me/keys", s.makeKey)
	s.app.Post("/me/keys/:id/end", s.endKey)
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

// back is where to go after signing in: a path of ours, whatever the address says.
func back(to string) string {
	u, err := url.Parse(to)
	if err != nil || u.Host != "" || u.Scheme != "" || !strings.HasPrefix(to, "/") || strings.HasPrefix(to, "//") ||
		strings.Contains(to, `\`) {
		return "/"
	}
	return to
}

type signInView struct {
	Page     page
	To       string
	Login    string
	Problem  string
	Entrants []Entrant
	Code     string
	Account  account.Account
}

func (s *Server) signInPage(c fiber.Ctx) error {
	empty, err := s.Office.Account.Empty(c.Context())
	if err != nil {
		return err
	}
	if empty && !s.Demo {
		return c.Redirect().Status(fiber.StatusSeeOther).To("/begin")
	}
	return s.showSignIn(c, signInView{To: back(c.Query("to"))})
}

func (s *Server) showSignIn(c fiber.Ctx, v signInView) error {
	v.Page = page{Title: "Sign in"}
	v.Entrants = s.Entrants
	s.frame(&v.Page, c)
	c.Set(fiber.HeaderCacheControl, "no-store")
	if v.Problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	return c.Render("sign-in", v)
}

func (s *Server) signIn(c fiber.Ctx) error {
	login, to := strings.Clone(c.FormValue("login")), back(strings.Clone(c.FormValue("to")))
	address := s.from(c)
	locked, err := s.Sessions.Locked(c.Context(), login, address)
	if err != nil {
		return err
	}
	if locked {
		if err := s.Office.Account.SignInFailed(c.Context(), login, address, true); err != nil {
			return err
		}
		return s.showSignIn(c, signInView{To: to, Login: login, Problem: "Too many tries. Wait a quarter of an hour, or ask an " +
			"administrator."})
	}
	a, err := s.Office.Account.SignIn(c.Context(), login, c.FormValue("password"))
	if errors.Is(err, account.ErrSignIn) {
		if err := errors.Join(s.Sessions.Failed(c.Context(), login, address), s.Office.Account.SignInFailed(c.Context(), login, address,
			false)); err != nil {
			return err
		}
		return s.showSignIn(c, signInView{To: to, Login: login, Problem: "The name or the password is not right."})
	}
	if err != nil {
		return err
	}
	return s.admit(c, a, to)
}

// admit begins a session; one that the browser had before ends.
func (s *Server) admit(c fiber.Ctx, a *account.Account, to string) error {
	if v := visitOf(c); v != nil {
		if err := s.Sessions.End(c.Context(), v.account.ID, v.session.ID); err != nil {
			return err
		}
	}
	key, _, err := s.Sessions.Begin(c.Context(), a.ID, s.from(c), strings.Clone(c.Get(fiber.HeaderUserAgent)))
	if err != nil {
		return err
	}
	if err := errors.Join(s.Sessions.Release(c.Context(), a.Login), s.Office.Account.SignedIn(c.Context(), a, s.from(c))); err != nil {
		return err
	}
	s.setCookie(c, key, time.Now().Add(session.Longest))
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}

func (s *Server) setCookie(c fiber.Ctx, value string, until time.Time) {
	c.Cookie(&fiber.Cookie{Name: cookieName, Value: value, Path: "/", HTTPOnly: true, SameSite: fiber.CookieSameSiteLaxMode,
		Secure: s.Secure, Expires: until})
}

func (s *Server) signOut(c fiber.Ctx) error {
	if v := visitOf(c); v != nil {
		if err := s.Sessions.End(c.Context(), v.account.ID, v.session.ID); err != nil {
			return err
		}
	}
	s.setCookie(c, "", time.Unix(1, 0))
	return c.Redirect().Status(fiber.StatusSeeOther).To("/sign-in")
}

// enter signs in as a made-up person of the demonstration.
func (s *Server) enter(c fiber.Ctx) error {
	login := strings.Clone(c.FormValue("login"))
	for _, e := range s.Entrants {
		if e.Login != login {
			continue
		}
		a, err := s.Office.Account.Entrant(c.Context(), login)
		if err != nil {
			return err
		}
		return s.admit(c, a, back(strings.Clone(c.FormValue("to"))))
	}
	return fiber.ErrNotFound
}

func (s *Server) beginPage(c fiber.Ctx) error {
	empty, err := s.Office.Account.Empty(c.Context())
	if err != nil {
		return err
	}
	if !empty || s.Demo {
		return c.Redirect().Status(fiber.StatusSeeOther).To("/sign-in")
	}
	return s.showBegin(c, signInView{Code: c.Query("code")})
}

func (s *Server) showBegin(c fiber.Ctx, v signInView) error {
	v.Page = page{Title: "The first administrator"}
	s.frame(&v.Page, c)
	c.Set(fiber.HeaderCacheControl, "no-store")
	if v.Problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	return c.Render("begin", v)
}

func (s *Server) begin(c fiber.Ctx) error {
	v := signInView{Code: strings.Clone(c.FormValue("code")), Account: account.Account{Login: strings.Clone(c.FormValue("login")),
		Name: strings.Clone(c.FormValue("name")), Email: strings.Clone(c.FormValue("email"))}}
	if s.Demo || s.Begin == "" || subtle.ConstantTimeCompare([]byte(v.Code), []byte(s.Begin)) != 1 {
		v.Problem = "The code is not the one that Turret printed when it started."
		return s.showBegin(c, v)
	}
	a, err := s.Office.Account.Begin(c.Context(), v.Account, c.FormValue("password"))
	var field *fault.FieldError
	if errors.As(err, &field) {
		v.Problem = sentence(field.Error())
		return s.showBegin(c, v)
	}
	if err != nil {
		return err
	}
	return s.admit(c, a, "/setup")
}

type meView struct {
	Page     page
	Account  *account.Account
	Problem  string
	Done     string
	Key      string
	Sessions []sessionRow
	Keys     []account.Token
}

type sessionRow struct {
	ID                         int64
	Made, Seen, Address, Agent string
	This                       bool
}

func (s *Server) me(c fiber.Ctx) error { return s.showMe(c, meView{}) }

func (s *Server) showMe(c fiber.Ctx, v meView) error {
	r, err := s.parse(c)
	if err != nil {
		return err
	}
	visit := visitOf(c)
	if visit == nil {
		return access.ErrSignedOut
	}
	v.Page, v.Account = r.bare("Your account", ""), visit.account
	list, err := s.Sessions.Of(c.Context(), visit.account.ID)
	if err != nil {
		return err
	}
	for _, x := range list {
		v.Sessions = append(v.Sessions, sessionRow{x.ID, when(x.Made), when(x.Seen), x.Address, x.Agent, x.ID == visit.session.ID})
	}
	if v.Keys, err = s.Office.Account.Tokens(c.Context()); err != nil {
		return err
	}
	if v.Problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	return c.Render("me", v)
}

// bare is the frame of a screen without a day or a scope.
func (r *request) bare(title, current string) page {
	p := page{Title: title, Section: current}
	r.s.frame(&p, r.Ctx)
	p.Sections = r.sections(current)
	return p
}

func when(t time.Time) string {
	if t.IsZero() {
		return ""
	}
	return t.Local().Format("2 Jan 2006 15:04")
}

func (s *Server) changePassword(c fiber.Ctx) error {
	v := visitOf(c)
	if v == nil {
		return access.ErrSignedOut
	}
	err := s.Office.Account.ChangePassword(c.Context(), c.FormValue("present"), c.FormValue("next"))
	var field *fault.FieldError
	if errors.As(err, &field) {
		return s.showMe(c, meView{Problem: sentence(field.Error())})
	}
	if err != nil {
		return err
	}
	if err := errors.Join(s.Sessions.EndOthers(c.Context(), v.account.ID, v.session.ID),
		s.Sessions.Release(c.Context(), v.account.Login)); err != nil {
		return err
	}
	return s.showMe(c, meView{Done: "The password is changed. Your other sessions and your keys are ended."})
}

func number(c fiber.Ctx, name string) (int64, error) {
	n, err := strconv.ParseInt(c.Params(name), 10, 64)
	if err != nil {
		return 0, fiber.ErrNotFound
	}
	return n, nil
}

func (s *Server) endSession(c fiber.Ctx) error {
	v := visitOf(c)
	id, err := number(c, "id")
	if err != nil {
		return err
	}
	if v == nil {
		return access.ErrSignedOut
	}
	if err := s.Sessions.End(c.Context(), v.account.ID, id); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/me")
}

func (s *Server) makeKey(c fiber.Ctx) error {
	key, err := s.Office.Account.MakeToken(c.Context(), strings.Clone(c.FormValue("name")))
	var field *fault.FieldError
	if errors.As(err, &field) {
		return s.showMe(c, meView{Problem: sentence(field.Error())})
	}
	if err != nil {
		return err
	}
	return s.showMe(c, meView{Key: key})
}

func (s *Server) endKey(c fiber.Ctx) error {
	id, err := number(c, "id")
	if err != nil {
		return err
	}
	if err := s.Office.Account.EndToken(c.Context(), id); err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/me")
}
