package main

import (
	"cmp"
	"context"
	"encoding/csv"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"turret/internal/scene"
)

// report is what was seen. It is safe for concurrent use while the server is used.
type report struct {
	config   config
	began    time.Time
	Stop     time.Duration // from being asked to end to having ended
	Verified string

	mu      sync.Mutex
	now     []time.Duration // of pages since the last sample
	Pages   int
	Waited  int            // answers that said to come again
	Done    map[string]int // by what
	Failed  []string
	Said    []string // errors that the server logged
	Samples []sample
	visits  []visit
}

// visit is an answer to a reader.
type visit struct {
	path string
	at   time.Duration // since the beginning
	took time.Duration
}

// sample is how the server is at a moment.
type sample struct {
	At                           time.Duration
	Memory, Files, Routines, Log int // bytes, number, number, bytes
	Median, P95                  time.Duration
	Pages                        int
}

// saw notes a page. What was broken off by the end counts as nothing.
func (r *report) saw(ctx context.Context, path string, status int, took time.Duration, err error) {
	if ctx.Err() != nil {
		return
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	switch {
	case status == 429 || status == 503:
		r.Waited++
	case err != nil:
		r.Failed = append(r.Failed, "a page: "+err.Error())
	default:
		r.Pages++
		r.now = append(r.now, took)
		r.visits = append(r.visits, visit{path, time.Since(r.began), took})
	}
}

func (r *report) did(ctx context.Context, what string, _ time.Duration, err error) {
	if ctx.Err() != nil {
		return
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	if err != nil {
		r.Failed = append(r.Failed, what+": "+err.Error())
		return
	}
	if r.Done == nil {
		r.Done = map[string]int{}
	}
	r.Done[what]++
}

var gauge = regexp.MustCompile(`(?m)^(go_goroutines|turret_file_log_bytes) (\S+)$`)

// sample asks the server how it is.
func (r *report) sample(ctx context.Context, s *server) {
	x := sample{At: time.Since(r.began).Round(time.Second)}
	x.Memory, x.Files = s.resident()
	if _, text, err := s.ask(ctx, "GET", s.metrics, "", nil); err == nil {
		for _, m := range gauge.FindAllStringSubmatch(text, -1) {
			n, _ := strconv.ParseFloat(m[2], 64)
			if m[1] == "go_goroutines" {
				x.Routines = int(n)
			} else {
				x.Log = int(n)
			}
		}
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	slices.Sort(r.now)
	if x.Pages = len(r.now); x.Pages > 0 {
		x.Median, x.P95 = r.now[x.Pages/2], r.now[x.Pages*95/100]
	}
	r.now = nil
	r.Samples = append(r.Samples, x)
}

// figure is one of a sample, with its unit.
type figure struct {
	name string
	of   func(*sample) float64
}

var figures = []figure{{"memory, MB", func(s *sample) float64 { return float64(s.Memory) / 1e6 }},
	{"open files", func(s *sample) float64 { return float64(s.Files) }},
	{"goroutines", func(s *sample) float64 { return float64(s.Routines) }},
	{"log of the file, MB", func(s *sample) float64 { return float64(s.Log) / 1e6 }},
	{"median page, ms", func(s *sample) float64 { return float64(s.Median.Milliseconds()) }},
	{"95th percentile, ms", func(s *sample) float64 { return float64(s.P95.Milliseconds()) }}}

// quarter is the median of a figure over one of four parts of the time, the first being 0.
func (r *report) quarter(f figure, k int) float64 {
	n := len(r.Samples)
	var list []float64
	for i := n * k / 4; i < n*(k+1)/4; i++ {
		list = append(list, f.of(&r.Samples[i]))
	}
	if len(list) == 0 {
		return 0
	}
	slices.Sort(list)
	return list[len(list)/2]
}

// String is the report as Markdown.
func (r *report) String() string {
	var b strings.Builder
	fmt.Fprintf(&b, "%s with %d readers over %d projects, %d activities and %d postings: %d pages, %d told to come again; done: %v; "+
		"failed: %d.\n", r.config.For, r.config.Readers, r.config.Projects, r.config.Activities, r.config.Ledger,
		r.Pages, r.Waited, r.Done, len(r.Failed))
	fmt.Fprintf(&b, "Stopped in the middle of it in %.1f s; then verified.\n\n", r.Stop.Seconds())
	b.WriteString("| quarter by quarter | 1 | 2 | 3 | 4 |\n|---|---|---|---|---|\n")
	for _, f := range figures {
		fmt.Fprintf(&b, "| %s |", f.name)
		for k := range 4 {
			fmt.Fprintf(&b, " %.0f |", r.quarter(f, k))
		}
		b.WriteString("\n")
	}
	b.WriteString("\n| page | median of the first half, ms | of the second |\n|---|---|---|\n")
	for _, p := range r.slowest(10) {
		fmt.Fprintf(&b, "| %s | %d | %d |\n", p.path, p.first.Milliseconds(), p.second.Milliseconds())
	}
	for _, f := range r.Failed[:min(20, len(r.Failed))] {
		fmt.Fprintf(&b, "\nfailed: %s\n", f)
	}
	for _, f := range r.Said[:min(20, len(r.Said))] {
		fmt.Fprintf(&b, "\nlogged: %s\n", f)
	}
	return b.String()
}

// halves are the medians of a page in both halves of the time.
type halves struct {
	path          string
	first, second time.Duration
}

// slowest are the pages that took longest in the second half.
func (r *report) slowest(most int) []halves {
	times := map[string]*[2][]time.Duration{}
	for _, v := range r.visits {
		if times[v.path] == nil {
			times[v.path] = &[2][]time.Duration{}
		}
		half := 0
		if v.at > r.config.For/2 {
			half = 1
		}
		times[v.path][half] = append(times[v.path][half], v.took)
	}
	var list []halves
	for path, of := range times {
		list = append(list, halves{path, median(of[0]), median(of[1])})
	}
	slices.SortFunc(list, func(a, b halves) int { return cmp.Or(cmp.Compare(b.second, a.second), cmp.Compare(a.path, b.path)) })
	return list[:min(most, len(list))]
}

func median(list []time.Duration) time.Duration {
	if len(list) == 0 {
		return 0
	}
	slices.Sort(list)
	return list[len(list)/2]
}

// write keeps the samples as CSV, and draws them.
func (r *report) write(dir string) error {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return err
	}
	var text strings.Builder
	w := csv.NewWriter(&text)
	head := []string{"seconds", "pages"}
	for _, f := range figures {
		head = append(head, f.name)
	}
	_ = w.Write(head) // into memory
	for i := range r.Samples {
		x := &r.Samples[i]
		row := []string{fmt.Sprint(int(x.At.Seconds())), fmt.Sprint(x.Pages)}
		for _, f := range figures {
			row = append(row, strconv.FormatFloat(f.of(x), 'f', 1, 64))
		}
		_ = w.Write(row)
	}
	w.Flush()
	if err := os.WriteFile(filepath.Join(dir, "steady.csv"), []byte(text.String()), 0o600); err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(dir, "steady.svg"), []byte(r.draw().Standalone()), 0o600)
}

// draw draws each figure over time, one below the other.
func (r *report) draw() *scene.Scene {
	const width, height, left, row = 900.0, 100.0, 150.0, 80.0
	s := scene.New(width, height*float64(len(figures)), "How a server stays level")
	for k, f := range figures {
		low := height*float64(k) + row + 10
		most := 1.0
		for i := range r.Samples {
			most = max(most, f.of(&r.Samples[i]))
		}
		s.Text("label", 4, low-row/2, scene.Start, f.name)
		s.Text("label-soft", left-6, low-row+8, scene.End, strconv.FormatFloat(most, 'f', 0, 64))
		s.Line("axis", left, low, width-8, low)
		var points []float64
		for i := range r.Samples {
			x := left + (width-8-left)*float64(i)/float64(max(1, len(r.Samples)-1))
			points = append(points, x, low-row*f.of(&r.Samples[i])/most)
		}
		s.Polyline("actual", points...)
	}
	return s
}
