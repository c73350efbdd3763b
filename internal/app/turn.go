package app

import (
	"context"
	"fmt"
	"sync"
)

// How much of what takes memory and time one person may have under way, the one at work included.
const (
	mostReading   = 4
	mostAssessing = 16
	mostAsking    = 1 << 10 // all together; they wait for their day to be computed, one at a time
)

// turns are who is at such work now and who waits: each person has one at a time, and all together a few.
type turns struct {
	mu   sync.Mutex
	by   map[int64]*turn
	all  chan struct{}
	most int    // of one person
	what string // it is, in the words of who is told that there is too much of it
}

type turn struct {
	one     chan struct{}
	waiting int
}

func newTurns(all, most int, what string) *turns {
	return &turns{by: map[int64]*turn{}, all: make(chan struct{}, all), most: most, what: what}
}

// wait holds until it is the turn of whoever asks; done ends it. Too many who wait already are an error wrapping ErrBusy.
func (t *turns) wait(ctx context.Context) (done func(), err error) {
	actor := ActorOf(ctx)
	if actor == nil || actor.Account == 0 { // the command line, and what runs by itself, one at a time
		select {
		case t.all <- struct{}{}:
			return func() { <-t.all }, nil
		case <-ctx.Done():
			return nil, ctx.Err()
		}
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
	if own.waiting >= t.most {
		return nil, fmt.Errorf("%d %s for you; wait until they are: %w", own.waiting, t.what, ErrBusy)
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
