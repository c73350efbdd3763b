package main

import (
	"context"
	"crypto/rand"
	"crypto/tls"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"os"
	"path/filepath"
	"runtime/debug"
	"time"

	"github.com/spf13/cobra"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/explain"
	"turret/internal/app/judge"
	"turret/internal/app/money"
	"turret/internal/app/plan"
	"turret/internal/backup"
	"turret/internal/export"
	"turret/internal/outbox"
	"turret/internal/web/page"
	"turret/internal/web/prefix"

	appreport "turret/internal/app/report"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/demo"
	"turret/internal/feed"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/report"
	"turret/internal/session"
	"turret/internal/simulate"
	"turret/internal/store"
	"turret/internal/web"
	"turret/internal/workbook"
)

// reports hands the writers of package report to package web.
type reports struct{}

func (reports) Report(w io.Writer, format string, c *appreport.Content) (ending, media string, err error) {
	ending, err = report.Write(w, format, c)
	media = report.Media[format]
	if ending == ".zip" {
		media = "application/zip"
	}
	return ending, media, err
}

func (reports) Preview(c *appreport.Content, from, most int) ([]string, int, error) {
	return report.Preview(c, from, most)
}

func (reports) Table(w io.Writer, a *assess.Assessment, s *assess.Scope) error {
	t := export.Table{Env: a.Env, Scope: s}
	for _, d := range measure.All() {
		t.Keys = append(t.Keys, d.Key)
	}
	return t.CSV(w)
}

func (reports) Sample(in *record.Input) []byte { return export.Sample(in) }

func (reports) Template(w io.Writer, in *record.Input, rows [][]string, choices map[string][]string) error {
	return export.Template(w, in, rows, choices)
}

func (reports) Shown(w io.Writer, format, name string, heads []string, rows [][]string) error {
	return workbook.Shown(w, format, name, heads, rows)
}

func (reports) Money(w io.Writer, name string, a *assess.Assessment, t *money.Table) error {
	return workbook.Money(w, name, a, t)
}

func (reports) Sheet(w io.Writer, name string, a *assess.Assessment, m *money.Sheet) error {
	return workbook.Lines(w, name, a, m)
}

func (reports) Timeline(w io.Writer, name string, a *assess.Assessment, t *plan.Timeline) error {
	return report.Timeline(w, name, a, t)
}

func (reports) Rehearsal(w io.Writer, name string, a *assess.Assessment, title string, f *plan.Findings) error {
	return report.Rehearsal(w, name, a, title, f)
}

func (reports) Findings(w io.Writer, name string, found *judge.Checked, files map[int64]string) error {
	t := export.Findings{Found: found, Loads: files}
	if name == "findings.json" {
		return t.JSON(w)
	}
	return t.CSV(w)
}

func (reports) Diary(w io.Writer, name string, stamp calendar.Date, list []explain.DiaryEntry) error {
	return export.Diary(w, name, stamp, list)
}

func (reports) Safe(text string) string { return export.Safe(text) }

const basePathHelp = "path below which something in front serves the pages, such as /turret"

const addrHelp = "where to listen; without a host it is this machine only"

// feeds is the client of outside systems.
func feeds() *feed.Client {
	return &feed.Client{Typed: ingest.Reader{}.Typed, HTTP: &http.Client{Timeout: time.Minute}, Wait: time.Second}
}

// runDue runs the feeds and sends the reports whose time has come, until ctx ends.
func runDue(ctx context.Context, office *app.Office, today func() calendar.Date) {
	ctx = access.As(ctx, access.Operator("the schedule"))
	for {
		select {
		case <-ctx.Done():
			return
		case <-time.After(time.Minute):
		}
		due, err := office.Feed.Due(ctx)
		if err != nil {
			slog.Error("feeds that are due", "error", err)
		}
		for _, name := range due {
			if _, err := office.Feed.Run(ctx, feeds(), name); err != nil {
				slog.Error("feed", "name", name, "error", err)
			}
		}
		if _, err := office.Mailing.SendDue(ctx, today()); err != nil {
			slog.Error("reports that are due", "error", err)
		}
	}
}

