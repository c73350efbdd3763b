package people_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/audit"
	"turret/internal/app/people"
	"turret/internal/record"
)

// A request that is agreed is answered and assigned, or still waits: the answer, the load of assignments, each failing in turn.
func TestAgreeingIsWholeOrNotAtAll(t *testing.T) {
	s, o := apptest.Gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.People, Period: apptest.October, Text: "code,name,role\nK,Kim,diver\nZ,Zoe,diver\n"})
	lead, a := as(t, o, "lead")
	require.NoError(t, o.People.Ask(lead, a, people.Request{Project: "A1", Person: "K", From: on("2026-11-09"), To: on("2026-11-20"),
		Percent: 4000}))
	boss, all := as(t, o, "analyst")
	list, err := o.People.Requests(boss, all)
	require.NoError(t, err)
	stands := func() any {
		asks, err := s.Asks(apptest.Ctx)
		require.NoError(t, err)
		loads, err := s.Loads(apptest.Ctx)
		require.NoError(t, err)
		trail, err := s.Audit(apptest.Ctx, audit.Query{})
		require.NoError(t, err)
		return []any{asks, loads, trail}
	}
	writes := apptest.Whole(t, s, stands, func(o *app.Office) error {
		_, _, err := o.People.Answer(boss, all, people.Reply{ID: list[0].ID, State: people.Agreed})
		return err
	})
	assert.Equal(t, 2, writes)
	_, all = as(t, o, "analyst")
	require.Len(t, all.ByCode["A1"].Shares, 1)
}

// Notes and answers are bounded in letters, whatever bytes they take: 500 of two bytes each are kept, 501 are refused.
func TestWordsOfARequestAreCountedInLetters(t *testing.T) {
	o := gate(t)
	c, a := as(t, o, "lead")
	ask := people.Request{Project: "A1", Person: "K", From: on("2026-11-09"), To: on("2026-11-20"), Percent: 4000,
		Note: strings.Repeat("é", 501)}
	require.ErrorContains(t, o.People.Ask(c, a, ask), "at most 500 letters")
	ask.Note = strings.Repeat("é", 500)
	require.NoError(t, o.People.Ask(c, a, ask))
	boss, all := as(t, o, "analyst")
	list, err := o.People.Requests(boss, all)
	require.NoError(t, err)
	_, _, err = o.People.Answer(boss, all, people.Reply{ID: list[0].ID, State: people.Refused, Answer: strings.Repeat("é", 501)})
	require.ErrorContains(t, err, "at most 500 letters")
	_, _, err = o.People.Answer(boss, all, people.Reply{ID: list[0].ID, State: people.Refused, Answer: strings.Repeat("é", 500)})
	require.NoError(t, err)
}
