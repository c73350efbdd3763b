package assess_test

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
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
)

// slow is a store whose reading of the masters waits, and notes how many wait at once.
type slow struct {
	*store.Store
	gate      chan struct{}
	open      atomic.Bool // nobody waits
	broken    atomic.Bool // nothing can be read
	now, most atomic.Int64
}

func (s *slow) Masters(ctx context.Context) (*kept.Masters, error) {
	n := s.now.Add(1)
	defer s.now.Add(-1)
	for m := s.most.Load(); n > m && !s.most.CompareAndSwap(m, n); m = s.most.Load() {
	}
	if !s.open.Load() {
		<-s.gate
	}
	if s.broken.Load() {
		return nil, errors.New("the disk is gone")
	}
	return s.Store.Masters(apptest.Ctx)
}

// Whoever asks for sixty days at once has them computed one by one, and is told once there are too many; a day that is at hand is shown
// meanwhile, to the same person too.
func TestManyDaysAtOnceAreBounded(t *testing.T) {
	inner, _ := apptest.Stored(t)
	s := &slow{Store: inner, gate: make(chan struct{})}
	o := app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{}})
	ana := access.As(context.Background(), &access.Actor{Account: 7, Login: "ana", Name: "Ana", Role: access.Analyst})
	go func() { s.gate <- struct{}{} }()
	_, err := o.Assess.Day(ana, apptest.Last)
	require.NoError(t, err)

	var wait sync.WaitGroup
	var busy, done atomic.Int64
	for i := range calendar.Date(60) {
		wait.Go(func() {
			_, err := o.Assess.Day(ana, apptest.Last+1+i)
			switch {
			case errors.Is(err, fault.ErrBusy):
				busy.Add(1)
			case assert.NoError(t, err):
				done.Add(1)
			}
		})
	}
	require.Eventually(t, func() bool { return busy.Load() == 60-16 }, time.Minute, time.Millisecond)
	_, err = o.Assess.Day(ana, apptest.Last)
	require.NoError(t, err, "what is at hand waits for nothing")
	close(s.gate)
	wait.Wait()
	assert.Equal(t, []int64{16, 1}, []int64{done.Load(), s.most.Load()})
}