func simulateCommand() *cobra.Command {
	var addr, until, post string
	c := &cobra.Command{
		Use:   "simulate [--addr :8091] [--until YYYY-MM] [--smtp :8092]",
		Short: "Stand in for a finance ledger, a schedule server, a work tracker and a time system, on this machine",
		Long: "Stand in for outside systems, with answers that fit the demonstration. Connect them as feeds:\n\n" +
			"  ledger     http://127.0.0.1:8091/ledger\n  schedule   http://127.0.0.1:8091/schedule\n  work       " +
			"http://127.0.0.1:8091/work\n  hours      http://127.0.0.1:8091/hours\n\n" +
			"People sign in by it with serve --sign-on http://127.0.0.1:8091/sign-on and TURRET_SIGN_ON_SECRET=simulated, as whom they " +
			"choose.\n\n" +
			"An address may ask for trouble: ?slow=50 (milliseconds), ?fail=3 (each third request), ?malformed=1, ?repeat=1.",
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			m, err := calendar.ParseMonth(until)
			if err != nil || m > demo.AsOf.Month()+12 {
				return usageError{fmt.Errorf("--until %q: expected a month within a year after %s, as YYYY-MM", until, demo.AsOf.Month())}
			}
			systems, err := simulate.New(m)
			if err != nil {
				return err
			}
			l, err := (&net.ListenConfig{}).Listen(c.Context(), "tcp", "127.0.0.1"+addr)
			if err != nil {
				return err
			}
			if post != "" {
				if err := simulateMail(c, post); err != nil {
					return err
				}
			}
			fmt.Fprintf(c.OutOrStdout(), "The stand-ins are at http://%s/ledger, /schedule, /work and /hours\n", l.Addr())
			stand := &simulate.SignOn{Issuer: fmt.Sprintf("http://%s/sign-on", l.Addr()), Client: "turret", Secret: "simulated",
				Now:    time.Now,
				People: []string{"ana@example.org", "lea@example.org"}}
			all := http.NewServeMux()
			all.Handle("/", systems.Handler())
			all.Handle("/sign-on/", http.StripPrefix("/sign-on", stand.Handler()))
			fmt.Fprintf(c.OutOrStdout(), "An identity provider is at %s; it asks for no password\n", stand.Issuer)
			server := &http.Server{Handler: all, ReadHeaderTimeout: 10 * time.Second}
			go func() {
				<-c.Context().Done()
				_ = server.Close()
			}()
			if err := server.Serve(l); !errors.Is(err, http.ErrServerClosed) {
				return err
			}
			return nil
		},
	}
	c.Flags().StringVar(&addr, "addr", ":8091", "port to listen on, on loopback only")
	c.Flags().StringVar(&until, "until", "2026-11", "the last month with postings")
	c.Flags().StringVar(&post, "smtp", "", "port of a mail server besides, which takes letters and tells of them, and sends none on")
	return c
}

// simulateMail has a mail server listen beside the other stand-ins.
func simulateMail(c *cobra.Command, port string) error {
	l, err := (&net.ListenConfig{}).Listen(c.Context(), "tcp", "127.0.0.1"+port)
	if err != nil {
		return err
	}
	fmt.Fprintf(c.OutOrStdout(), "Letters are taken at %s\n", l.Addr())
	m := &simulate.Mail{Took: func(x simulate.Letter) { fmt.Fprintln(c.OutOrStdout(), x) }}
	go func() {
		if err := m.Serve(c.Context(), l); err != nil {
			slog.Error("the simulated mail server", "error", err)
		}
	}()
	return nil
}

