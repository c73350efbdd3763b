package page

import (
	"bytes"
	"context"
	"fmt"
	"hash/maphash"
	"log/slog"
	"os"
	"strings"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/core/write"
	"turret/internal/session"
)

// MostComputing is how long a page waits for figures that nothing was computed of yet, before it says how far that is.
const MostComputing = 2 * time.Second

// tokenMark stands for the token of a session in a page that is kept.
const tokenMark = "\x00token\x00"

// build tells one program from another: a page is shown again by the program that drew it.
var build = sync.OnceValue(func() string {
	path, err := os.Executable()
	if err != nil {
		return ""
	}
	f, err := os.Stat(path)
	if err != nil {
		return ""
	}
	return fmt.Sprint(f.Size(), " ", f.ModTime().UnixNano())
})

// stateOf is all that a page of the one who asks hangs on, besides its address.
func stateOf(r *Request, head int64) string {
	return fmt.Sprintf("%s head %d as of %s %+v", build(), head, r.AsOf, *access.ActorOf(r.Context()))
}

// KeepShown keeps the page just answered, so that it can be shown at once after a start. A page that tells of an act, or that is not of
// the newest figures, is not kept.
func KeepShown(r *Request, p *Page) {
	s, actor := r.Server, access.ActorOf(r.Context())
	if s.Sessions == nil || actor == nil || p.Told != nil || p.Newer != nil || p.Token == "" || r.Get("HX-Request") != "" ||
		r.Figures == nil {
		return
	}
	for name := range r.Asked { // what is filtered, sorted or traced is asked for anew
		if name != "scope" && name != "asof" && name != "currency" {
			return
		}
	}
	shown := session.Shown{Account: actor.Account, Address: strings.Clone(r.OriginalURL()), State: stateOf(r, r.Figures.Head()),
		HTML: bytes.ReplaceAll(r.Response().Body(), []byte(p.Token), []byte(tokenMark))}
	now := keptAs{shown.State, maphash.Bytes(seed, shown.HTML)}
	if former, ok := s.shown.Swap(keptAt{shown.Account, shown.Address}, now); ok && former == now {
		return
	}
	s.keeping.Go(func() {
		if err := s.Sessions.KeepShown(context.Background(), shown); err != nil {
			slog.Error("a page could not be kept", "error", err)
		}
	})
}

// keptAs tells one page from another: what is arranged anew differs in its content alone.
type keptAs struct {
	state   string
	content uint64
}

var seed = maphash.MakeSeed()

// keptAt is where a page was kept for whom.
type keptAt struct {
	account int64
	address string
}

// Shown answers with the page that whoever asks saw last, where nothing was computed since the start and everything that it hangs on is
// as it was; and has its day computed meanwhile. False where it is to be made.
func (s *Server) Shown(c fiber.Ctx) (bool, error) {
	actor := access.ActorOf(c.Context())
	if s.Sessions == nil || actor == nil || VisitOf(c) == nil || c.Get("HX-Request") != "" {
		return false, nil
	}
	r, err := s.Parse(c)
	if err != nil || s.Office.Assess.AtHand(r.Context(), r.AsOf) != nil {
		return false, nil // the page itself says what is wrong with its address
	}
	head, err := s.Office.Assess.Head(r.Context())
	if err != nil {
		return false, err
	}
	html, err := s.Sessions.LastShown(r.Context(), actor.Account, r.OriginalURL(), stateOf(r, head))
	if err != nil || html == nil {
		return false, err
	}
	if err := s.Office.Assess.Warm(r.Context(), r.AsOf); err != nil {
		return false, err
	}
	if err := r.Render("error:computing", computingView{Kept: true,
		Check: r.To("/computing", "asof", r.AsOf.String(), "kept", "1")}); err != nil {
		return false, err
	}
	line := bytes.Clone(r.Response().Body())
	before, after, _ := bytes.Cut(html, []byte(`<div class="frame">`))
	html = bytes.Join([][]byte{before, line, []byte(`<div class="frame">`), after}, nil)
	r.Set(fiber.HeaderContentType, fiber.MIMETextHTMLCharsetUTF8)
	r.Set(fiber.HeaderCacheControl, "no-store")
	return true, r.Send(bytes.ReplaceAll(html, []byte(tokenMark), []byte(VisitOf(c).Session.Token)))
}

// Settle waits for pages that are still being kept.
func (s *Server) Settle() { s.keeping.Wait() }

// computingView tells how far figures are.
type computingView struct {
	Check string // asks again
	Text  string
	Done  int  // percent, 0 where it is not known
	Kept  bool // the page shows what was kept
}

func computingOf(p assess.Progress) computingView {
	v := computingView{Text: p.Step}
	if p.All > 0 {
		v.Done = 100 * p.Done / p.All
		v.Text = fmt.Sprintf("%s: %d of %s", p.Step, p.Done, write.Count(p.All, "project", "projects"))
	}
	return v
}

// Computing answers a page that waits for its figures, or shows what was kept of them, with how far they are.
func (s *Server) Computing(c fiber.Ctx) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderCacheControl, "no-store")
	p, is, err := s.Office.Assess.Computing(r.Context(), r.AsOf)
	if err != nil {
		return err
	}
	if !is {
		if !r.Asked.Has("kept") {
			c.Set("HX-Refresh", "true")
		}
		return c.SendString("")
	}
	v := computingOf(p)
	v.Kept, v.Check = r.Asked.Has("kept"), r.Here()
	if !v.Kept {
		v.Text = write.Capital(v.Text)
	}
	return c.Render("error:computing", v)
}

// stillComputing is a page that says how far its figures are, and comes again.
func stillComputing(s *Server, c fiber.Ctx) error {
	r, err := s.Parse(c)
	if err != nil {
		return err
	}
	p, is, err := s.Office.Assess.Computing(r.Context(), r.AsOf)
	if err != nil {
		return err
	}
	if !is {
		p.Step = "waiting until another day of yours is computed"
	}
	c.Status(fiber.StatusServiceUnavailable)
	c.Set(fiber.HeaderRetryAfter, "2")
	c.Set("Refresh", "3") // where no script asks
	c.Set(fiber.HeaderCacheControl, "no-store")
	v := struct {
		Page      Page
		Computing computingView
	}{s.failedPage(c, "The figures as of "+r.AsOf.Human()+" are being computed."), computingOf(p)}
	v.Page.Title, v.Computing.Text = "Being computed", write.Capital(v.Computing.Text)
	v.Computing.Check = r.To("/computing", "asof", r.AsOf.String())
	return c.Render("computing", v)
}