// Many who ask for the same day have it computed once.
func TestADayIsComputedOnce(t *testing.T) {
	inner, _ := apptest.Stored(t)
	s := &slow{Store: inner, gate: make(chan struct{})}
	o := app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{}})
	var wait sync.WaitGroup
	views := make([]*assess.Assessment, 10)
	for i := range views {
		wait.Go(func() {
			c := access.As(context.Background(), &access.Actor{Account: int64(i + 1), Role: access.Analyst})
			a, err := o.Assess.Day(c, apptest.Last)
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

// While all figures are computed again, whoever is content with older ones has the last complete ones at once, marked; whoever changed
// something waits for what came of it, and so does whoever asks for a file.
func TestOlderFiguresWhileNewerAreComputed(t *testing.T) {
	inner, _ := apptest.Stored(t)
	s := &slow{Store: inner, gate: make(chan struct{})}
	o := app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{}})
	as := func(id int64) context.Context {
		return access.As(context.Background(), &access.Actor{Account: id, Login: "ana", Name: "Ana", Role: access.Analyst})
	}
	ana, bob := as(7), as(8)
	go func() { s.gate <- struct{}{} }()
	first, err := o.Assess.Day(assess.Lagging(ana), apptest.Last)
	require.NoError(t, err, "there are none that are complete: even the patient wait")
	assert.False(t, first.Older)

	s.open.Store(true)
	f, problems := ingest.Reader{}.Typed(record.CostCodes, [][]string{{"D", "Other"}})
	require.Empty(t, problems)
	_, err = o.Intake.Import(apptest.Ctx, []*kept.File{f}, intake.Origin{})
	require.NoError(t, err)
	s.open.Store(false)
	require.NoError(t, o.Assess.Changed(bob))

	older, err := o.Assess.Day(assess.Lagging(ana), apptest.Last)
	require.NoError(t, err)
	assert.True(t, older.Older)
	assert.Len(t, older.Masters.CostCodes, 1, "the cost codes of before")
	there, err := o.Assess.Newer(ana, apptest.Last, older.Head())
	require.NoError(t, err)
	assert.False(t, there)

	waiting := make(chan *assess.Assessment, 2)
	for _, c := range []context.Context{assess.Lagging(bob), ana} {
		go func() {
			a, err := o.Assess.Day(c, apptest.Last)
			assert.NoError(t, err)
			waiting <- a
		}()
	}
	select {
	case <-waiting:
		t.Fatal("who changed something, or asked for a file, did not wait")
	case s.gate <- struct{}{}:
	}
	for range 2 {
		a := <-waiting
		assert.Len(t, a.Masters.CostCodes, 2)
		assert.False(t, a.Older)
	}
	there, err = o.Assess.Newer(ana, apptest.Last, older.Head())
	require.NoError(t, err)
	assert.True(t, there)
	o.Settle(ana)
	again, err := o.Assess.Day(assess.Lagging(ana), apptest.Last)
	require.NoError(t, err)
	assert.False(t, again.Older)
}

// Where the work of a few projects only is to be done, everyone waits for it.
func TestAFewProjectsAreWaitedFor(t *testing.T) {
	_, o := apptest.Stored(t)
	ana := access.As(context.Background(), &access.Actor{Account: 7, Login: "ana", Name: "Ana", Role: access.Analyst})
	apptest.Assessed(t, o, apptest.Last)
	apptest.Send(t, o, apptest.Sent{Kind: record.Statuses, Period: apptest.October, Text: "project,overall\nA,act\n"})
	a, err := o.Assess.Day(assess.Lagging(ana), apptest.Last)
	require.NoError(t, err)
	assert.False(t, a.Older)
}

// coded takes in another cost code, on which all figures depend.
func coded(t *testing.T, o *app.Office, code string) {
	t.Helper()
	f, problems := ingest.Reader{}.Typed(record.CostCodes, [][]string{{code, "Other"}})
	require.Empty(t, problems)
	_, err := o.Intake.Import(apptest.Ctx, []*kept.File{f}, intake.Origin{})
	require.NoError(t, err)
}

// A page that waits is told of newer figures also where more has changed since, or they are not kept any more.
func TestNewerFiguresAreToldThoughMoreChanges(t *testing.T) {
	_, o := apptest.Stored(t)
	ana := access.As(context.Background(), &access.Actor{Account: 7, Login: "ana", Name: "Ana", Role: access.Analyst})
	apptest.Assessed(t, o, apptest.Last)
	coded(t, o, "D")
	older, err := o.Assess.Day(assess.Lagging(ana), apptest.Last)
	require.NoError(t, err)
	require.True(t, older.Older)
	o.Settle(ana) // those are computed
	coded(t, o, "E")
	there, err := o.Assess.Newer(ana, apptest.Last, older.Head())
	require.NoError(t, err)
	assert.True(t, there)
	there, err = o.Assess.Newer(ana, apptest.Last+1, older.Head())
	require.NoError(t, err)
	assert.True(t, there, "nothing is kept of the day: asking for the page computes it")
}

// What cannot be computed is said, not waited for again and again.
func TestFiguresThatCannotBeComputedAreSaid(t *testing.T) {
	inner, _ := apptest.Stored(t)
	s := &slow{Store: inner, gate: make(chan struct{})}
	s.open.Store(true)
	o := app.NewOffice(s, func() time.Time { return apptest.At }, app.Parts{Reader: ingest.Reader{}})
	ana := access.As(context.Background(), &access.Actor{Account: 7, Login: "ana", Name: "Ana", Role: access.Analyst})
	_, err := o.Assess.Day(ana, apptest.Last)
	require.NoError(t, err)
	coded(t, o, "D")
	s.broken.Store(true)
	older, err := o.Assess.Day(assess.Lagging(ana), apptest.Last)
	require.NoError(t, err)
	require.True(t, older.Older)
	o.Settle(ana)
	_, err = o.Assess.Newer(ana, apptest.Last, older.Head())
	require.ErrorIs(t, err, assess.ErrNotComputed)
	_, err = o.Assess.Day(assess.Lagging(ana), apptest.Last)
	require.ErrorContains(t, err, "the disk is gone")
	s.broken.Store(false)
	a, err := o.Assess.Day(assess.Lagging(ana), apptest.Last)
	require.NoError(t, err)
	assert.False(t, a.Older)
	assert.Len(t, a.Masters.CostCodes, 2)
}
