package access

import (
	"context"
	"fmt"
	"sync"

	"turret/internal/app/fault"
)

// Turns are who is at such work now and who waits: each person has one at a time, and all together a few.
type Turns struct {
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

// NewTurns makes turns for so many at a time of all, of whom each may have most under way, the one at work included; what says what is
// done, in the words of who is told that there is too much of it.
func NewTurns(all, most int, what string) *Turns {
	return &Turns{by: map[int64]*turn{}, all: make(chan struct{}, all), most: most, what: what}
}

// Wait holds until it is the turn of whoever asks; done ends it. Too many who wait already are an error wrapping ErrBusy.
func (t *Turns) Wait(ctx context.Context) (done func(), err error) {
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

func (t *Turns) line(account int64) (*turn, error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	own := t.by[account]
	if own == nil {
		own = &turn{one: make(chan struct{}, 1)}
		t.by[account] = own
	}
	if own.waiting >= t.most {
		return nil, fmt.Errorf("%d %s for you; wait until they are: %w", own.waiting, t.what, fault.ErrBusy)
	}
	own.waiting++
	return own, nil
}

func (t *Turns) leave(account int64, own *turn) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if own.waiting--; own.waiting == 0 {
		delete(t.by, account)
	}
}
