package page

import (
	"cmp"
	"context"
	"crypto/tls"
	"io"
	"io/fs"
	"net/netip"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/prometheus/client_golang/prometheus"

	"turret/internal/app"
	"turret/internal/app/account"
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
	"turret/internal/web/prefix"
)

// Reports writes files from what was assessed.
type Reports interface {
	// Report writes a report in a form (pdf, html, xlsx or csv) and tells the ending and the media type of its file.
	Report(w io.Writer, format string, c *report.Content) (ending, media string, err error)
	// Preview draws pages of a report from one on, and tells how many there are.
	Preview(c *report.Content, from, most int) (pages []string, all int, err error)
	Table(w io.Writer, a *assess.Assessment, s *assess.Scope) error
	Sample(in *record.Input) []byte
	Template(w io.Writer, in *record.Input, rows [][]string, choices map[string][]string) error
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
	// Shown writes a table as a page shows it, as csv or xlsx.
	Shown(w io.Writer, format, name string, heads []string, rows [][]string) error
	// Safe writes a text so that no spreadsheet runs it as a formula.
	Safe(text string) string
}

// SignOn is an identity provider by which people may sign in.
type SignOn interface {
	Name() string
	// Ask is the address to send somebody to; state comes back with them, nonce and verifier are secrets of this sign-in.
	Ask(ctx context.Context, state, nonce, verifier string) (string, error)
	// Answer is who came back with a code.
	Answer(ctx context.Context, code, nonce, verifier string) (*account.Identity, error)
}

// Config is what a server needs.
type Config struct {
	Office  *app.Office
	SentBy  string // mail server that letters are sent by; empty where they stay in the outbox
	Reports Reports
	AsOf    func() calendar.Date // shown where the address names no day
	Today   func() calendar.Date // decides what is overdue; AsOf where nil
	Demo    bool

	Sessions *session.Store
	SignOn   SignOn         // nil for none
	Secure   bool           // pages are served over HTTPS, by the server itself or by something in front
	TLS      *tls.Config    // by which the server itself speaks HTTPS; nil for not
	Proxies  []netip.Prefix // of servers in front, whose word about the sender's address is taken
	Begin    string         // code that the first administrator is made with
	Entrants []Entrant      // of the demonstration: people as whom it is entered by one click
	Feeds    feed.Puller    // outside systems
	Base     prefix.Path    // below which pages are served

	Patience time.Duration // of pages, for figures that nothing was computed of yet; MostComputing where 0

	Metrics prometheus.Registerer // where requests are counted; nil for nowhere
}

// Entrant is a made-up person as whom the demonstration may be entered.
type Entrant struct{ Login, Name, Says string }

// Server is what the pages of all sections work with.
type Server struct {
	Config
	App    *fiber.App // addresses are added to it
	assets map[string]string
	views  views
	rows   rowCache

	shown   sync.Map // by keptAt: keptAs, of the page kept there
	keeping sync.WaitGroup
}

// New makes a server without any address; assets are the names of styles and scripts as they are served, by their plain names.
func New(c Config, assets map[string]string) *Server {
	s := &Server{Config: c, assets: assets, views: parse()}
	if s.Today == nil {
		s.Today = s.AsOf
	}
	s.Patience = cmp.Or(s.Patience, MostComputing)
	s.rows.keeps = func(a *assess.Assessment) bool { return s.Office.Assess.Keeps(a) }
	return s
}

// Views are the templates of all sections.
func (s *Server) Views() fiber.Views { return s.views }

// Show takes in the templates of a section; one that cannot be read is a fault of the build, and panics.
func (s *Server) Show(templates fs.FS) { s.views.add(templates) }
