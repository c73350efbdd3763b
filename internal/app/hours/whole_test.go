package hours_test

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/audit"
	"turret/internal/app/fault"
	"turret/internal/app/hours"
	"turret/internal/store"
)

// stands is all that approving and sending back write: the parts of sheets, the loads, and the trail.
func (s *staffed) stands() any {
	parts, err := s.kept.WeekParts(apptest.Ctx, "K", monday, monday+6)
	require.NoError(s.t, err)
	loads, err := s.kept.(*store.Store).Loads(apptest.Ctx)
	require.NoError(s.t, err)
	trail, err := s.kept.(*store.Store).Audit(apptest.Ctx, audit.Query{})
	require.NoError(s.t, err)
	return []any{parts, loads, trail}
}

func (s *staffed) sent() {
	_, err := s.save(kim, true, entry("A1", "", "7.5", "", "4.25"), entry("B1", "", "", "", "1"))
	require.NoError(s.t, err)
}

// Two parts are approved by one load of two files, the parts, and an entry for each: whichever of these writes fails, nothing is kept.
func TestApprovingIsWholeOrNotAtAll(t *testing.T) {
	s := office(t)
	s.sent()
	c, a := s.as(apptest.Writers["analyst"])
	ids := s.waiting("analyst")
	writes := apptest.Whole(t, s.kept.(*store.Store), s.stands, func(o *app.Office) error {
		_, err := o.Hours.Approve(c, a, ids)
		return err
	})
	assert.Equal(t, 4, writes)
	assert.InDelta(t, 3+7.5+4.25, s.booked(), 1e-9)
}

func TestSendingBackIsWholeOrNotAtAll(t *testing.T) {
	s := office(t)
	s.sent()
	c, a := s.as(apptest.Writers["analyst"])
	ids := s.waiting("analyst")
	writes := apptest.Whole(t, s.kept.(*store.Store), s.stands, func(o *app.Office) error {
		_, err := o.Hours.SendBack(c, a, ids, "That was B1")
		return err
	})
	assert.Equal(t, 3, writes)
	assert.InDelta(t, 3, s.booked(), 1e-9)
}

// Of one who approves and one who sends the same hours back, one does it and the other is told; hours are booked if, and only if, they are
// approved.
func TestApprovingAndSendingBackAtOnce(t *testing.T) {
	for range 5 {
		s := office(t)
		s.sent()
		c, a := s.as(apptest.Writers["analyst"])
		ids := s.waiting("analyst")
		approved, back := make(chan error, 1), make(chan error, 1)
		go func() {
			_, err := s.Hours.Approve(c, a, ids)
			approved <- err
		}()
		go func() {
			_, err := s.Hours.SendBack(c, a, ids, "That was B1")
			back <- err
		}()
		one, two := <-approved, <-back
		require.NotEqual(t, one == nil, two == nil, "approved: %v, sent back: %v", one, two)
		require.ErrorIs(t, errors.Join(one, two), fault.ErrRefused)
		state, booked := hours.Back, 3.0
		if one == nil {
			state, booked = hours.Approved, 3+7.5+4.25
		}
		for _, p := range s.week(kim, "K").Parts {
			assert.Equal(t, state, p.State)
		}
		assert.InDelta(t, booked, s.booked(), 1e-9)
	}
}

// A reason is bounded in letters, whatever bytes they take.
func TestAReasonIsCountedInLetters(t *testing.T) {
	s := office(t)
	s.sent()
	c, a := s.as(apptest.Writers["analyst"])
	letters := func(n int) string {
		var text string
		for range n {
			text += "é"
		}
		return text
	}
	_, err := s.Hours.SendBack(c, a, s.waiting("analyst"), letters(501))
	require.ErrorContains(t, err, "at most 500 letters")
	_, err = s.Hours.SendBack(c, a, s.waiting("analyst"), letters(500))
	require.NoError(t, err)
}
