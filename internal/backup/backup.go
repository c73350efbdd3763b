// Package backup copies the file of an office into a folder on a schedule, and keeps the last copies.
package backup

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"
)

// Schedule says where copies go, how often, and how many are kept.
type Schedule struct {
	Dir   string
	Name  string        // that copies begin with, so that those of another file are left alone
	Every time.Duration // at least a minute
	Keep  int           // at least 1
	// Copy writes a copy that is there wholly or not at all; Files writes what is attached to records into a folder, where that lacks it.
	Copy  func(ctx context.Context, to string) error
	Files func(ctx context.Context, dir string) error
	Now   func() time.Time

	mu     sync.Mutex
	last   time.Time // of the last copy that was made
	failed int       // tries since
	why    error
}

// Names of copies tell when they were made, by UTC, so that they sort by it. What is attached lies beside, as turret restore looks for
// it. A
// copy has its name once all of it is there.
const (
	suffix, attached, partly = ".db", ".files", ".part"
	stamp                    = "2006-01-02T150405Z"
)

// Check refuses a schedule that cannot be kept.
func (s *Schedule) Check() error {
	switch {
	case s.Every < time.Minute:
		return fmt.Errorf("backups every %s: expected a minute at least, such as 24h", s.Every)
	case s.Keep < 1:
		return fmt.Errorf("%d backups kept: expected 1 at least", s.Keep)
	}
	return os.MkdirAll(s.Dir, 0o700)
}

// Run makes a copy whenever one is due, until ctx ends. What fails is told in the log and tried again after a minute.
func (s *Schedule) Run(ctx context.Context) {
	for {
		if s.due() {
			switch at, err := s.Once(ctx); {
			case err == nil:
				slog.Info("backup", "file", at)
			case ctx.Err() == nil:
				slog.Error("backup", "folder", s.Dir, "error", err)
			}
		}
		wait, stop := context.WithTimeout(ctx, time.Minute)
		<-wait.Done()
		stop()
		if ctx.Err() != nil {
			return
		}
	}
}

// State is when the last copy was made, zero where none was yet, how many tries failed since, and why the last of them did.
func (s *Schedule) State() (last time.Time, failed int, why error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.last.IsZero() {
		if list, err := s.copies(); err == nil && len(list) > 0 {
			s.last = list[len(list)-1].at
		}
	}
	return s.last, s.failed, s.why
}

// due reports whether no copy was made in the time between two. One that was made in what is the future now, since a clock was put back,
// does not count.
func (s *Schedule) due() bool {
	list, err := s.copies()
	now := s.Now()
	return err != nil || !slices.ContainsFunc(list, func(c copied) bool { return !c.at.After(now) && now.Sub(c.at) < s.Every })
}

// Once makes a copy and takes away the oldest beyond those that are kept; what it made is never among them.
func (s *Schedule) Once(ctx context.Context) (path string, err error) {
	at := s.Now()
	path = filepath.Join(s.Dir, s.Name+"-"+at.UTC().Format(stamp)+suffix)
	before, err := s.copies()
	if err == nil {
		err = s.make(ctx, path, before)
	}
	s.note(at, err)
	if err != nil {
		return "", err
	}
	for _, old := range before[:max(0, len(before)+1-s.Keep)] {
		err = errors.Join(err, os.Remove(old.path), os.RemoveAll(old.path+attached))
	}
	return path, err
}

// note remembers what became of a try.
func (s *Schedule) note(at time.Time, err error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.why = err; err == nil {
		s.last, s.failed = at, 0
	} else {
		s.failed++
	}
}

// make writes a copy and what is attached, which is written after it, since it may name what was attached meanwhile. Nothing is left of
// what
// failed.
func (s *Schedule) make(ctx context.Context, path string, before []copied) (err error) {
	if _, err := os.Lstat(path); err == nil {
		return fmt.Errorf("%s: %w", path, os.ErrExist)
	}
	part := path + partly
	defer func() {
		if err != nil {
			err = errors.Join(err, os.RemoveAll(part), os.RemoveAll(path+attached))
		}
	}()
	if err := errors.Join(os.RemoveAll(part), os.RemoveAll(path+attached)); err != nil { // of a server that was killed
		return err
	}
	if err := s.Copy(ctx, part); err != nil {
		return err
	}
	if len(before) > 0 {
		if err := linked(before[len(before)-1].path+attached, path+attached); err != nil {
			return err
		}
	}
	if err := s.Files(ctx, path+attached); err != nil {
		return err
	}
	return os.Rename(part, path)
}

type copied struct {
	path string
	at   time.Time
}

// copies are those in the folder, the oldest first. Files with other names are none of ours.
func (s *Schedule) copies() (list []copied, err error) {
	entries, err := os.ReadDir(s.Dir)
	for _, e := range entries {
		name, ok := strings.CutPrefix(e.Name(), s.Name+"-")
		name, ours := strings.CutSuffix(name, suffix)
		if at, err := time.Parse(stamp, name); ok && ours && err == nil && e.Type().IsRegular() {
			list = append(list, copied{filepath.Join(s.Dir, e.Name()), at})
		}
	}
	slices.SortFunc(list, func(a, b copied) int { return cmp.Or(a.at.Compare(b.at), cmp.Compare(a.path, b.path)) })
	return list, err
}

// linked gives the files below a folder a second name below another, so that what did not change takes no room again. Files attached to
// records are named by their content and never change.
func linked(from, to string) error {
	err := filepath.WalkDir(from, func(path string, e fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		rel, err := filepath.Rel(from, path)
		if err != nil {
			return err
		}
		if e.IsDir() {
			return os.MkdirAll(filepath.Join(to, rel), 0o700)
		}
		if os.Link(path, filepath.Join(to, rel)) != nil {
			return fs.SkipAll // a disk without links: the files are copied
		}
		return nil
	})
	if errors.Is(err, fs.ErrNotExist) {
		return nil // nothing was attached then
	}
	return err
}