func serveCommand() *cobra.Command {
	var db, addr, asOf, base string
	var secure bool
	var proxies []string
	var post outbox.Server
	var copies backup.Schedule
	var metrics string
	var way entry
	c := &cobra.Command{
		Use:   "serve --db FILE [--addr :8080] [--as-of DATE]",
		Short: "Serve a file's pages, to this machine unless told otherwise",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			trusted, err := prefixes(proxies, secure)
			if err != nil {
				return usageError{err}
			}
			var fixed calendar.Date
			if asOf != "" {
				if fixed, err = calendar.ParseDate(asOf); err != nil {
					return usageError{fmt.Errorf("--as-of: %w; expected YYYY-MM-DD", err)}
				}
			}
			release, err := claim(db) // before it is opened, which may bring it to a newer layout
			if err != nil {
				return err
			}
			defer release()
			now := clockOf(c.Context())
			s, office, err := open(c, db)
			if err != nil {
				return err
			}
			defer s.Close()
			day := func() calendar.Date {
				if fixed != 0 {
					return fixed
				}
				p, err := office.Setting.LastWhole(c.Context())
				if err != nil {
					slog.Error("settings", "error", err)
					return now.today()
				}
				return p.Last()
			}
			sessions, err := session.Open(c.Context(), db+".sessions", time.Now)
			if err != nil {
				return err
			}
			defer sessions.Close()
			config := page.Config{Office: office, Reports: reports{}, AsOf: day, Today: now.today, Sessions: sessions, Secure: secure,
				Proxies: trusted, Feeds: feeds()}
			if config.Base, err = prefix.Parse(base); err != nil {
				return usageError{fmt.Errorf("--base-path %w", err)}
			}
			if empty, err := office.Account.Empty(c.Context()); err != nil {
				return err
			} else if empty {
				config.Begin = rand.Text()
			}
			if post.Addr != "" {
				if _, _, err := net.SplitHostPort(post.Addr); err != nil {
					return usageError{fmt.Errorf("--smtp %q: expected host:port", post.Addr)}
				}
				post.Password = os.Getenv("TURRET_SMTP_PASSWORD")
				config.SentBy = post.Addr
				go sendMail(c.Context(), outbox.In(db+".outbox", sender), post)
			}
			if copies.Dir != "" {
				if err := scheduled(&copies, s, db); err != nil {
					return usageError{fmt.Errorf("--backup-to: %w", err)}
				}
				go copies.Run(c.Context())
			}
			if metrics != "" {
				registry := registryOf(db, &copies)
				if err := tellMetrics(c, metrics, registry); err != nil {
					return usageError{fmt.Errorf("--metrics: %w", err)}
				}
				config.Metrics = registry
			}
			if err := way.use(&config); err != nil {
				return err
			}
			return listen(c, addr, config)
		},
	}
	dbFlag(c, &db)
	way.flags(c)
	c.Flags().StringVar(&copies.Dir, "backup-to", "", "a folder in which backups are made and the last of them kept; none where empty")
	c.Flags().DurationVar(&copies.Every, "backup-every", 24*time.Hour, "time from one backup to the next")
	c.Flags().IntVar(&copies.Keep, "backup-keep", 14, "how many backups are kept")
	c.Flags().StringVar(&metrics, "metrics", "", "where figures of the server are told in the text format of Prometheus, such as :9090; "+
		"without a host to this machine only")
	c.Flags().StringVar(&addr, "addr", ":8080", addrHelp)
	c.Flags().StringVar(&base, "base-path", "", basePathHelp)
	c.Flags().BoolVar(&secure, "behind-https", false, "pages are served over HTTPS by something in front: cookies go no other way")
	c.Flags().StringSliceVar(&proxies, "trust-proxy", nil, "addresses of servers in front, such as 10.0.0.0/8, that tell the sender's "+
		"in X-Forwarded-For; with --behind-https this machine's own where none is given")
	c.Flags().StringVar(&asOf, "as-of", "", "the day shown first; the end of the last whole period where empty")
	c.Flags().StringVar(&post.Addr, "smtp", "", "mail server as host:port that letters are sent by; without one they stay in the outbox")
	c.Flags().StringVar(&post.User, "smtp-user", "", "name to sign in to the mail server; the password is in TURRET_SMTP_PASSWORD")
	c.Flags().String("mail-from", sender, "address that letters come from")
	return c
}

// sendMail sends what comes into the outbox, until ctx ends.
func sendMail(ctx context.Context, box outbox.Folder, by outbox.Server) {
	for {
		sent, failed, err := box.Send(ctx, time.Now(), by.Carry)
		if err != nil && ctx.Err() == nil {
			slog.Error("the outbox", "error", err)
		}
		if sent+failed > 0 {
			slog.Info("letters", "sent", sent, "failed", failed)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(15 * time.Second):
		}
	}
}

// prefixes reads the addresses of proxies.
func prefixes(list []string, secure bool) ([]netip.Prefix, error) {
	if len(list) == 0 && secure {
		list = []string{"127.0.0.0/8", "::1/128"}
	}
	var out []netip.Prefix
	for _, text := range list {
		p, err := netip.ParsePrefix(text)
		if a, e := netip.ParseAddr(text); e == nil {
			p, err = netip.PrefixFrom(a, a.BitLen()), nil
		}
		if err != nil {
			return nil, fmt.Errorf("--trust-proxy %q: expected an address or a range such as 10.0.0.0/8", text)
		}
		out = append(out, p)
	}
	return out, nil
}

