// Package web serves the pages: handlers, view models and templates. It computes nothing; it shows what app assessed.
package web

import (
	"context"
	"embed"
	"encoding/json"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"net/netip"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/compress"
	"github.com/gofiber/fiber/v3/middleware/etag"
	"github.com/gofiber/fiber/v3/middleware/helmet"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"github.com/gofiber/fiber/v3/middleware/requestid"
	"github.com/gofiber/fiber/v3/middleware/static"

	"turret/internal/app"
	"turret/internal/app/assess"
	"turret/internal/app/explain"
	"turret/internal/app/feed"
	"turret/internal/app/judge"
	"turret/internal/app/money"
	"turret/internal/app/plan"
	"turret/internal/app/report"
	"turret/internal/core/calendar"
	"turret/internal/record"
	"turret/internal/session"
)

//go:embed all:assets/dist
var dist embed.FS

//go:embed templates/*.html
var templates embed.FS

// Reports writes files from what was assessed.
type Reports interface {
	// Report writes a report in a form (pdf, html, xlsx or csv) and tells the ending and the media type of its file.
	Report(w io.Writer, format string, c *report.Content) (ending, media string, err error)
	// Preview draws pages of a report from one on, and tells how many there are.
	Preview(c *report.Content, from, most int) (pages []string, all int, err error)
	Table(w io.Writer, a *assess.Assessment, s *assess.Scope) error
	Sample(kind record.Kind) []byte
	Template(w io.Writer, kind record.Kind, rows [][]string, choices map[string][]string) error
	// Timeline writes a timeline: as timeline.csv, timeline.xlsx, timeline.svg, timeline-a3.pdf, timeline-a4.pdf, or InlineTimeline.
	Timeline(w io.Writer, name string, a *assess.Assessment, t *plan.Timeline) error
	// Rehearsal writes findings, as rehearsal.csv or rehearsal.pdf.
	Rehearsal(w io.Writer, name string, a *assess.Assessment, title string, f *plan.Findings) error
	// Money writes a table of projects by measures, and Sheet a project's money by line and month: as money.csv, money.xlsx or money.json.
	Money(w io.Writer, name string, a *assess.Assessment, t *money.Table) error
	Sheet(w io.Writer, name string, a *assess.Assessment, m *money.Sheet) error
	// Findings writes what checks found, as findings.csv or findings.json; files are the names of loads.
	Findings(w io.Writer, name string, found *judge.Checked, files map[int64]string) error
	// Diary writes entries of the calendar as iCalendar; stamp is when they were made.
	Diary(w io.Writer, name string, stamp calendar.Date, list []explain.DiaryEntry) error
	// Safe writes a text so that no spreadsheet runs it as a formula.
	Safe(text string) string
}

// Config is what a server needs.
type Config struct {
	Office  *app.Office
	Reports Reports
	AsOf    func() calendar.Date // shown where the address names no day
	Today   func() calendar.Date // decides what is overdue; AsOf where nil
	Demo    bool

	Sessions *session.Store
	Secure   bool           // pages are served over HTTPS by something in front
	Proxies  []netip.Prefix // of servers in front, whose word about the sender's address is taken
	Begin    string         // code that the first administrator is made with
	Entrants []Entrant      // of the demonstration: people as whom it is entered by one click
	Feeds    feed.Puller    // outside systems
}

// Entrant is a made-up person as whom the demonstration may be entered.
type Entrant struct{ Login, Name, Says string }

// Server is the application behind its addresses.
type Server struct {
	Config
	app    *fiber.App
	assets map[string]string
	views  views
	rows   rowCache
}

// csp allows what ships with Turret and nothing else; no inline script or style. Bootstrap's controls draw their arrows from
// data addresses.
const csp = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; " +
	"form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

// New makes a server; it does not listen yet.
func New(c Config) (*Server, error) {
	s := &Server{Config: c}
	files, err := fs.Sub(dist, "assets/dist")
	if err != nil {
		return nil, err
	}
	if s.assets, err = manifest(files); err != nil {
		return nil, err
	}
	if s.views, err = parse(templates); err != nil {
		return nil, err
	}
	if s.Today == nil {
		s.Today = s.AsOf
	}
	s.app = fiber.New(fiber.Config{AppName: "Turret", CaseSensitive: true, Views: s.views, ErrorHandler: s.fail, BodyLimit: formLimit,
		StreamRequestBody: true, DisablePreParseMultipartForm: true,
		ReadBufferSize: 16 << 10, ReadTimeout: 5 * time.Minute, IdleTimeout: 2 * time.Minute})
	s.app.Use(requestid.New(), logged, recover.New(), local,
		helmet.New(helmet.Config{ContentSecurityPolicy: csp, ReferrerPolicy: "same-origin", CrossOriginEmbedderPolicy: "unsafe-none"}))
	s.app.Get("/assets/*", static.New("", static.Config{FS: files, ModifyResponse: func(c fiber.Ctx) error {
		c.Response().Header.Del(fiber.HeaderLastModified) // an embedded file has none
		c.Set(fiber.HeaderCacheControl, "public, max-age=31536000, immutable")
		return nil
	}}))
	s.app.Use(etag.New(), compress.New(), s.identify, s.guard)
	s.routes()
	server := s.app.Server()
	server.Handler = settled(server.Handler)
	return s, nil
}

func (s *Server) routes() {
	s.app.Get("/healthz", func(c fiber.Ctx) error { return c.SendString("ok") })
	s.accessRoutes()
	s.app.Get("/newer", s.newer)
	s.timelineRoutes()
	s.moneyRoutes()
	s.checkRoutes()
	s.explainRoutes()
	s.publishRoutes()
	s.reportRoutes()
	s.mailingRoutes()
	s.lookoutRoutes()
	s.projectRoutes()
	s.planRoutes()
	s.tableRoutes()
	s.editRoutes()
	s.feedRoutes()
	s.assessRoutes()
	s.gatherRoutes()
	s.draftRoutes()
	s.loadRoutes()
	s.setupRoutes()
	s.apiRoutes()
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
	go func() { done <- s.app.Listener(l, fiber.ListenConfig{DisableStartupMessage: true}) }()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
		slog.Info("stopping")
		return s.app.ShutdownWithTimeout(10 * time.Second)
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
	if strings.HasPrefix(path, subscribedPath) {
		path = subscribedPath + "…" // the key in it is a secret
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
