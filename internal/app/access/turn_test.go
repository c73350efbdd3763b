package access

import (
	"context"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"turret/internal/app/fault"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func person(account int64) context.Context {
	return As(context.Background(), &Actor{Account: account, Role: Analyst})
}

// One at a time of each person, and no more than there is room for of all; who waits behind many is told.
func TestReadersTakeTurns(t *testing.T) {
	turns := NewTurns(2, 4, "files are being read")
	var now, most, own atomic.Int64
	var wait sync.WaitGroup
	for account := range int64(6) {
		for range 4 {
			wait.Go(func() {
				done, err := turns.Wait(person(account + 1))
				if !assert.NoError(t, err) {
					return
				}
				n := now.Add(1)
				for m := most.Load(); n > m && !most.CompareAndSwap(m, n); m = most.Load() {
				}
				if account == 0 {
					assert.Equal(t, int64(1), own.Add(1), "of one person")
				}
				time.Sleep(time.Millisecond)
				if account == 0 {
					own.Add(-1)
				}
				now.Add(-1)
				done()
			})
		}
	}
	wait.Wait()
	assert.LessOrEqual(t, most.Load(), int64(cap(turns.all)))
	assert.Empty(t, turns.by, "nothing is kept of those who are done")
}

func TestAReaderInAHurryIsTold(t *testing.T) {
	turns := NewTurns(2, 4, "files are being read")
	first, err := turns.Wait(person(1))
	require.NoError(t, err)
	gone, leave := context.WithCancel(person(1))
	var wait sync.WaitGroup
	for range 4 - 1 {
		wait.Go(func() { _, err := turns.Wait(gone); assert.ErrorIs(t, err, context.Canceled) })
	}
	require.Eventually(t, func() bool { turns.mu.Lock(); defer turns.mu.Unlock(); return turns.by[1].waiting == 4 },
		time.Minute, time.Millisecond)
	_, err = turns.Wait(person(1))
	assert.ErrorIs(t, err, fault.ErrBusy)
	other, err := turns.Wait(person(2))
	require.NoError(t, err, "others do not wait for that")
	other()
	none, err := turns.Wait(As(context.Background(), Operator("x")))
	require.NoError(t, err)
	none()
	leave()
	wait.Wait()
	first()
	again, err := turns.Wait(person(1))
	require.NoError(t, err)
	again()
}
