package main

import (
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

const addrHelp = "where to listen. Without a host it is this machine only: there is no sign-in yet, so whoever reaches the " +
	"address reads everything"

func serveCommand() *cobra.Command {
	var db, addr, asOf string
	c := &cobra.Command{
		Use:   "serve --db FILE [--addr :8080] [--as-of DATE]",
		Short: "Serve a file's pages, to this machine unless told otherwise",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			day := func() calendar.Date { // the end of the last whole month
				y, m, d := time.Now().Date()
				return (calendar.On(y, int(m), d).Month() - 1).Last()
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
			return listen(c, addr, web.Config{Office: office, Reports: reports{}, AsOf: day})
		},
	}
	dbFlag(c, &db)
	c.Flags().StringVar(&addr, "addr", ":8080", addrHelp)
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
			s, err := store.Create(c.Context(), filepath.Join(dir, "demo.db"), "EUR")
			if err != nil {
				return err
			}
			defer s.Close()
			start := time.Now()
			if err := demo.Load(c.Context(), s); err != nil {
				return err
			}
			slog.Info("demonstration loaded", "seconds", time.Since(start).Seconds())
			return listen(c, addr, web.Config{Office: app.NewOffice(s, time.Now), Reports: reports{}, Demo: true,
				AsOf: func() calendar.Date { return demo.AsOf }})
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
	if at, ok := l.Addr().(*net.TCPAddr); ok && !at.IP.IsLoopback() {
		slog.Warn("there is no sign-in yet: whoever reaches this address reads everything", "addr", l.Addr().String())
	}
	fmt.Fprintf(c.OutOrStdout(), "Turret is at http://%s\n", l.Addr())
	return server.Listen(c.Context(), l)
}
