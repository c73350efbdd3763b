package main

import (
	"bytes"
	"context"
	"fmt"
	"math/rand/v2"
	"mime/multipart"
	"net/url"
	"regexp"
	"strings"
	"sync"
	"time"
)

// said is the part of a page that says what is wrong.
var said = regexp.MustCompile(`<[^>]*(?:role="alert"|class="headline")[^>]*>[^<]*`)

// pages are what readers look at.
var pages = []string{"/", "/assess", "/assess/table", "/assess/earned", "/assess/trends", "/money", "/money/projects", "/money/year",
	"/timeline", "/timeline/milestones", "/gather", "/check", "/explain", "/publish", "/projects", "/registers/risks", "/registers/actions",
	"/projects/LW-00001", "/projects/LW-00001/plan", "/projects/LW-00001/money", "/projects/LW-00001?trace=ac", "/people/load", "/desk",
	"/?asof=2026-09-30", "/assess?asof=2026-09-30"}

// use does everything at once until the time is over. It returns while the last things are still under way, so that the server is stopped
// in the middle of them.
func (s *server) use(ctx context.Context, r *report) {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	var all sync.WaitGroup
	for i := range s.Readers {
		all.Go(func() { s.read(ctx, r, rand.New(rand.NewPCG(1, uint64(i)))) }) // which page comes next is no secret
	}
	every := func(pause time.Duration, what string, act func(n int) error) {
		all.Go(func() {
			for n := 0; sleep(ctx, pause); n++ {
				begun := time.Now()
				r.did(ctx, what, time.Since(begun), act(n))
			}
		})
	}
	every(s.Load, "load", func(n int) error { return s.load(ctx, n) })
	every(s.Edit, "edit", func(n int) error { return s.note(ctx, n) })
	every(s.Report, "report", func(int) error { return s.want(ctx, "/pack.pdf") })
	every(s.Close, "close", func(n int) error { return s.closing(ctx, n) })
	for end := time.Now().Add(s.For); time.Now().Before(end) && sleep(ctx, s.Every); {
		r.sample(ctx, s)
	}
}

// sleep reports whether there is more to do after a pause.
func sleep(ctx context.Context, d time.Duration) bool {
	select {
	case <-ctx.Done():
		return false
	case <-time.After(d):
		return true
	}
}

func (s *server) read(ctx context.Context, r *report, dice *rand.Rand) {
	for sleep(ctx, time.Second/2+time.Duration(dice.Int64N(int64(time.Second)))) {
		path, begun := pages[dice.IntN(len(pages))], time.Now()
		status, body, err := s.get(ctx, path)
		r.saw(ctx, path, status, time.Since(begun), problem(path, status, body, err))
	}
}

// want asks for an address that must answer.
func (s *server) want(ctx context.Context, path string) error {
	status, body, err := s.patient(ctx, path)
	return problem(path, status, body, err)
}

// patient asks again while it is told to wait.
func (s *server) patient(ctx context.Context, path string) (status int, body string, err error) {
	for range 60 {
		if status, body, err = s.get(ctx, path); status != 429 && status != 503 || !sleep(ctx, time.Second) {
			break
		}
	}
	return status, body, err
}

func problem(path string, status int, body string, err error) error {
	if err == nil && status >= 400 {
		err = fmt.Errorf("%s: status %d: %.600s", path, status, strings.Join(said.FindAllString(body, -1), " "))
	}
	return err
}

// load sends a ledger of a project and has it loaded.
func (s *server) load(ctx context.Context, n int) error {
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	for _, f := range [][2]string{{"_csrf", s.token}, {"source", "steady"}, {"period", "2026-10"}} {
		if err := w.WriteField(f[0], f[1]); err != nil {
			return err
		}
	}
	file, err := w.CreateFormFile("files", "actuals.csv")
	if err != nil {
		return err
	}
	fmt.Fprintln(file, "project,cost_code,date,amount,document")
	for i := range 200 {
		fmt.Fprintf(file, "LW-00001,11,2026-10-%02d,%d.5%d,S%d-%d\n", i%28+1, i, n%10, n, i)
	}
	if err := w.Close(); err != nil {
		return err
	}
	status, body, err := s.ask(ctx, "POST", s.at+"/gather/drafts", w.FormDataContentType(), &b)
	if err := problem("/gather/drafts", status, body, err); err != nil {
		return err
	}
	_, draft, ok := strings.Cut(body, "/gather/drafts/")
	if !ok {
		return fmt.Errorf("no draft came of a file: %.300s", body)
	}
	id := draft[:strings.IndexAny(draft, `/?"`)]
	status, body, err = s.post(ctx, "/gather/drafts/"+id+"/load", url.Values{})
	return problem("the load", status, body, err)
}

// note writes a note to the figures of the portfolio.
func (s *server) note(ctx context.Context, n int) error {
	status, body, err := s.patient(ctx, "/explain")
	if err := problem("/explain", status, body, err); err != nil {
		return err
	}
	form := fields(body, "/explain")
	form.Set("text", fmt.Sprintf("Note %d.", n))
	status, body, err = s.post(ctx, "/explain", form)
	return problem("the note", status, body, err)
}

// closing closes the next month of 2025, with whatever stands in its way let pass.
func (s *server) closing(ctx context.Context, n int) error {
	query := "?asof=" + time.Date(2025, time.Month(n%12+2), 0, 0, 0, 0, 0, time.UTC).Format(time.DateOnly)
	at := "/publish" + query
	for range 40 {
		status, body, err := s.patient(ctx, at)
		if err := problem(at, status, body, err); err != nil {
			return err
		}
		if form := fields(body, "/publish/waive"); form.Get("what") != "" {
			form.Set("reason", "tried out")
			status, body, err = s.post(ctx, "/publish/waive"+query, form)
			if err := problem("waiving", status, body, err); err != nil {
				return err
			}
			continue
		}
		form := fields(body, "/publish")
		if form.Get("period") == "" {
			return nil // closed already
		}
		status, body, err = s.post(ctx, "/publish"+query, form)
		return problem("closing", status, body, err)
	}
	return fmt.Errorf("%s: something still stands in the way", at)
}
