// Package account holds the pages of signing in and what a person has: sessions, password, keys.
package account

import (
	"crypto/subtle"
	"embed"
	"errors"
	"net/url"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/session"
	"turret/internal/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// pages are those of one server.
type pages struct{ *page.Server }

// Routes adds the addresses of signing in and what a person has: sessions, password, keys.
func Routes(base *page.Server) {
	s := &pages{base}
	s.Show(templates)
	s.App.Get("/sign-in", s.signInPage)
	s.App.Post("/sign-in", s.Limited(20), s.signIn)
	s.App.Get("/sign-in/with", s.Limited(20), s.signInWith)
	s.App.Get("/sign-in/back", s.Limited(20), s.signInBack)
	s.App.Post("/sign-out", s.signOut)
	s.App.Get("/begin", s.beginPage)
	s.App.Post("/begin", s.Limited(20), s.begin)
	s.App.Post("/enter", s.enter)
	s.App.Get("/me", s.me)
	s.App.Post("/me/password", s.Limited(20), s.changePassword)
	s.App.Post("/me/sessions/:id/end", s.endSession)
	s.App.Post("/me/keys", s.makeKey)
	s.App.Post("/me/keys/:id/end", s.endKey)
}

// Back is where to go after signing in: a path of ours, whatever the address says.
func Back(to string) string {
	u, err := url.Parse(to)
	if err != nil || u.Host != "" || u.Scheme != "" || !strings.HasPrefix(to, "/") || strings.HasPrefix(to, "//") ||
		strings.Contains(to, `\`) {
		return "/"
	}
	return to
}

type signInView struct {
	Page     page.Page
	To       string
	Login    string
	Problem  string
	Entrants []page.Entrant
	Code     string
	Account  account.Account
	With     string // what the identity provider is called; empty where there is none
}

func (s *pages) signInPage(c fiber.Ctx) error {
	empty, err := s.Office.Account.Empty(c.Context())
	if err != nil {
		return err
	}
	if empty && !s.Demo && s.SignOn == nil { // else accounts need no password
		return page.Go(c, "/begin")
	}
	return s.showSignIn(c, signInView{To: Back(c.Query("to"))})
}

func (s *pages) showSignIn(c fiber.Ctx, v signInView) error {
	v.Page = page.Page{Title: "Sign in"}
	v.Entrants = s.Entrants
	if s.SignOn != nil {
		v.With = s.SignOn.Name()
	}
	s.Frame(&v.Page, c)
	c.Set(fiber.HeaderCacheControl, "no-store")
	if v.Problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	return c.Render("sign-in", v)
}

func (s *pages) signIn(c fiber.Ctx) error {
	login, to := strings.Clone(c.FormValue("login")), Back(strings.Clone(c.FormValue("to")))
	address := s.From(c)
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
func (s *pages) admit(c fiber.Ctx, a *account.Account, to string) error {
	if v := page.VisitOf(c); v != nil {
		if err := s.Sessions.End(c.Context(), v.Account.ID, v.Session.ID); err != nil {
			return err
		}
	}
	key, _, err := s.Sessions.Begin(c.Context(), a.ID, s.From(c), strings.Clone(c.Get(fiber.HeaderUserAgent)))
	if err != nil {
		return err
	}
	if err := errors.Join(s.Sessions.Release(c.Context(), a.Login), s.Office.Account.SignedIn(c.Context(), a, s.From(c))); err != nil {
		return err
	}
	s.setCookie(c, key, session.Longest)
	return page.Go(c, to)
}

// setCookie has the browser keep a value for a while by its own clock, or forget it where lasting is below 0.
func (s *pages) setCookie(c fiber.Ctx, value string, lasting time.Duration) {
	c.Cookie(&fiber.Cookie{Name: page.CookieName(s.Secure), Value: value, Path: "/", HTTPOnly: true, SameSite: fiber.CookieSameSiteLaxMode,
		Secure: s.Secure, MaxAge: int(lasting.Seconds())})
}

func (s *pages) signOut(c fiber.Ctx) error {
	if v := page.VisitOf(c); v != nil {
		if err := s.Sessions.End(c.Context(), v.Account.ID, v.Session.ID); err != nil {
			return err
		}
	}
	s.setCookie(c, "", forgotten)
	return page.Go(c, "/sign-in")
}

// enter signs in as a made-up person of the demonstration.
func (s *pages) enter(c fiber.Ctx) error {
	login := strings.Clone(c.FormValue("login"))
	for _, e := range s.Entrants {
		if e.Login != login {
			continue
		}
		a, err := s.Office.Account.Entrant(c.Context(), login)
		if err != nil {
			return err
		}
		return s.admit(c, a, Back(strings.Clone(c.FormValue("to"))))
	}
	return fiber.ErrNotFound
}

func (s *pages) beginPage(c fiber.Ctx) error {
	empty, err := s.Office.Account.Empty(c.Context())
	if err != nil {
		return err
	}
	if !empty || s.Demo {
		return page.Go(c, "/sign-in")
	}
	return s.showBegin(c, signInView{Code: c.Query("code")})
}

func (s *pages) showBegin(c fiber.Ctx, v signInView) error {
	v.Page = page.Page{Title: "The first administrator"}
	s.Frame(&v.Page, c)
	c.Set(fiber.HeaderCacheControl, "no-store")
	if v.Problem != "" {
		c.Status(fiber.StatusUnprocessableEntity)
	}
	return c.Render("begin", v)
}

func (s *pages) begin(c fiber.Ctx) error {
	v := signInView{Code: strings.Clone(c.FormValue("code")), Account: account.Account{Login: strings.Clone(c.FormValue("login")),
		Name: strings.Clone(c.FormValue("name")), Email: strings.Clone(c.FormValue("email"))}}
	if s.Demo || s.Begin == "" || subtle.ConstantTimeCompare([]byte(v.Code), []byte(s.Begin)) != 1 {
		v.Problem = "The code is not the one that Turret printed when it started."
		return s.showBegin(c, v)
	}
	a, err := s.Office.Account.Begin(c.Context(), v.Account, c.FormValue("password"))
	if refused := page.Refused(err); refused != nil {
		v.Problem = page.Sentence(refused.Error())
		return s.showBegin(c, v)
	}
	if err != nil {
		return err
	}
	return s.admit(c, a, "/setup")
}

type meView struct {
	Page     page.Page
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

func (s *pages) me(c fiber.Ctx) error { return s.showMe(c, meView{}) }

func (s *pages) showMe(c fiber.Ctx, v meView) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	visit := page.VisitOf(c)
	if visit == nil {
		return access.ErrSignedOut
	}
	v.Page, v.Account = r.Page("Your account", ""), visit.Account
	list, err := s.Sessions.Of(c.Context(), visit.Account.ID)
	if err != nil {
		return err
	}
	for _, x := range list {
		v.Sessions = append(v.Sessions, sessionRow{x.ID, page.When(x.Made), page.When(x.Seen), x.Address, x.Agent,
			x.ID == visit.Session.ID})
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

func (s *pages) changePassword(c fiber.Ctx) error {
	v := page.VisitOf(c)
	if v == nil {
		return access.ErrSignedOut
	}
	err := s.Office.Account.ChangePassword(c.Context(), c.FormValue("present"), c.FormValue("next"))
	if refused := page.Refused(err); refused != nil {
		return s.showMe(c, meView{Problem: page.Sentence(refused.Error())})
	}
	if err != nil {
		return err
	}
	if err := errors.Join(s.Sessions.EndOthers(c.Context(), v.Account.ID, v.Session.ID),
		s.Sessions.Release(c.Context(), v.Account.Login)); err != nil {
		return err
	}
	return s.showMe(c, meView{Done: "The password is changed. Your other sessions and your keys are ended."})
}

func (s *pages) endSession(c fiber.Ctx) error {
	v := page.VisitOf(c)
	id, err := page.Number(c, "id")
	if err != nil {
		return err
	}
	if v == nil {
		return access.ErrSignedOut
	}
	if err := s.Sessions.End(c.Context(), v.Account.ID, id); err != nil {
		return err
	}
	page.Tell(c, "The session is ended.")
	return page.Go(c, "/me")
}

func (s *pages) makeKey(c fiber.Ctx) error {
	key, err := s.Office.Account.MakeToken(c.Context(), strings.Clone(c.FormValue("name")))
	if refused := page.Refused(err); refused != nil {
		return s.showMe(c, meView{Problem: page.Sentence(refused.Error())})
	}
	if err != nil {
		return err
	}
	return s.showMe(c, meView{Key: key})
}

func (s *pages) endKey(c fiber.Ctx) error {
	id, err := page.Number(c, "id")
	if err != nil {
		return err
	}
	if err := s.Office.Account.EndToken(c.Context(), id); err != nil {
		return err
	}
	page.Tell(c, "The key is ended; it lets nobody in any longer.")
	return page.Go(c, "/me")
}
