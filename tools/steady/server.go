package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"regexp"
	"strings"
	"sync"
	"syscall"
	"time"
)

// server is a running program over a file.
type server struct {
	config

	db, at, metrics string
	command         *exec.Cmd
	said            *lines
	client          *http.Client
	token           string
}

// lines keeps what a program says. It is safe for concurrent use.
type lines struct {
	mu   sync.Mutex
	text bytes.Buffer
}

func (l *lines) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.text.Write(p)
}

func (l *lines) find(pattern string) string {
	l.mu.Lock()
	defer l.mu.Unlock()
	if m := regexp.MustCompile(pattern).FindSubmatch(l.text.Bytes()); m != nil {
		return string(m[1])
	}
	return ""
}

// errors are the lines of the log that tell of one.
func (l *lines) errors() []string {
	l.mu.Lock()
	defer l.mu.Unlock()
	return failing.FindAllString(l.text.String(), -1)
}

var failing = regexp.MustCompile(`(?m)^.*level=ERROR.*$`)

// turret runs the program to its end and returns what it printed.
func (s *server) turret(ctx context.Context, args ...string) (string, error) {
	b, err := exec.CommandContext(ctx, s.Turret, args...).CombinedOutput()
	if err != nil {
		return "", fmt.Errorf("turret %s: %w: %s", args[0], err, b)
	}
	return string(b), nil
}

// start serves the file and signs in as its first administrator.
func (s *server) start(ctx context.Context) error {
	s.said = &lines{}
	s.command = exec.CommandContext(ctx, s.Turret, "serve", "--db", s.db, "--addr", ":0", "--metrics", ":0", "--as-of", "2026-10-31")
	s.command.Stdout, s.command.Stderr = s.said, s.said
	if err := s.command.Start(); err != nil {
		return err
	}
	for range 600 {
		if s.at = s.said.find(`Turret is at (http://\S+)`); s.at != "" {
			break
		}
		time.Sleep(50 * time.Millisecond)
	}
	s.metrics = s.said.find(`(http://127\.0\.0\.1:\d+/metrics)`)
	code := s.said.find(`begin\?code=(\w+)`)
	if s.at == "" || s.metrics == "" || code == "" {
		return errors.New("the server did not start: " + s.said.find(`(?s)(.*)`))
	}
	jar, err := cookiejar.New(nil)
	if err != nil {
		return err
	}
	s.client = &http.Client{Jar: jar, Timeout: 2 * time.Minute}
	_, body, err := s.get(ctx, "/begin?code="+code)
	if err != nil {
		return err
	}
	form := fields(body, "/begin")
	form.Set("code", code)
	for _, name := range []string{"login", "name"} {
		form.Set(name, "steady")
	}
	form.Set("password", "used for an hour")
	status, body, err := s.post(ctx, "/begin", form)
	if err != nil || status >= 400 {
		return fmt.Errorf("the first administrator: %d %w", status, err)
	}
	s.token = tokens.FindStringSubmatch(body)[1]
	return nil
}

var (
	tokens = regexp.MustCompile(`data-token="([^"]*)"`)
	forms  = regexp.MustCompile(`(?s)<form[^>]*action="([^"?]*)[^"]*"[^>]*>(.*?)</form>`)
	inputs = regexp.MustCompile(`<input[^>]*name="([^"]*)"(?:[^>]*value="([^"]*)")?`)
)

// fields are those of the first form of a page that leads to an address, as they stand.
func fields(page, action string) url.Values {
	v := url.Values{}
	for _, f := range forms.FindAllStringSubmatch(page, -1) {
		if f[1] != action {
			continue
		}
		for _, i := range inputs.FindAllStringSubmatch(f[2], -1) {
			v.Set(i[1], i[2])
		}
		break
	}
	return v
}

func (s *server) get(ctx context.Context, path string) (int, string, error) {
	return s.ask(ctx, http.MethodGet, s.at+path, "", nil)
}

func (s *server) post(ctx context.Context, path string, form url.Values) (int, string, error) {
	if s.token != "" {
		form.Set("_csrf", s.token)
	}
	return s.ask(ctx, http.MethodPost, s.at+path, "application/x-www-form-urlencoded", strings.NewReader(form.Encode()))
}

func (s *server) ask(ctx context.Context, method, address, kind string, body io.Reader) (int, string, error) {
	r, err := http.NewRequestWithContext(ctx, method, address, body)
	if err != nil {
		return 0, "", err
	}
	if kind != "" {
		r.Header.Set("Content-Type", kind)
	}
	resp, err := s.client.Do(r)
	if err != nil {
		return 0, "", err
	}
	defer resp.Body.Close()
	b, err := io.ReadAll(resp.Body)
	if asked := resp.Request.Method; asked != method && resp.StatusCode == http.StatusServiceUnavailable {
		return http.StatusOK, string(b), err // what was asked for is done; the page after it waits for its figures
	}
	return resp.StatusCode, string(b), err
}

// stop asks the server to end, as the system would, and waits until it has.
func (s *server) stop() error {
	if err := s.command.Process.Signal(syscall.SIGTERM); err != nil {
		return err
	}
	return s.command.Wait()
}

// resident is the memory that the server holds, in bytes, and files how many files it has open.
func (s *server) resident() (bytes, files int) {
	proc := fmt.Sprintf("/proc/%d/", s.command.Process.Pid)
	status, _ := os.ReadFile(proc + "status") // of the program that was started here
	if m := regexp.MustCompile(`VmRSS:\s+(\d+) kB`).FindSubmatch(status); m != nil {
		_, _ = fmt.Sscan(string(m[1]), &bytes)
	}
	open, _ := os.ReadDir(proc + "fd")
	return bytes << 10, len(open)
}
