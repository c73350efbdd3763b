package account

import (
	"crypto/rand"
	"crypto/subtle"
	"errors"
	"log/slog"
	"net/url"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/account"
	"turret/internal/app/fault"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// underWay is the cookie that a sign-in with a provider is remembered by: its state, nonce, secret, and where to go.
const underWay = "turret-sign-in"

// lasting is how long somebody may take at the provider.
const lasting = 10 * time.Minute

// forgotten is how long a cookie lasts that the browser is to drop.
const forgotten = -time.Second

// signInWith sends somebody to the identity provider.
func (s *pages) signInWith(c fiber.Ctx) error {
	if s.SignOn == nil {
		return fiber.ErrNotFound
	}
	state, nonce, verifier := rand.Text(), rand.Text(), rand.Text()+rand.Text()
	to, err := s.SignOn.Ask(c.Context(), state, nonce, verifier)
	if err != nil {
		slog.Error("sign-in", "error", err)
		return s.showSignIn(c, signInView{To: Back(c.Query("to")), Problem: write.Capital(s.SignOn.Name()) +
			" cannot be reached. Try again in a while, " +
			"or sign in by a password."})
	}
	kept := url.Values{"state": {state}, "nonce": {nonce}, "verifier": {verifier}, "to": {Back(c.Query("to"))}}
	s.remember(c, kept.Encode(), lasting)
	return page.GoOut(c, to)
}

func (s *pages) remember(c fiber.Ctx, value string, lasting time.Duration) {
	c.Cookie(&fiber.Cookie{Name: underWay, Value: value, Path: "/sign-in", HTTPOnly: true, SameSite: fiber.CookieSameSiteLaxMode,
		Secure: s.Secure, MaxAge: int(lasting.Seconds())})
}

// signInBack takes somebody in whom the identity provider sends back.
func (s *pages) signInBack(c fiber.Ctx) error {
	if s.SignOn == nil {
		return fiber.ErrNotFound
	}
	kept, err := url.ParseQuery(strings.Clone(c.Cookies(underWay)))
	s.remember(c, "", forgotten)
	to, state := Back(kept.Get("to")), strings.Clone(c.Query("state"))
	refuse := func(text string) error { return s.showSignIn(c, signInView{To: to, Problem: text}) }
	if err != nil || state == "" || subtle.ConstantTimeCompare([]byte(state), []byte(kept.Get("state"))) != 1 {
		return refuse("This sign-in was begun elsewhere, or too long ago. Begin it again.")
	}
	if c.Query("error") != "" {
		return refuse(write.Capital(s.SignOn.Name()) + " did not let you in: “" + fault.Clip(strings.Clone(c.Query("error")), 60) + "”.")
	}
	who, err := s.SignOn.Answer(c.Context(), strings.Clone(c.Query("code")), kept.Get("nonce"), kept.Get("verifier"))
	if err != nil {
		slog.Error("sign-in", "error", err)
		return refuse(write.Capital(s.SignOn.Name()) + " did not say who you are. Begin again; where it stays so, tell an administrator.")
	}
	a, err := s.Office.Account.Known(c.Context(), *who)
	if errors.Is(err, account.ErrStranger) {
		if err := s.Office.Account.SignInFailed(c.Context(), who.Email, s.From(c), false); err != nil {
			return err
		}
		return refuse("Nobody here has the address “" + fault.Clip(who.Email, 60) +
			"”. An administrator makes accounts under Setup, People.")
	}
	if err != nil {
		return err
	}
	return s.admit(c, a, to)
}
