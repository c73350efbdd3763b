package hours_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/hours"
	"turret/internal/app/people"
)

// A change is another part in the place of the one that was seen; where something else stands there by now, nothing of the list is kept.
func TestPartsAreKeptInThePlaceOfTheOneThatWasSeen(t *testing.T) {
	s, _ := apptest.Stored(t)
	const week = 735_000 // a Monday or not is the business of others
	part := func(id int64, project string, h int64) hours.Part {
		return hours.Part{ID: id, Person: "K", Week: week, Project: project, State: hours.Sent, Rows: []hours.Row{{Hours: [7]int64{h}}},
			Who: "Kim",
			At:  time.Date(2026, 11, 6, 9, 0, 0, 0, time.UTC)}
	}
	require.NoError(t, s.KeepParts(apptest.Ctx, []hours.Part{part(0, "A", 1)}))
	list, err := s.WeekParts(apptest.Ctx, "K", week, week)
	require.NoError(t, err)
	require.Len(t, list, 1)
	first := list[0].ID
	require.ErrorIs(t, s.KeepParts(apptest.Ctx, []hours.Part{part(0, "B", 5), part(0, "A", 2)}), hours.ErrMoved)
	require.NoError(t, s.KeepParts(apptest.Ctx, []hours.Part{part(first, "A", 3)}))
	require.ErrorIs(t, s.KeepParts(apptest.Ctx, []hours.Part{part(first, "A", 4)}), hours.ErrMoved)
	list, err = s.WaitingParts(apptest.Ctx)
	require.NoError(t, err)
	require.Len(t, list, 1, "what was refused brought nothing of B either")
	assert.Equal(t, int64(3), list[0].Rows[0].Hours[0])
	assert.True(t, list[0].At.Equal(time.Date(2026, 11, 6, 9, 0, 0, 0, time.UTC)))
	list, err = s.PartsByID(apptest.Ctx, []int64{first})
	require.NoError(t, err)
	assert.Empty(t, list, "it stands no more")
	list, err = s.WeekParts(apptest.Ctx, "", week+1, week+6)
	require.NoError(t, err)
	assert.Empty(t, list)
}

func TestARequestIsAnsweredOnce(t *testing.T) {
	s, _ := apptest.Stored(t)
	ask := people.Request{Project: "A", Role: "diver", From: 1, To: 2, Percent: 1, State: people.Asked, At: time.Unix(0, 0)}
	require.NoError(t, s.KeepAsk(apptest.Ctx, ask))
	require.NoError(t, s.KeepAsk(apptest.Ctx, ask))
	list, err := s.Asks(apptest.Ctx)
	require.NoError(t, err)
	require.Len(t, list, 2, "two that are alike are two")
	x := list[0]
	x.State = people.Refused
	require.NoError(t, s.KeepAsk(apptest.Ctx, x))
	require.ErrorIs(t, s.KeepAsk(apptest.Ctx, x), people.ErrAnswered)
	list, err = s.Asks(apptest.Ctx)
	require.NoError(t, err)
	assert.Equal(t, []people.RequestState{people.Refused, people.Asked}, []people.RequestState{list[0].State, list[1].State})
}
