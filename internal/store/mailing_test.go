package store_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/kept"
	"turret/internal/app/mailing"
)

// What is claimed is claimed once, until it was not finished for so long, or was claimed by a clock that was ahead; it keeps when it was
// claimed first. What was finished is never claimed again.
func TestASendingIsClaimedAgainOnlyWhereItCannotBeUnderWay(t *testing.T) {
	s, _ := apptest.Stored(t)
	at := time.Date(2026, 11, 10, 9, 0, 0, 0, time.UTC)
	claim := func(login string, now time.Time) (x mailing.Sending, claimed, again bool) {
		x = mailing.Sending{List: "Costs", Occasion: "2026-11", Login: login, Report: "Cost", At: now}
		claimed, again, err := s.ClaimSending(ctx, &x, now.Add(-10*time.Minute))
		require.NoError(t, err)
		return x, claimed, again
	}
	first, claimed, again := claim("ann", at)
	assert.Equal(t, []bool{true, false}, []bool{claimed, again})
	for _, x := range []struct {
		after          time.Duration
		claimed, again bool
	}{{0, false, false}, {10 * time.Minute, false, false}, {10*time.Minute + time.Second, true, true}, {11 * time.Minute, false, false}} {
		s, claimed, again := claim("ann", at.Add(x.after))
		assert.Equal(t, []bool{x.claimed, x.again}, []bool{claimed, again}, x.after)
		if again {
			assert.Equal(t, first.ID, s.ID)
			assert.Equal(t, at, s.At, "when it was claimed first")
		}
	}
	_, claimed, _ = claim("bob", at.AddDate(1, 0, 0))
	assert.True(t, claimed)
	_, claimed, again = claim("bob", at)
	assert.Equal(t, []bool{true, true}, []bool{claimed, again}, "claimed by a clock of next year")

	first.File = "a.eml"
	require.NoError(t, s.SaveSending(ctx, &first, kept.Entry{Who: "a test", At: at, Act: "send a report"}))
	_, claimed, _ = claim("ann", at.AddDate(0, 0, 1))
	assert.False(t, claimed, "it was sent")
}
