package app

import (
	"context"
	"fmt"
	"runtime"
	"sync"
)

// Reading files takes memory and time, so that each person has one read at a time, and all together as many as there are processors.
const mostWaiting = 4 // of one person

// turns are who reads now and who waits.
type turns struct {
	mu  sync.Mutex
	by  map[int64]*turn
	all chan struct{}
}

type turn struct {
	one     chan struct{}
	waiting int
}

func newTurns() *turns {
	return &turns{by: map[int64]*turn{}, all: make(chan struct{}, max(2, runtime.GOMAXPROCS(0)))}
}

// wait holds until it is the turn of whoever asks; done ends it. Too many who wait already are an error wrapping ErrBusy.
func (t *turns) wait(ctx context.Context) (done func(), err error) {
	actor := ActorOf(ctx)
	if actor == nil || actor.Account == 0 { // the command line, and feeds, which run one at a time
		return func() {}, nil
	}
	own, err := t.line(actor.Account)
	if err != nil {
		return nil, err
	}
	release := func(taken ...chan struct{}) {
		for _, c := range taken {
			<-c
		}
		t.leave(actor.Account, own)
	}
	select {
	case own.one <- struct{}{}:
	case <-ctx.Done():
		release()
		return nil, ctx.Err()
	}
	select {
	case t.all <- struct{}{}:
		return func() { release(t.all, own.one) }, nil
	case <-ctx.Done():
		release(own.one)
		return nil, ctx.Err()
	}
}

func (t *turns) line(account int64) (*turn, error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	own := t.by[account]
	if own == nil {
		own = &turn{one: make(chan struct{}, 1)}
		t.by[account] = own
	}
	if own.waiting >= mostWaiting {
		return nil, fmt.Errorf("%d of your files are being read; wait until they are: %w", own.waiting, ErrBusy)
	}
	own.waiting++
	return own, nil
}

func (t *turns) leave(account int64, own *turn) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if own.waiting--; own.waiting == 0 {
		delete(t.by, account)
	}
}
