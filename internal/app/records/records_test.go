package records_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/records"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

const heads = "project,code,title,likelihood,consequence,owner\n"

// Risks of project A over four months: R1 comes in July, is raised in August, is taken away in September, and comes again in October; what
// is said of B in between is no news of A.
var months = []apptest.Sent{
	{Kind: record.Risks, Period: apptest.October - 3, Text: heads + "A,R1,Flood,2,3,Ann\nA,R2,Frost,1,1,Ann\n"},
	{Kind: record.Risks, Period: apptest.October - 2, Text: heads + "A,R2,Frost,1,1,Ann\nA,R1,Flood,4,3,Eve\n"},
	{Kind: record.Risks, Period: apptest.October - 2, Text: heads + "B,R1,Fire,5,5,Bob\n"},
	{Kind: record.Risks, Period: apptest.October - 1, Text: heads + "A,R2,Frost,1,1,Ann\n"},
	{Kind: record.Risks, Period: apptest.October, Text: heads + "A,R1,Flood,1,1,Eve\n"},
}

func TestWhatBecameOfARecord(t *testing.T) {
	_, o := apptest.Stored(t, months...)
	a := apptest.Assessed(t, o, apptest.October.Last())
	list, err := o.Records.History(apptest.Ctx, a, "A", record.Risks, "R1")
	require.NoError(t, err)
	require.Len(t, list, 4)
	acts := []records.Act{records.Came, records.Gone, records.Changed, records.Came} // newest first
	for i, e := range list {
		assert.Equal(t, acts[i], e.Act, i)
	}
	assert.Equal(t, apptest.October-3, list[3].Load.Period)
	assert.EqualValues(t, 2, list[3].From, "heads stand in row 1")
	raised := list[2]
	assert.EqualValues(t, 3, raised.From)
	require.Len(t, raised.Changes, 2)
	assert.Equal(t, [2]string{"2", "4"}, [2]string{raised.Changes[0].Was, raised.Changes[0].Is})
	assert.Equal(t, [2]string{"Ann", "Eve"}, [2]string{raised.Changes[1].Was, raised.Changes[1].Is})

	still, err := o.Records.History(apptest.Ctx, a, "A", record.Risks, "R2")
	require.NoError(t, err)
	require.Len(t, still, 2, "a load that changes nothing is no event")
	none, err := o.Records.History(apptest.Ctx, a, "A", record.Risks, "R9")
	require.NoError(t, err)
	assert.Empty(t, none)
}

// A closed period shows what it was closed with, whatever was sent afterwards, and nothing of later ones.
func TestRecordsStandAsTheyDidInThePeriod(t *testing.T) {
	_, o := apptest.Stored(t, months[:2]...)
	august := calendar.Period(apptest.October - 2)
	_, err := o.Publish.Close(apptest.Ctx, august)
	require.NoError(t, err)
	apptest.Send(t, o, months[3:]...)
	a := apptest.Assessed(t, o, august.Last())
	s, err := o.Records.Of(apptest.Ctx, a, "A", record.Risks)
	require.NoError(t, err)
	require.Len(t, s.Rows, 2)
	r1 := s.Row("R1")
	require.NotNil(t, r1)
	assert.Equal(t, "4", r1.Cells[s.Input.At("likelihood")])
	assert.EqualValues(t, 3, r1.From)
	require.NotNil(t, s.Load)
	assert.Equal(t, august, s.Load.Period)
	history, err := o.Records.History(apptest.Ctx, a, "A", record.Risks, "R1")
	require.NoError(t, err)
	assert.Len(t, history, 2, "what came after the period is not told in it")

	now := apptest.Assessed(t, o, apptest.October.Last())
	s, err = o.Records.Of(apptest.Ctx, now, "A", record.Risks)
	require.NoError(t, err)
	require.Len(t, s.Rows, 1)
	assert.Equal(t, "1", s.Rows[0].Cells[s.Input.At("likelihood")])
}

// Another project, a kind of costs where those are hidden, and a kind of no project are not found.
func TestRecordsAreForThoseWhoMaySeeThem(t *testing.T) {
	_, o := apptest.Stored(t, months...)
	whole := apptest.Assessed(t, o, apptest.October.Last())
	for name, x := range map[string]struct {
		actor   access.Actor
		project string
		kind    record.Kind
	}{
		"costs hidden":   {access.Actor{Role: access.Executive, HideMoney: true}, "A", record.Risks},
		"of no project":  {access.Actor{Role: access.Administrator}, "A", record.CostCodes},
		"no such kind":   {access.Actor{Role: access.Administrator}, "A", "nonsense"},
		"no such one":    {access.Actor{Role: access.Administrator}, "Z", record.Risks},
		"another's lead": {access.Actor{Role: access.Lead, Name: "Bob"}, "A", record.Risks},
	} {
		ctx := access.As(apptest.Ctx, &x.actor)
		a, err := o.Assess.Day(ctx, whole.Env.AsOf)
		require.NoError(t, err)
		_, err = o.Records.Of(ctx, a, x.project, x.kind)
		assert.ErrorIs(t, err, fault.ErrNotFound, name)
		_, err = o.Records.History(ctx, a, x.project, x.kind, "R1")
		assert.ErrorIs(t, err, fault.ErrNotFound, name)
	}
}

// However many loads tell of other projects in between, the history of a record reaches back through those of its own.
func TestAHistoryIsThatOfItsProject(t *testing.T) {
	list := months[:1:1]
	for i := range 70 {
		list = append(list, apptest.Sent{Kind: record.Risks, Period: apptest.October - 2,
			Text: heads + "B,R1,Fire,5," + string(rune('1'+i%5)) + ",Bob " + string(rune('a'+i/5)) + "\n"})
	}
	_, o := apptest.Stored(t, list...)
	a := apptest.Assessed(t, o, apptest.October.Last())
	events, err := o.Records.History(apptest.Ctx, a, "A", record.Risks, "R1")
	require.NoError(t, err)
	require.Len(t, events, 1)
	assert.Equal(t, records.Came, events[0].Act)
}
