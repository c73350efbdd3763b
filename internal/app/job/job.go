// Package job runs work in the background: it starts, tells how far it is, is stopped, is waited for, and is forgotten.
package job

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"time"
)

// ErrStopped is what a job that was stopped ended with, or wraps.
var ErrStopped = errors.New("stopped")

// ErrClosed is returned where no job begins any more.
var ErrClosed = errors.New("no load begins while Turret shuts down")

// State is how far a job is.
type State[R any] struct {
	Done, Total int // of its own unit; 0 of 0 before it has counted
	Ended       bool
	Result      R     // of a job that ended well
	Err         error // of one that did not
}

// Job is work under way or done.
type Job[R any] struct {
	mu    sync.Mutex
	state State[R]
	stop  context.CancelCauseFunc
	ended chan struct{}
	at    time.Time // when it ended
}

// Now is the state at this moment.
func (j *Job[R]) Now() State[R] {
	j.mu.Lock()
	defer j.mu.Unlock()
	return j.state
}

// Progress tells how far it is.
func (j *Job[R]) Progress(done, total int) {
	j.mu.Lock()
	defer j.mu.Unlock()
	j.state.Done, j.state.Total = done, total
}

// Stop asks the job to end. What it had begun it takes back by itself.
func (j *Job[R]) Stop() { j.stop(ErrStopped) }

// Wait returns when the job has ended, or ctx.
func (j *Job[R]) Wait(ctx context.Context) error {
	select {
	case <-j.ended:
		return nil
	case <-ctx.Done():
		return ctx.Err()
	}
}

func (j *Job[R]) end(result R, err error, at time.Time) {
	j.mu.Lock()
	defer j.mu.Unlock()
	j.state.Ended, j.state.Err, j.at = true, err, at
	if err == nil {
		j.state.Result = result
	}
	close(j.ended)
}

// Jobs are jobs by their names. A job that ended is known for a while, so that whoever began it reads what came of it.
type Jobs[R any] struct {
	mu     sync.Mutex
	by     map[string]*Job[R]
	now    func() time.Time
	closed bool
	under  sync.WaitGroup
}

// What is kept of jobs that ended: no longer, and no more of them.
const (
	KeptFor  = time.Hour
	KeptMost = 100
)

// New makes a place for jobs; now tells when they ended.
func New[R any](now func() time.Time) *Jobs[R] {
	return &Jobs[R]{by: map[string]*Job[R]{}, now: now}
}

// Start begins work in the background and returns at once. Where a job of that name is under way, or ended well, it is returned instead.
// The context of the work keeps the values of ctx, and ends when the job is stopped only. After Close the error is ErrClosed.
func (s *Jobs[R]) Start(ctx context.Context, name string, work func(context.Context, *Job[R]) (R, error)) (*Job[R], error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.forget()
	if s.closed {
		return nil, ErrClosed
	}
	if j := s.by[name]; j != nil {
		if now := j.Now(); !now.Ended || now.Err == nil {
			return j, nil
		}
	}
	inner, stop := context.WithCancelCause(context.WithoutCancel(ctx))
	j := &Job[R]{stop: stop, ended: make(chan struct{})}
	s.by[name] = j
	s.under.Add(1)
	go func() {
		defer s.under.Done()
		result, err := safely(inner, j, work)
		if err != nil && context.Cause(inner) != nil && !errors.Is(err, ErrStopped) {
			err = errors.Join(context.Cause(inner), err)
		}
		j.end(result, err, s.now())
		stop(nil)
	}()
	return j, nil
}

// safely does the work; a panic is its error, since nobody above would catch it.
func safely[R any](ctx context.Context, j *Job[R], work func(context.Context, *Job[R]) (R, error)) (result R, err error) {
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("it broke off: %v", p)
		}
	}()
	return work(ctx, j)
}

// Get finds a job by its name; nil where none is known.
func (s *Jobs[R]) Get(name string) *Job[R] {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.forget()
	return s.by[name]
}

// forget drops jobs that ended long ago, and the oldest where too many did.
func (s *Jobs[R]) forget() {
	before := s.now().Add(-KeptFor)
	ended := 0
	oldest := ""
	for name, j := range s.by {
		j.mu.Lock()
		done, at := j.state.Ended, j.at
		j.mu.Unlock()
		switch {
		case !done:
			continue
		case at.Before(before):
			delete(s.by, name)
			continue
		}
		ended++
		if oldest == "" || at.Before(s.by[oldest].at) {
			oldest = name
		}
	}
	if ended > KeptMost {
		delete(s.by, oldest)
	}
}

// Close lets no job begin any more and waits for those under way; where ctx ends first they are stopped, and waited for.
func (s *Jobs[R]) Close(ctx context.Context) {
	s.mu.Lock()
	s.closed = true
	s.mu.Unlock()
	done := make(chan struct{})
	go func() {
		s.under.Wait()
		close(done)
	}()
	select {
	case <-done:
		return
	case <-ctx.Done():
	}
	s.mu.Lock()
	for _, j := range s.by {
		j.Stop()
	}
	s.mu.Unlock()
	<-done
}
