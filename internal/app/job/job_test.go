package job_test

import (
	"context"
	"errors"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/job"
	"turret/internal/demotest"
)

var ctx = context.Background()

// waiting works until it is let go, or stopped.
func waiting(goOn <-chan struct{}) func(context.Context, *job.Job[int]) (int, error) {
	return func(ctx context.Context, j *job.Job[int]) (int, error) {
		j.Progress(3, 10)
		select {
		case <-goOn:
			return 7, nil
		case <-ctx.Done():
			return 1, ctx.Err()
		}
	}
}

func TestAJobTellsHowFarItIsAndWhatCameOfIt(t *testing.T) {
	jobs := job.New[int](demotest.Now)
	goOn := make(chan struct{})
	type key struct{}
	outer, cancel := context.WithCancel(context.WithValue(ctx, key{}, "who"))
	j, err := jobs.Start(outer, "a", func(ctx context.Context, j *job.Job[int]) (int, error) {
		assert.Equal(t, "who", ctx.Value(key{}), "who asked is known to the work")
		return waiting(goOn)(ctx, j)
	})
	require.NoError(t, err)
	cancel() // whoever began it goes away
	for j.Now().Total == 0 {
		time.Sleep(time.Millisecond)
	}
	assert.Equal(t, job.State[int]{Done: 3, Total: 10}, j.Now())
	same, err := jobs.Start(ctx, "a", nil)
	require.NoError(t, err)
	assert.Same(t, j, same, "one of a name at a time")
	assert.Same(t, j, jobs.Get("a"))
	assert.Nil(t, jobs.Get("b"))

	done, end := context.WithCancel(ctx)
	end()
	require.ErrorIs(t, j.Wait(done), context.Canceled)
	close(goOn)
	require.NoError(t, j.Wait(ctx))
	assert.Equal(t, job.State[int]{Done: 3, Total: 10, Ended: true, Result: 7}, j.Now())
	same, err = jobs.Start(ctx, "a", nil)
	require.NoError(t, err)
	assert.Same(t, j, same, "what ended well is not done again")
}

func TestAJobIsStoppedAndMayBeginAgain(t *testing.T) {
	jobs := job.New[int](demotest.Now)
	j, err := jobs.Start(ctx, "a", waiting(nil))
	require.NoError(t, err)
	j.Stop()
	require.NoError(t, j.Wait(ctx))
	require.ErrorIs(t, j.Now().Err, job.ErrStopped)
	assert.Zero(t, j.Now().Result, "nothing came of it")
	again, err := jobs.Start(ctx, "a", func(context.Context, *job.Job[int]) (int, error) { return 2, nil })
	require.NoError(t, err)
	require.NoError(t, again.Wait(ctx))
	assert.Equal(t, 2, again.Now().Result)
	again.Stop()
	assert.NoError(t, again.Now().Err, "one that has ended stays as it is")
}

func TestAJobThatBreaksEndsWithAnError(t *testing.T) {
	jobs := job.New[int](demotest.Now)
	j, err := jobs.Start(ctx, "a", func(context.Context, *job.Job[int]) (int, error) { panic("no such row") })
	require.NoError(t, err)
	require.NoError(t, j.Wait(ctx))
	assert.ErrorContains(t, j.Now().Err, "no such row")
	assert.NotErrorIs(t, j.Now().Err, job.ErrStopped)
}

func TestJobsAreForgotten(t *testing.T) {
	now := time.Date(2026, 10, 5, 9, 0, 0, 0, time.UTC)
	jobs := job.New[int](func() time.Time { now = now.Add(time.Second); return now })
	start := func(name string) {
		j, err := jobs.Start(ctx, name, func(context.Context, *job.Job[int]) (int, error) { return 0, errors.New("no") })
		require.NoError(t, err)
		require.NoError(t, j.Wait(ctx))
	}
	goOn := make(chan struct{})
	_, err := jobs.Start(ctx, "under way", waiting(goOn))
	require.NoError(t, err)
	for i := range job.KeptMost + 5 {
		start(fmt.Sprint(i))
	}
	known := 0
	for i := range job.KeptMost + 5 {
		if jobs.Get(fmt.Sprint(i)) != nil {
			known++
		}
	}
	assert.Equal(t, job.KeptMost, known)
	assert.Nil(t, jobs.Get("0"), "the oldest goes first")
	assert.NotNil(t, jobs.Get(fmt.Sprint(job.KeptMost+4)))
	now = now.Add(job.KeptFor)
	assert.Nil(t, jobs.Get(fmt.Sprint(job.KeptMost+4)), "an hour later")
	assert.NotNil(t, jobs.Get("under way"), "work under way is known however long it takes")
	close(goOn)
}

func TestClosingWaitsAndThenStops(t *testing.T) {
	jobs := job.New[int](demotest.Now)
	goOn := make(chan struct{})
	patient, err := jobs.Start(ctx, "a", waiting(goOn))
	require.NoError(t, err)
	time.AfterFunc(10*time.Millisecond, func() { close(goOn) })
	jobs.Close(ctx)
	assert.Equal(t, 7, patient.Now().Result, "waited for")
	_, err = jobs.Start(ctx, "b", waiting(nil))
	require.ErrorIs(t, err, job.ErrClosed)

	jobs = job.New[int](demotest.Now)
	endless, err := jobs.Start(ctx, "a", waiting(nil))
	require.NoError(t, err)
	late, cancel := context.WithCancel(ctx)
	cancel()
	jobs.Close(late)
	assert.True(t, endless.Now().Ended)
	assert.ErrorIs(t, endless.Now().Err, job.ErrStopped)
}
