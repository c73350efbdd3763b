package assess_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/calendar"
)

// Whoever has no patience is told that a day is being computed, which goes on; whoever has, waits; and what is at hand nobody waits for.
func TestWhoHasNoPatienceIsToldThatADayIsBeingComputed(t *testing.T) {
	o := apptest.House(t)
	hasty := assess.Patient(apptest.Ctx, time.Nanosecond)
	_, err := o.Assess.Day(hasty, apptest.Last)
	require.ErrorIs(t, err, assess.ErrComputing)
	a, err := o.Assess.Day(assess.Patient(apptest.Ctx, time.Minute), apptest.Last)
	require.NoError(t, err)
	assert.Equal(t, []string{"A", "B"}, apptest.Codes(a.Projects))
	_, err = o.Assess.Day(hasty, apptest.Last)
	require.NoError(t, err)
	_, is, err := o.Assess.Computing(apptest.Ctx, apptest.Last)
	require.NoError(t, err)
	assert.False(t, is)
	_, err = o.Assess.Day(assess.In(assess.Patient(apptest.Ctx, time.Minute), "JPY"), apptest.Last)
	assert.ErrorIs(t, err, fault.ErrNotFound, "what cannot be computed is not being computed")
}

// Whoever has another day computed waits for their turn no longer than their patience.
func TestPatienceIsForTheTurnToo(t *testing.T) {
	o := apptest.House(t)
	reader := access.As(t.Context(), &access.Actor{Account: 7, Login: "ana", Name: "Ana", Role: access.Analyst})
	done, err := assess.Hold(reader, o.Assess)
	require.NoError(t, err)
	hasty := assess.Patient(reader, 20*time.Millisecond)
	_, err = o.Assess.Day(hasty, apptest.Last)
	require.ErrorIs(t, err, assess.ErrComputing)
	done()
	_, err = o.Assess.Day(assess.Patient(reader, time.Minute), apptest.Last)
	require.NoError(t, err, "the turn that was not waited for is free")
}

// A day that somebody has computed is waited for by many of one person, who has another day computed besides: it is no work of theirs.
func TestADayThatIsBeingComputedTakesNoTurn(t *testing.T) {
	o := apptest.House(t)
	free := assess.Occupy(o.Assess)
	reader := access.As(t.Context(), &access.Actor{Account: 7, Login: "ana", Name: "Ana", Role: access.Analyst})
	taken, err := assess.Hold(reader, o.Assess)
	require.NoError(t, err)
	require.NoError(t, o.Assess.Warm(apptest.Ctx, apptest.Last))
	require.Eventually(t, func() bool {
		_, is, err := o.Assess.Computing(apptest.Ctx, apptest.Last)
		return err == nil && is
	}, time.Minute, time.Millisecond)
	came := make(chan error)
	for range 20 {
		go func() {
			_, err := o.Assess.Day(reader, apptest.Last)
			came <- err
		}()
	}
	free()
	for range 20 {
		require.NoError(t, <-came)
	}
	_, err = o.Assess.Day(assess.Patient(reader, 20*time.Millisecond), apptest.Last-31)
	require.ErrorIs(t, err, assess.ErrComputing, "a day of which nothing is computed waits for the turn")
	taken()
}

// A day that is warmed is at hand once that has ended, in its own currency; one that is at hand is left alone.
func TestADayIsWarmed(t *testing.T) {
	o := apptest.House(t)
	require.NoError(t, o.Assess.Warm(apptest.Ctx, apptest.Last))
	o.Assess.Settle()
	first := o.Assess.AtHand(apptest.Ctx, apptest.Last)
	require.NotNil(t, first)
	require.NoError(t, o.Assess.Warm(apptest.Ctx, apptest.Last))
	o.Assess.Settle()
	assert.Same(t, first, o.Assess.AtHand(apptest.Ctx, apptest.Last))
	assert.Nil(t, o.Assess.AtHand(apptest.Ctx, calendar.On(2026, 9, 30)))
	assert.Error(t, o.Assess.Warm(context.Background(), apptest.Last), "of nobody")
	_, err := o.Assess.Head(context.Background())
	assert.Error(t, err, "of nobody")
}
