package assess

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"sync"
	"unsafe"

	"golang.org/x/sync/singleflight"

	"turret/internal/app/access"
	"turret/internal/app/kept"
	"turret/internal/core/backlog"
	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
)

// MostKept is how many bytes of assessments are kept, by estimate, so that stepping between periods is quick. The newest is kept whatever
// it takes.
const MostKept = 700 << 20

// cache keeps assessments and what different people see of them. Its lock is held around the list only, never while computing.
type cache struct {
	mu     sync.Mutex
	list   []*cachedDay // used last at the end
	most   int64        // bytes
	making singleflight.Group
	one    chan struct{}   // whoever computes
	wrote  map[int64]int64 // by account: the head after the last thing that person changed
	failed map[dayIn]int64 // the head for which a day was tried last and could not be computed

	running map[dayIn]*progress
}

// dayIn is a day in a currency, empty for the reporting one.
type dayIn struct {
	day      calendar.Date
	currency money.Currency
}

type cachedDay struct {
	a     *Assessment
	bytes int64
	views map[viewKey]*Assessment
}

func newCache(most int64) *cache {
	return &cache{most: most, one: make(chan struct{}, 1), wrote: map[int64]int64{}, failed: map[dayIn]int64{},
		running: map[dayIn]*progress{}}
}

// find is the assessment of a day in a currency that was computed last, of whatever head; nil where none is kept.
func (c *cache) find(asOf calendar.Date, currency money.Currency) *cachedDay {
	c.mu.Lock()
	defer c.mu.Unlock()
	for i, k := range c.list {
		if k.a.Env.AsOf == asOf && (k.a.Env.Currency == currency || currency == "" && !k.a.Shown) {
			c.list = append(slices.Delete(c.list, i, i+1), k)
			return k
		}
	}
	return nil
}

// put keeps an assessment in the place of a former one, and lets go of those that were not used for longest where they are too many bytes.
func (c *cache) put(a *Assessment, former *cachedDay) *cachedDay {
	k := &cachedDay{a: a, bytes: bytesOf(a), views: map[viewKey]*Assessment{}}
	c.mu.Lock()
	defer c.mu.Unlock()
	c.list = append(slices.DeleteFunc(c.list, func(old *cachedDay) bool { return old == former }), k)
	c.shrink()
	return k
}

// shrink is called under the lock.
func (c *cache) shrink() {
	var all int64
	for _, k := range c.list {
		all += k.bytes
	}
	n := 0
	for ; n < len(c.list)-1 && all > c.most; n++ {
		all -= c.list[n].bytes
	}
	c.list = slices.Delete(c.list, 0, n)
}

// seen is what an actor sees of an assessment; it is made once, and kept as long as that is.
func (c *cache) seen(k *cachedDay, actor *access.Actor) *Assessment {
	key, all := sightOf(actor)
	if all {
		return k.a
	}
	c.mu.Lock()
	v := k.views[key]
	c.mu.Unlock()
	if v != nil {
		return v
	}
	v = Narrowed(k.a, actor)
	c.mu.Lock()
	defer c.mu.Unlock()
	if other := k.views[key]; other != nil { // someone who sees the same was quicker
		return other
	}
	k.views[key] = v
	k.bytes += ownBytes(v)
	c.shrink()
	return v
}

// older is what an actor sees of an assessment while a newer one is computed; it is the same each time.
func (c *cache) older(k *cachedDay, actor *access.Actor) *Assessment {
	a := c.seen(k, actor)
	key, _ := sightOf(actor)
	key.older = true
	c.mu.Lock()
	defer c.mu.Unlock()
	if k.views[key] == nil {
		v := *a
		v.Older = true
		k.views[key] = &v
	}
	return k.views[key]
}

// keeps reports whether an assessment is among those kept, in whatever view.
func (c *cache) keeps(a *Assessment) bool {
	c.mu.Lock()
	defer c.mu.Unlock()
	return slices.ContainsFunc(c.list, func(k *cachedDay) bool { return k.a.net == a.net })
}

// changed notes that a person changed something, which is shown to that person from then on.
func (c *cache) changed(account, head int64) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.wrote[account] = max(head, c.wrote[account])
}

func (c *cache) lastWrote(account int64) int64 {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.wrote[account]
}

// broke notes that a day could not be computed for a head.
func (c *cache) broke(asOf calendar.Date, currency money.Currency, head int64) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.failed[dayIn{asOf, currency}] = head
}

