package assess

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A day is told to be computed from when it waits for another until it has ended, with the step that it is at.
func TestProgressIsToldWhileADayIsComputed(t *testing.T) {
	c := newCache(1 << 20)
	day := dayIn{asOf, ""}
	steps := make(chan Progress)
	done := make(chan error)
	go func() {
		_, err := c.once(context.Background(), day, 1, func(ctx context.Context) (*cachedDay, error) {
			steps <- c.runningAt(day).read()
			progressIn(ctx).at(Progress{Step: "computing measures", Done: 50, All: 200})
			steps <- c.runningAt(day).read()
			return &cachedDay{}, nil
		})
		done <- err
	}()
	assert.Contains(t, (<-steps).Step, "another period")
	assert.Equal(t, Progress{"computing measures", 50, 200}, <-steps)
	assert.Nil(t, c.runningAt(dayIn{asOf + 1, ""}))
	require.NoError(t, <-done)
	assert.Nil(t, c.runningAt(day))
	progressIn(context.Background()).at(Progress{}) // nobody asks: nothing is noted
}