func demoCommand() *cobra.Command {
	var addr, save, from, base string
	c := &cobra.Command{
		Use:   "demo [--addr :8080] [--save FILE | --from FILE]",
		Short: "Serve a made-up portfolio from a scratch file",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			below, err := prefix.Parse(base)
			if err != nil {
				return usageError{fmt.Errorf("--base-path %w", err)}
			}
			if save != "" {
				s, err := demonstration(c.Context(), save, "")
				if err != nil {
					return err
				}
				return s.Close()
			}
			dir, err := os.MkdirTemp("", "turret-demo-")
			if err != nil {
				return err
			}
			defer os.RemoveAll(dir)
			db := filepath.Join(dir, "demo.db")
			s, err := demonstration(c.Context(), db, from)
			if err != nil {
				return err
			}
			defer s.Close()
			sessions, err := session.Open(c.Context(), ":memory:", time.Now)
			if err != nil {
				return err
			}
			defer sessions.Close()
			now := clockOf(c.Context())
			if !c.Flags().Changed("today") {
				now = staged(demo.Today)
			}
			config := page.Config{Office: office(now, s, db, sender), Reports: reports{}, Demo: true, Patience: 10 * time.Second,
				Sessions: sessions, Feeds: feeds(), Base: below,
				AsOf: func() calendar.Date { return demo.AsOf }, Today: now.today}
			for _, p := range demo.People() {
				config.Entrants = append(config.Entrants, page.Entrant(p))
			}
			return listen(c, addr, config)
		},
	}
	c.Flags().StringVar(&addr, "addr", ":8080", addrHelp)
	c.Flags().StringVar(&base, "base-path", "", basePathHelp)
	c.Flags().StringVar(&save, "save", "", "write the made-up portfolio to a new file, and serve nothing")
	c.Flags().StringVar(&from, "from", "", "serve a scratch copy of a file that --save wrote, which starts at once")
	c.MarkFlagsMutuallyExclusive("save", "from")
	return c
}

// demonstration makes a file with the made-up portfolio, or a copy of one that was made before.
func demonstration(ctx context.Context, db, from string) (*store.Store, error) {
	if from != "" {
		b, err := os.ReadFile(from)
		if err == nil {
			err = os.WriteFile(db, b, 0o600)
		}
		if err != nil {
			return nil, err
		}
		return store.Open(ctx, db)
	}
	s, err := store.Create(ctx, db, "EUR")
	if err != nil {
		return nil, err
	}
	start := time.Now()
	if err := demo.Load(ctx, s); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	slog.Info("demonstration loaded", "seconds", time.Since(start).Seconds())
	return s, nil
}

// memory is how many bytes a server works within before it collects more often, where GOMEMLIMIT says nothing else.
const memory = 1300 << 20

// patience is how long a load under way is waited for when Turret ends, before it is stopped.
const patience = 3 * time.Second

func listen(c *cobra.Command, addr string, config page.Config) error {
	at, err := listened(addr)
	if err != nil {
		return usageError{fmt.Errorf("--addr %q: %w", addr, err)}
	}
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(memory)
	}
	server, err := web.New(config)
	if err != nil {
		return err
	}
	l, err := (&net.ListenConfig{}).Listen(c.Context(), "tcp", at)
	if err != nil {
		return err
	}
	if at, ok := l.Addr().(*net.TCPAddr); ok && !at.IP.IsLoopback() && !config.Secure {
		slog.Warn("passwords and figures travel unencrypted to this address; put HTTPS in front of it", "addr", l.Addr().String())
	}
	scheme := "http"
	if config.TLS != nil {
		l, scheme = tls.NewListener(l, config.TLS), "https"
	}
	if config.Begin != "" {
		fmt.Fprintf(c.OutOrStdout(), "Nobody can sign in yet. Make the first administrator at %s://%s%s/begin?code=%s\n", scheme,
			l.Addr(), config.Base, config.Begin)
	}
	fmt.Fprintf(c.OutOrStdout(), "Turret is at %s://%s%s\n", scheme, l.Addr(), config.Base)
	go runDue(c.Context(), config.Office, config.Today)
	defer func() {
		last, cancel := context.WithTimeout(context.Background(), patience)
		defer cancel()
		config.Office.Settle(last)
	}()
	return server.Listen(c.Context(), l)
}