// brokeAt is the head for which a day could not be computed; 0 where that did not happen.
func (c *cache) brokeAt(asOf calendar.Date, currency money.Currency) int64 {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.failed[dayIn{asOf, currency}]
}

// once has a day computed, in a currency and for a head; whoever asks for the same meanwhile gets the same. It goes on when whoever asked
// first has gone.
func (c *cache) once(ctx context.Context, day dayIn, head int64, compute func(context.Context) (*cachedDay, error)) (*cachedDay, error) {
	answer := c.making.DoChan(fmt.Sprint(day.day, day.currency, head), func() (_ any, err error) {
		ctx, end := c.begin(context.WithoutCancel(ctx), day, head)
		defer end()
		c.one <- struct{}{}
		defer func() { <-c.one }()
		defer func() {
			if p := recover(); p != nil { // in a goroutine of its own, where nobody above would catch it
				err = fmt.Errorf("computing broke off: %v", p)
			}
		}()
		return compute(ctx)
	})
	select {
	case r := <-answer:
		if r.Err != nil {
			return nil, r.Err
		}
		k, ok := r.Val.(*cachedDay)
		if !ok {
			return nil, errors.New("nothing was computed")
		}
		return k, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

// bytesOf estimates what an assessment takes: the long lists by their lengths, and a share for what hangs on each row.
func bytesOf(a *Assessment) int64 {
	const text = 40 // of a row's strings that it does not share with others
	n := rowBytes[schedule.Dependency](len(a.links), 0)
	for _, l := range a.links {
		n += rowBytes[schedule.Dependency](len(l), text/4)
	}
	n += rowBytes[cost.RateRow](len(a.Masters.Rates), text) + rowBytes[kept.CalendarRow](len(a.Masters.Calendars), text) +
		rowBytes[kept.Person](len(a.Masters.People), 3*text) + rowBytes[capacity.Person](len(a.People), text) +
		rowBytes[kept.CostCode](len(a.Masters.CostCodes), 2*text)
	for _, p := range slices.Concat(a.Projects, a.Holders) {
		n += projectBytes(p)
		n += rowBytes[schedule.Activity](len(p.Activities), 2*text) + rowBytes[schedule.Event](len(p.Events), text)
		n += 3 * int64(len(p.Activities)) * int64(unsafe.Sizeof(schedule.Task{})) // the network: tasks, both passes, the sheet
		n += rowBytes[cost.Cell](len(p.Account.Cells), 0) + rowBytes[cost.CodeFigures](len(p.Account.ByCode), 0)
		n += 8 * int64(2*len(p.Account.BudgetBy)+len(p.Account.ActualBy)+len(p.Account.ForecastBy))
		n += rowBytes[risk.Risk](len(p.Risks), 3*text) + rowBytes[risk.Issue](len(p.Issues), 2*text) +
			rowBytes[risk.Action](len(p.Actions), 2*text) + rowBytes[risk.Step](len(p.Steps), text) +
			rowBytes[risk.Decision](len(p.Decisions), 2*text) + rowBytes[backlog.Item](len(p.Items), 2*text) +
			rowBytes[backlog.Iteration](len(p.Iterations), text) +
			rowBytes[benefit.Benefit](len(p.Benefits), 2*text) + rowBytes[capacity.Share](len(p.Shares), 2*text) +
			rowBytes[cost.Change](len(p.Changes), 3*text)
		for i := range p.Past {
			n += rowBytes[measure.Value](len(p.Past[i].Values), 0)
		}
	}
	return n
}

// ownBytes estimates what a view takes besides the assessment that it is of.
func ownBytes(a *Assessment) int64 {
	if !a.NoMoney {
		return 64 * int64(len(a.Projects))
	}
	var n int64
	for _, p := range a.Projects {
		n += projectBytes(p)
	}
	return n
}

// projectBytes is what a project takes without its rows: itself, its figures, and what checks found.
func projectBytes(p *measure.Project) int64 {
	return int64(unsafe.Sizeof(*p)) + rowBytes[measure.Value](len(p.Values), 0) + rowBytes[check.Finding](len(p.Checks.Findings), 80)
}

// rowBytes is what n rows take, each with so many bytes besides.
func rowBytes[T any](n int, besides int64) int64 {
	var row T
	return int64(n) * (int64(unsafe.Sizeof(row)) + besides)
}
