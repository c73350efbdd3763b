package main

import (
	"crypto/rand"
	"fmt"
	"io"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"turret/internal/app"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/demo"
	"turret/internal/report"
	"turret/internal/session"
	"turret/internal/store"
	"turret/internal/web"
)

// reports hands the writers of package report to package web.
type reports struct{}

func (reports) Pack(w io.Writer, a *app.Assessment, l *app.Lookout) error {
	return report.Pack(w, a, l)
}

func (reports) Table(w io.Writer, a *app.Assessment, s *app.Scope) error {
	t := report.Table{Env: a.Env, Scope: s}
	for _, d := range measure.All() {
		t.Keys = append(t.Keys, d.Key)
	}
	return t.CSV(w)
}

func (reports) Sample(kind app.Kind) []byte { return report.Sample(kind) }

func (reports) Template(w io.Writer, kind app.Kind, rows [][]string, choices map[string][]string) error {
	return report.Template(w, kind, rows, choices)
}

func (reports) Safe(text string) string { return report.Safe(text) }

const addrHelp = "where to listen; without a host it is this machine only"

func today() calendar.Date {
	y, m, d := time.Now().Date()
	return calendar.On(y, int(m), d)
}

func serveCommand() *cobra.Command {
	var db, addr, asOf string
	var secure bool
	c := &cobra.Command{
		Use:   "serve --db FILE [--addr :8080] [--as-of DATE]",
		Short: "Serve a file's pages, to this machine unless told otherwise",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			day := func() calendar.Date { // the end of the last whole month
				return app.LastWhole(time.Now()).Last()
			}
			if asOf != "" {
				fixed, err := calendar.ParseDate(asOf)
				if err != nil {
					return usageError{fmt.Errorf("--as-of: %w; expected YYYY-MM-DD", err)}
				}
				day = func() calendar.Date { return fixed }
			}
			s, office, err := open(c, db)
			if err != nil {
				return err
			}
			defer s.Close()
			sessions, err := session.Open(c.Context(), db+".sessions", time.Now)
			if err != nil {
				return err
			}
			defer sessions.Close()
			config := web.Config{Office: office, Reports: reports{}, AsOf: day, Today: today, Sessions: sessions, Secure: secure}
			if empty, err := office.Empty(c.Context()); err != nil {
				return err
			} else if empty {
				config.Begin = rand.Text()
			}
			return listen(c, addr, config)
		},
	}
	dbFlag(c, &db)
	c.Flags().StringVar(&addr, "addr", ":8080", addrHelp)
	c.Flags().BoolVar(&secure, "behind-https", false, "pages are served over HTTPS by something in front: cookies go no other way")
	c.Flags().StringVar(&asOf, "as-of", "", "the day shown first; the end of the last whole month where empty")
	return c
}

func demoCommand() *cobra.Command {
	var addr string
	c := &cobra.Command{
		Use:   "demo [--addr :8080]",
		Short: "Serve a made-up portfolio from a scratch file",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			dir, err := os.MkdirTemp("", "turret-demo-")
			if err != nil {
				return err
			}
			defer os.RemoveAll(dir)
			db := filepath.Join(dir, "demo.db")
			s, err := store.Create(c.Context(), db, "EUR")
			if err != nil {
				return err
			}
			defer s.Close()
			start := time.Now()
			if err := demo.Load(c.Context(), s); err != nil {
				return err
			}
			slog.Info("demonstration loaded", "seconds", time.Since(start).Seconds())
			sessions, err := session.Open(c.Context(), ":memory:", time.Now)
			if err != nil {
				return err
			}
			defer sessions.Close()
			config := web.Config{Office: office(s, db), Reports: reports{}, Demo: true, Sessions: sessions,
				AsOf: func() calendar.Date { return demo.AsOf }, Today: func() calendar.Date { return demo.Today }}
			for _, p := range demo.People() {
				config.Entrants = append(config.Entrants, web.Entrant(p))
			}
			return listen(c, addr, config)
		},
	}
	c.Flags().StringVar(&addr, "addr", ":8080", addrHelp)
	return c
}

func listen(c *cobra.Command, addr string, config web.Config) error {
	host, port, err := net.SplitHostPort(addr)
	if err != nil {
		return usageError{fmt.Errorf("--addr %q: %w", addr, err)}
	}
	if host == "" {
		host = "127.0.0.1"
	}
	server, err := web.New(config)
	if err != nil {
		return err
	}
	l, err := (&net.ListenConfig{}).Listen(c.Context(), "tcp", net.JoinHostPort(host, port))
	if err != nil {
		return err
	}
	if at, ok := l.Addr().(*net.TCPAddr); ok && !at.IP.IsLoopback() && !config.Secure {
		slog.Warn("passwords and figures travel unencrypted to this address; put HTTPS in front of it", "addr", l.Addr().String())
	}
	if config.Begin != "" {
		fmt.Fprintf(c.OutOrStdout(), "Nobody can sign in yet. Make the first administrator at http://%s/begin?code=%s\n", l.Addr(), config.Begin)
	}
	fmt.Fprintf(c.OutOrStdout(), "Turret is at http://%s\n", l.Addr())
	return server.Listen(c.Context(), l)
}
