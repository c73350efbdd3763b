// Command steady uses a large file for a while as an office would, and tells whether the server stays level: readers, loads, edits,
// reports and closings at once, with memory, open files, goroutines, the log of the file and the times of pages over time. At the end
// the server is stopped in the middle of it, and the file is verified.
//
//	go run ./tools/steady -turret bin/turret -for 1h -out DIR
package main

import (
	"context"
	"flag"
	"fmt"
	"log"
	"os"
	"path/filepath"
	"time"
)

// config says how large the file is and what is done with it.
type config struct {
	Turret                       string // the program
	Dir                          string // where files are made
	For, Every                   time.Duration
	Projects, Activities, Ledger int
	Readers                      int
	Load, Edit, Report, Close    time.Duration // from one to the next
}

func main() {
	log.SetFlags(0)
	c := config{Load: 20 * time.Second, Edit: 15 * time.Second, Report: 30 * time.Second, Close: 3 * time.Minute}
	out := flag.String("out", "steady", "folder for the figures and their drawing")
	flag.StringVar(&c.Turret, "turret", "bin/turret", "the program")
	flag.DurationVar(&c.For, "for", time.Hour, "how long it is used")
	flag.DurationVar(&c.Every, "every", 10*time.Second, "from one sample to the next")
	flag.IntVar(&c.Projects, "projects", 200, "projects of the file")
	flag.IntVar(&c.Activities, "activities", 40_000, "its activities")
	flag.IntVar(&c.Ledger, "ledger", 400_000, "its postings")
	flag.DurationVar(&c.Close, "close", c.Close, "from the closing of one month to that of the next")
	flag.IntVar(&c.Readers, "readers", 20, "readers, who pause a second between pages")
	flag.Parse()
	dir, err := os.MkdirTemp("", "turret-steady-")
	if err != nil {
		log.Fatal(err)
	}
	c.Dir = dir
	r, err := run(context.Background(), c)
	if err == nil {
		err = r.write(*out)
	}
	if err == nil {
		err = os.RemoveAll(dir)
	}
	if err != nil {
		log.Fatal(err)
	}
	fmt.Print(r)
}

// run makes a file, uses it, stops the server in the middle of it, and verifies the file.
func run(ctx context.Context, c config) (*report, error) {
	s, err := prepare(ctx, c)
	if err != nil {
		return nil, err
	}
	if err := s.start(ctx); err != nil {
		return nil, err
	}
	r := &report{config: c, began: time.Now()}
	s.use(ctx, r)
	stopped := time.Now()
	if err := s.stop(); err != nil {
		r.Failed = append(r.Failed, "stopping: "+err.Error())
	}
	r.Stop, r.Said = time.Since(stopped), s.said.errors()
	r.Verified, err = s.turret(ctx, "verify", "--db", s.db)
	if err != nil {
		r.Failed = append(r.Failed, "after it was stopped: "+err.Error())
	}
	return r, nil
}

// prepare writes a portfolio and takes it in.
func prepare(ctx context.Context, c config) (*server, error) {
	s := &server{config: c, db: filepath.Join(c.Dir, "steady.db")}
	in := filepath.Join(c.Dir, "in")
	for _, args := range [][]string{{"generate", "--projects", fmt.Sprint(c.Projects), "--activities", fmt.Sprint(c.Activities), "--ledger",
		fmt.Sprint(c.Ledger), "--seed", "1", in}, {"init", "--db", s.db}, {"import", "--db", s.db, "--period", "2025-01", in}} {
		if _, err := s.turret(ctx, args...); err != nil {
			return nil, err
		}
	}
	return s, nil
}
