package app_test

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/core/calendar"
	"turret/internal/ingest"
	"turret/internal/store"
)

// slow is a store whose reading of the masters waits, and notes how many wait at once.
type slow struct {
	*store.Store
	gate      chan struct{}
	now, most atomic.Int64
}

func (s *slow) Masters(ctx context.Context) (*app.Masters, error) {
	n := s.now.Add(1)
	defer s.now.Add(-1)
	for m := s.most.Load(); n > m && !s.most.CompareAndSwap(m, n); m = s.most.Load() {
	}
	<-s.gate
	return s.Store.Masters(ctx)
}

// Whoever asks for sixty days at once has them computed one by one, and is told once there are too many; a day that is at hand is shown meanwhile,
// to the same person too.
func TestManyDaysAtOnceAreBounded(t *testing.T) {
	inner, _ := stored(t)
	s := &slow{Store: inner, gate: make(chan struct{})}
	o := app.NewOffice(s, func() time.Time { return at }, app.Parts{Reader: ingest.Reader{}})
	ana := app.As(context.Background(), &app.Actor{Account: 7, Login: "ana", Name: "Ana", Role: app.Analyst})
	go func() { s.gate <- struct{}{} }()
	_, err := o.Assess(ana, last)
	require.NoError(t, err)

	var wait sync.WaitGroup
	var busy, done atomic.Int64
	for i := range calendar.Date(60) {
		wait.Go(func() {
			_, err := o.Assess(ana, last+1+i)
			switch {
			case errors.Is(err, app.ErrBusy):
				busy.Add(1)
			case assert.NoError(t, err):
				done.Add(1)
			}
		})
	}
	require.Eventually(t, func() bool { return busy.Load() == 60-16 }, time.Minute, time.Millisecond)
	_, err = o.Assess(ana, last)
	require.NoError(t, err, "what is at hand waits for nothing")
	close(s.gate)
	wait.Wait()
	assert.Equal(t, []int64{16, 1}, []int64{done.Load(), s.most.Load()})
}

// Many who ask for the same day have it computed once.
func TestADayIsComputedOnce(t *testing.T) {
	inner, _ := stored(t)
	s := &slow{Store: inner, gate: make(chan struct{})}
	o := app.NewOffice(s, func() time.Time { return at }, app.Parts{Reader: ingest.Reader{}})
	var wait sync.WaitGroup
	views := make([]*app.Assessment, 10)
	for i := range views {
		wait.Go(func() {
			c := app.As(context.Background(), &app.Actor{Account: int64(i + 1), Role: app.Analyst})
			a, err := o.Assess(c, last)
			assert.NoError(t, err)
			views[i] = a
		})
	}
	s.gate <- struct{}{} // one reading of the masters is all there is
	wait.Wait()
	for _, a := range views {
		assert.Same(t, views[0], a)
	}
}
