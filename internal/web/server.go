// Package web puts the sections of pages together behind one server. Pages compute nothing; they show what app assessed.
package web

import (
	"context"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/compress"
	"github.com/gofiber/fiber/v3/middleware/etag"
	"github.com/gofiber/fiber/v3/middleware/helmet"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"github.com/gofiber/fiber/v3/middleware/requestid"
	"github.com/gofiber/fiber/v3/middleware/static"
	"github.com/valyala/fasthttp"

	"turret/internal/web/account"
	"turret/internal/web/api"
	"turret/internal/web/assess"
	"turret/internal/web/backlog"
	"turret/internal/web/benefit"
	"turret/internal/web/check"
	"turret/internal/web/closing"
	"turret/internal/web/desk"
	"turret/internal/web/draft"
	"turret/internal/web/edit"
	"turret/internal/web/explain"
	"turret/internal/web/feed"
	"turret/internal/web/forecast"
	"turret/internal/web/gate"
	"turret/internal/web/gather"
	"turret/internal/web/hours"
	"turret/internal/web/load"
	"turret/internal/web/lookout"
	"turret/internal/web/mailing"
	"turret/internal/web/money"
	"turret/internal/web/page"
	"turret/internal/web/people"
	"turret/internal/web/pipeline"
	"turret/internal/web/place"
	"turret/internal/web/plan"
	"turret/internal/web/project"
	"turret/internal/web/publish"
	"turret/internal/web/register"
	"turret/internal/web/report"
	"turret/internal/web/setup"
	"turret/internal/web/table"
	"turret/internal/web/timeline"
)

//go:embed all:assets/dist
var dist embed.FS

// csp allows what ships with Turret and nothing else; no inline script or style. Bootstrap's controls draw their arrows from
// data addresses.
const csp = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; " +
	"form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

// slowest is how long an answer may take to be read: a reader that never reads holds its connection and its answer no longer.
var slowest = 10 * time.Minute

// Server is the application behind its addresses.
type Server struct{ *page.Server }

// sections add their addresses.
var sections = []func(*page.Server){account.Routes, timeline.Routes, money.Routes, check.Routes, explain.Routes, publish.Routes,
	report.Routes, mailing.Routes, lookout.Routes, place.Routes, project.Routes, backlog.Routes, benefit.Routes, register.Routes,
	people.Routes, pipeline.Routes,
	gate.Routes,
	closing.Routes,
	hours.Routes, desk.Routes,
	plan.Routes,
	table.Routes,
	edit.Routes,
	feed.Routes,
	assess.Routes, forecast.Routes, gather.Routes, draft.Routes, load.Routes, setup.Routes, api.Routes}

// New makes a server; it does not listen yet.
func New(c page.Config) (*Server, error) {
	files, err := fs.Sub(dist, "assets/dist")
	if err != nil {
		return nil, err
	}
	assets, err := manifest(files)
	if err != nil {
		return nil, err
	}
	s := &Server{page.New(c, assets)}
	s.App = fiber.New(fiber.Config{AppName: "Turret", CaseSensitive: true, Views: s.Views(), ErrorHandler: s.Fail,
		BodyLimit: page.FormLimit, StreamRequestBody: true, DisablePreParseMultipartForm: true,
		ReadBufferSize: 16 << 10, ReadTimeout: 5 * time.Minute, WriteTimeout: slowest, IdleTimeout: 2 * time.Minute})
	s.App.Use(requestid.New(), observed(c.Metrics), logged, recover.New(), local,
		helmet.New(helmet.Config{ContentSecurityPolicy: csp, ReferrerPolicy: "same-origin", CrossOriginEmbedderPolicy: "unsafe-none"}))
	if c.Secure {
		s.App.Use(func(c fiber.Ctx) error {
			c.Set(fiber.HeaderStrictTransportSecurity, "max-age=31536000")
			return c.Next()
		})
	}
	s.App.Get("/assets/*", static.New("", static.Config{FS: files, ModifyResponse: func(c fiber.Ctx) error {
		c.Response().Header.Del(fiber.HeaderLastModified) // an embedded file has none
		c.Set(fiber.HeaderCacheControl, "public, max-age=31536000, immutable")
		return nil
	}}))
	s.App.Use(etag.New(), compress.New(), c.Base.Use, s.Identify, s.Guard)
	s.App.Get("/healthz", func(c fiber.Ctx) error { return c.SendString("ok") })
	s.App.Get("/readyz", s.ready)
	s.App.Get("/newer", s.Newer)
	s.App.Get("/computing", s.Computing)
	for _, add := range sections {
		add(s.Server)
	}
	settleViews(s.App)
	server := s.App.Server()
	server.Handler = page.Settled(c.Base.Handler(server.Handler))
	return s, nil
}

// settleViews has Fiber note whose views are whose, which it does without a lock when it renders for the first time: here, where nobody
// else asks yet. No view has this name.
func settleViews(app *fiber.App) {
	c := app.AcquireCtx(&fasthttp.RequestCtx{})
	defer app.ReleaseCtx(c)
	_ = c.Render("", nil)
}

// manifest maps the plain names of assets to those with a hash.
func manifest(files fs.FS) (map[string]string, error) {
	b, err := fs.ReadFile(files, "manifest.json")
	if err != nil {
		return nil, fmt.Errorf("the styles and scripts are not built (npm run build): %w", err)
	}
	names := map[string]string{}
	err = json.Unmarshal(b, &names)
	return names, err
}

// Listen serves until ctx ends, then lets requests under way finish.
func (s *Server) Listen(ctx context.Context, l net.Listener) error {
	done := make(chan error, 1)
	go func() { done <- s.App.Listener(l, fiber.ListenConfig{DisableStartupMessage: true}) }()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
		slog.Info("stopping")
		defer s.Settle()
		err := s.App.ShutdownWithTimeout(2 * time.Second) // what goes on by itself is given more
		if errors.Is(err, context.DeadlineExceeded) {
			slog.Info("answers that were not done are broken off")
			return nil
		}
		return err
	}
}

// logged writes one line per request.
func logged(c fiber.Ctx) error {
	start := time.Now()
	err := c.Next()
	if err != nil { // answered here, so that the status is known
		if failed := c.App().ErrorHandler(c, err); failed != nil {
			return failed
		}
	}
	path := c.Path()
	if strings.HasPrefix(path, page.SubscribedPath) {
		path = page.SubscribedPath + "…" // the key in it is a secret
	}
	slog.Info("request", "method", c.Method(), "path", path, "status", c.Response().StatusCode(),
		"ms", time.Since(start).Milliseconds(), "id", requestid.FromContext(c))
	return nil
}

// local refuses names other than this machine's while the server listens on loopback, so that no page of another site can
// read figures through a name it made point here.
func local(c fiber.Ctx) error {
	host := c.Hostname()
	if h, _, err := net.SplitHostPort(host); err == nil {
		host = h
	}
	host = strings.Trim(host, "[]")
	ip := net.ParseIP(host)
	if at, ok := c.RequestCtx().LocalAddr().(*net.TCPAddr); ok && at.IP.IsLoopback() && host != "localhost" &&
		(ip == nil || !ip.IsLoopback()) {
		return fiber.NewError(fiber.StatusMisdirectedRequest, "This address is served to this machine only.")
	}
	return c.Next()
}
