package assess

import (
	"context"
	"errors"
	"sync"
	"time"

	"turret/internal/app/access"
	"turret/internal/core/calendar"
)

// ErrComputing is returned to whoever has patience for so long only, while a day is still being computed.
var ErrComputing = errors.New("still being computed")

type patienceKey struct{}

// Patient marks whoever asks as waiting no longer than that for a day of which nothing was computed yet; it goes on being computed.
func Patient(ctx context.Context, most time.Duration) context.Context {
	return context.WithValue(ctx, patienceKey{}, most)
}

// waitFor has a day computed in the turn of whoever asks, for as long as they have patience.
func waitFor(ctx context.Context, o *Office, asOf calendar.Date, head int64) (*cachedDay, error) {
	within := ctx
	if most, ok := ctx.Value(patienceKey{}).(time.Duration); ok {
		limited, cancel := context.WithTimeout(ctx, most)
		defer cancel()
		within = limited
	}
	k, err := inTurn(within, o, asOf, head)
	if errors.Is(err, context.DeadlineExceeded) && ctx.Err() == nil {
		err = ErrComputing
	}
	return k, err
}

func inTurn(ctx context.Context, o *Office, asOf calendar.Date, head int64) (*cachedDay, error) {
	if how := o.cache.runningAt(dayIn{asOf, currencyIn(ctx)}); how != nil && how.head == head {
		return o.fresh(ctx, asOf, head) // somebody has it computed, and one more who waits for it is no more work
	}
	done, err := o.asking.Wait(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	return o.fresh(ctx, asOf, head)
}

// Progress is how far the computing of a day has come.
type Progress struct {
	Step      string // what is done now, as a clause
	Done, All int    // projects, in the last step; 0 before
}

// progress notes how far computing has come. It is safe for concurrent use; nil notes nothing.
type progress struct {
	head int64

	mu  sync.Mutex
	now Progress
}

func (p *progress) at(now Progress) {
	if p == nil {
		return
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	p.now = now
}

func (p *progress) read() Progress {
	p.mu.Lock()
	defer p.mu.Unlock()
	return p.now
}

type progressKey struct{}

func progressIn(ctx context.Context) *progress {
	p, _ := ctx.Value(progressKey{}).(*progress)
	return p
}

// begin notes that a day is being computed for a head until the function returned is called.
func (c *cache) begin(ctx context.Context, day dayIn, head int64) (context.Context, func()) {
	p := &progress{head: head, now: Progress{Step: "waiting until another period is computed"}}
	c.mu.Lock()
	defer c.mu.Unlock()
	c.running[day] = p
	return context.WithValue(ctx, progressKey{}, p), func() {
		c.mu.Lock()
		defer c.mu.Unlock()
		if c.running[day] == p {
			delete(c.running, day)
		}
	}
}

func (c *cache) runningAt(day dayIn) *progress {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.running[day]
}

// Computing tells how far the computing of a day has come; false where it is not being computed.
func (o *Office) Computing(ctx context.Context, asOf calendar.Date) (Progress, bool, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return Progress{}, false, err
	}
	p := o.cache.runningAt(dayIn{asOf, currencyIn(ctx)})
	if p == nil {
		return Progress{}, false, nil
	}
	return p.read(), true, nil
}

// Warm has a day computed that nothing was computed of yet, and does not wait for it.
func (o *Office) Warm(ctx context.Context, asOf calendar.Date) error {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return err
	}
	head, err := o.store.Head(ctx)
	if err != nil || o.cache.find(asOf, currencyIn(ctx)) != nil {
		return err
	}
	o.later.Go(func() {
		if _, err := o.fresh(context.WithoutCancel(ctx), asOf, head); err != nil {
			o.cache.broke(asOf, currencyIn(ctx), head)
		}
	})
	return nil
}

// Head counts the changes that figures depend on.
func (o *Office) Head(ctx context.Context) (int64, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return 0, err
	}
	return o.store.Head(ctx)
}
