package main

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"github.com/gofrs/flock"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"
	"github.com/spf13/cobra"

	"turret/internal/attach"
	"turret/internal/backup"
	"turret/internal/signon"
	"turret/internal/store"
	"turret/internal/web/page"
)

// listened is an address to listen on, of this machine only where it names none.
func listened(addr string) (string, error) {
	host, port, err := net.SplitHostPort(addr)
	if host == "" {
		host = "127.0.0.1"
	}
	return net.JoinHostPort(host, port), err
}

// claim keeps a file for one server, until what it returns is called: a second one would run feeds and send letters again. The operating
// system gives it up where a server ends in any way.
func claim(db string) (release func(), err error) {
	if _, err := os.Stat(db); err != nil {
		return func() {}, nil // opening it says what is wrong
	}
	lock := flock.New(db + ".serving")
	got, err := lock.TryLock()
	if err == nil && !got {
		err = fmt.Errorf("%s is served already; stop the other server first", db)
	}
	return func() { _ = lock.Unlock() }, err
}

// scheduled has backups made of a file and of what is attached to its records.
func scheduled(b *backup.Schedule, s *store.Store, db string) error {
	b.Copy, b.Now, b.Name = s.Backup, time.Now, strings.TrimSuffix(filepath.Base(db), filepath.Ext(db))
	b.Files = func(_ context.Context, dir string) error {
		_, err := attach.In(filesOf(db)).CopyTo(attach.In(dir))
		return err
	}
	return b.Check()
}

// entry is how people come in: over TLS of the server's own, and by an identity provider.
type entry struct {
	certificate, key       string
	issuer, client, called string
	address                string // at which people reach the server
}

func (e *entry) flags(c *cobra.Command) {
	c.Flags().StringVar(&e.certificate, "tls-cert", "", "file with the certificate, and those that lead to its root, by which the server "+
		"itself speaks HTTPS; it is read again when it is renewed")
	c.Flags().StringVar(&e.key, "tls-key", "", "file with the key of the certificate")
	c.Flags().StringVar(&e.issuer, "sign-on", "", "address of an identity provider that speaks OpenID Connect; people are known by the "+
		"e-mail address of their account. Its secret for Turret is in TURRET_SIGN_ON_SECRET")
	c.Flags().StringVar(&e.client, "sign-on-client", "turret", "by which the identity provider knows Turret")
	c.Flags().StringVar(&e.called, "sign-on-name", "single sign-on", "what people call the identity provider")
	c.Flags().StringVar(&e.address, "address", "", "at which people reach the server, such as https://turret.example.org; the identity "+
		"provider sends them back there")
}

// use sets up a configuration.
func (e *entry) use(config *page.Config) error {
	if (e.certificate == "") != (e.key == "") {
		return usageError{errors.New("--tls-cert and --tls-key go together")}
	}
	if e.certificate != "" {
		served, err := certified(e.certificate, e.key)
		if err != nil {
			return usageError{fmt.Errorf("--tls-cert: %w", err)}
		}
		config.TLS, config.Secure = served, true
	}
	if e.issuer == "" {
		return nil
	}
	at, err := url.Parse(e.address)
	if err != nil || at.Host == "" || at.Scheme != "https" && at.Scheme != "http" || strings.Trim(at.Path, "/") != "" {
		return usageError{fmt.Errorf("--address %q: expected where people reach the server, such as https://turret.example.org", e.address)}
	}
	config.SignOn = &signon.Provider{Issuer: e.issuer, Client: e.client, Secret: os.Getenv("TURRET_SIGN_ON_SECRET"), Label: e.called,
		Back: at.Scheme + "://" + at.Host + "/sign-in/back"}
	return nil
}

// certified is a certificate from files, read again once they have changed.
func certified(certificate, key string) (*tls.Config, error) {
	var mu sync.Mutex
	var read time.Time
	var now *tls.Certificate
	load := func() (*tls.Certificate, error) {
		mu.Lock()
		defer mu.Unlock()
		info, err := os.Stat(certificate)
		if err != nil && now == nil {
			return nil, err
		}
		if now != nil && (err != nil || info.ModTime().Equal(read)) {
			return now, nil
		}
		pair, err := tls.LoadX509KeyPair(certificate, key)
		if err != nil {
			if now != nil { // half renewed: the former one is good until both files are there
				slog.Error("the certificate", "error", err)
				return now, nil
			}
			return nil, err
		}
		now, read = &pair, info.ModTime()
		return now, nil
	}
	if _, err := load(); err != nil {
		return nil, err
	}
	return &tls.Config{MinVersion: tls.VersionTLS12, GetCertificate: func(*tls.ClientHelloInfo) (*tls.Certificate, error) {
		return load()
	}}, nil
}

// registryOf holds what a server tells of itself: the process, the file beside its log, and its backups where there are any.
func registryOf(db string, b *backup.Schedule) *prometheus.Registry {
	r := prometheus.NewRegistry()
	r.MustRegister(collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}))
	gauge := func(name, help string, value func() float64) {
		r.MustRegister(prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: name, Help: help}, value))
	}
	size := func(path string) func() float64 {
		return func() float64 {
			info, err := os.Stat(path)
			if err != nil {
				return 0
			}
			return float64(info.Size())
		}
	}
	gauge("turret_file_bytes", "Size of the file.", size(db))
	gauge("turret_file_log_bytes", "Size of what was written and is not in the file yet.", size(db+"-wal"))
	if b.Dir != "" {
		gauge("turret_backup_last_seconds", "When the last backup was made, in seconds since 1970; 0 where none was.", func() float64 {
			last, _, _ := b.State()
			if last.IsZero() {
				return 0
			}
			return float64(last.Unix())
		})
		gauge("turret_backup_failed", "Tries to make a backup that failed since the last one was made.", func() float64 {
			_, failed, _ := b.State()
			return float64(failed)
		})
	}
	return r
}

// tellMetrics tells the figures of a registry at an address of their own, until the command ends.
func tellMetrics(c *cobra.Command, addr string, r *prometheus.Registry) error {
	at, err := listened(addr)
	if err != nil {
		return err
	}
	l, err := (&net.ListenConfig{}).Listen(c.Context(), "tcp", at)
	if err != nil {
		return err
	}
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", promhttp.HandlerFor(r, promhttp.HandlerOpts{}))
	server := &http.Server{Handler: mux, ReadHeaderTimeout: 10 * time.Second}
	go func() {
		<-c.Context().Done()
		_ = server.Close()
	}()
	go func() {
		if err := server.Serve(l); !errors.Is(err, http.ErrServerClosed) {
			slog.Error("metrics", "error", err)
		}
	}()
	fmt.Fprintf(c.OutOrStdout(), "Figures of the server are at http://%s/metrics\n", l.Addr())
	return nil
}
