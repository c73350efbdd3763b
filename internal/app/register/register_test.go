package register_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/register"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

func opened(t *testing.T) (*app.Office, func(who string) (context.Context, *assess.Assessment)) {
	t.Helper()
	_, o := apptest.Gate(t)
	apptest.Send(t, o,
		apptest.Sent{Kind: record.Risks, Period: apptest.October, Text: "project,code,title,description,likelihood,consequence," +
			"residual_likelihood,activity,owner,raised,state\nA1,R1,Steel dear,Plate rises,4,5,2,X,Lea,2026-03-01,open\n" +
			"A1,R2,Flood,,2,2,,,,,\nA1,R3,Not rated,,,,,,,,open\nA1,R4,Over,,5,5,,,,2026-03-01,closed\nA1,R5,Later,,5,5,,,,2026-11-01,open\n"},
		apptest.Sent{Kind: record.Actions, Period: apptest.October, Text: "project,code,title,priority,owner,due,state\n" +
			"A1,T1,Ask,low,Lea,2026-10-09,open\nA1,T2,Write,high,Kim,2026-12-01,waiting\nA1,T7,Ring,high,Lea,2026-10-31,\nA1,T9,Done,,Lea,,done\n"},
		apptest.Sent{Kind: record.Lessons, Period: apptest.October, Text: "project,code,title,text,category,raised\n" +
			"A1,L1,Order steel early,Plates rose between design and order,supply,2026-03-01\n" +
			"B1,L1,Ordering plates late,\"Steel was dear \"\"AND\"\" late\",supply,2026-04-01\nB1,L2,Ask the town,,permits,2026-11-01\n"})
	return o, func(who string) (context.Context, *assess.Assessment) {
		c := access.As(context.Background(), apptest.Writers[who])
		a, err := o.Assess.Day(c, apptest.October.Last())
		require.NoError(t, err)
		return c, a
	}
}

func whole(t *testing.T, a *assess.Assessment) *assess.Scope {
	t.Helper()
	s, err := a.Scope("")
	require.NoError(t, err)
	return s
}

func codes(list []register.Line) (s []string) {
	for _, l := range list {
		s = append(s, l.Code)
	}
	return s
}

// By hand: R4 is over and R5 is to come; the gravest risk stands first, an action that is late before one of higher priority.
func TestListsOfRecords(t *testing.T) {
	_, as := opened(t)
	_, a := as("analyst")
	pick := func(kind record.Kind, f register.Filter) []string {
		list := register.Pick(register.Lines(a, whole(t, a), kind), f)
		register.ByUrgency(list)
		return codes(list)
	}
	assert.Equal(t, []string{"R1", "R2", "R3"}, pick(record.Risks, register.Filter{}))
	assert.Equal(t, []string{"R1", "R2", "R3", "R4"}, pick(record.Risks, register.Filter{Closed: true}))
	assert.Equal(t, []string{"R1"}, pick(record.Risks, register.Filter{Cell: &register.Cell{Likelihood: 4, Consequence: 5}}))
	assert.Equal(t, []string{"R1"}, pick(record.Risks, register.Filter{Cell: &register.Cell{Likelihood: 2, Consequence: 5}, After: true}))
	assert.Equal(t, []string{"R1"}, pick(record.Risks, register.Filter{Text: "PLATE a1"}))
	assert.Equal(t, []string{"T7", "T1", "T2"}, pick(record.Actions, register.Filter{}))
	assert.Equal(t, []string{"T7", "T1"}, pick(record.Actions, register.Filter{Late: true}))
	assert.Equal(t, []string{"T7", "T1"}, pick(record.Actions, register.Filter{State: "open"}), "one without a state is open")
	assert.Equal(t, []string{"T2"}, pick(record.Actions, register.Filter{Owner: "Kim"}))
	assert.Equal(t, []string{"T9"}, pick(record.Actions, register.Filter{State: "done"}))
	spots, without := register.Spots(register.Lines(a, whole(t, a), record.Risks), nil)
	assert.Equal(t, []int{2, 1}, []int{len(spots), without})
	n := register.Counts(spots, true)
	assert.Equal(t, []int{1, 1, 0}, []int{n[1][4], n[1][1], n[3][4]})
}

// By hand: R4 is over and lacks nothing any more; a review on the day itself is past. Decisions have neither owner nor rating to lack.
func TestWhatRecordsLack(t *testing.T) {
	o, as := opened(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Issues, Period: apptest.October,
		Text: "project,code,title,priority,owner,state\nA1,I1,Bare,,,open\nA1,I2,Kept,low,Lea,open\nA1,I3,Over,,,closed\n"},
		apptest.Sent{Kind: record.Decisions, Period: apptest.October, Text: "project,code,title,state\nA1,D1,Ask,asked for\n"},
		apptest.Sent{Kind: record.Risks, Period: apptest.October, Text: "project,code,title,likelihood,consequence,owner,review,state\n" +
			"B1,R1,Today,1,1,Kim,2026-10-31,open\nB1,R2,Tomorrow,1,1,Kim,2026-11-01,open\nB1,R3,Half,1,,Kim,,open\n"})
	_, a := as("analyst")
	got := map[string][]register.Lack{}
	for _, kind := range []record.Kind{record.Risks, record.Issues, record.Actions, record.Decisions} {
		for _, l := range register.Lines(a, whole(t, a), kind) {
			if len(l.Lacks) > 0 {
				got[l.Key()] = l.Lacks
			}
		}
	}
	assert.Equal(t, map[string][]register.Lack{"A1:R2": {register.NoOwner}, "A1:R3": {register.NoOwner, register.NoRating},
		"A1:I1": {register.NoOwner, register.NoRating}, "B1:R1": {register.PastReview}, "B1:R3": {register.NoRating}}, got)
	list := register.Pick(register.Lines(a, whole(t, a), record.Risks), register.Filter{Lack: register.NoRating})
	assert.ElementsMatch(t, []string{"A1:R3", "B1:R3"}, []string{list[0].Key(), list[1].Key()})
}

// What was seen in another state is left as it is by now; a risk strikes once, and what is escalated goes up alone.
func TestActsOnRecords(t *testing.T) {
	o, as := opened(t)
	c, a := as("analyst")
	act := register.Act{Kind: record.Actions, Holder: "A1", Code: "T7", Seen: "open", Set: map[string]string{"state": "waiting"}}
	_, err := o.Register.Set(c, act)
	require.NoError(t, err)
	_, err = o.Register.Set(c, act)
	require.ErrorIs(t, err, fault.ErrConflict)
	act.Seen = ""
	_, err = o.Register.Set(c, act)
	require.NoError(t, err, "nobody said what they saw")

	issue, _, err := o.Register.Occur(c, "A1", "R1", a.Env.AsOf, "it rose")
	require.NoError(t, err)
	assert.Equal(t, "I1", issue)
	_, _, err = o.Register.Occur(c, "A1", "R1", a.Env.AsOf, "again")
	require.ErrorIs(t, err, fault.ErrConflict)
	_, _, err = o.Register.Occur(c, "A1", "R4", a.Env.AsOf, "over")
	require.ErrorIs(t, err, fault.ErrConflict)
	_, a = as("analyst")
	list := register.Lines(a, whole(t, a), record.Issues)
	require.Len(t, list, 1)
	assert.Equal(t, []any{"Steel dear", "Lea", "R1", "X", "high"}, []any{list[0].Title, list[0].Owner, list[0].Issue.FromRisk,
		list[0].Issue.Blocks, list[0].Priority})

	_, err = o.Register.Escalate(c, record.Risks, "A1", "R2", "PF", "too large")
	require.NoError(t, err)
	for node, why := range map[string]string{"B": "elsewhere", "A1": "itself", "NONE": "nowhere", "A": " "} {
		_, err = o.Register.Escalate(c, record.Risks, "A1", "R2", node, why)
		require.Error(t, err, node)
	}
	_, err = o.Register.Escalate(c, record.Actions, "A1", "T1", "A", "no")
	require.ErrorIs(t, err, fault.ErrNotFound)
	_, a = as("analyst")
	found := register.Pick(register.Lines(a, whole(t, a), record.Risks), register.Filter{Text: "flood"})
	assert.Equal(t, []string{"PF", "too large"}, []string{found[0].Escalated, found[0].Why})
	code, _, err := o.Register.Add(c, record.Actions, "A1", map[string]string{"title": "Next"})
	require.NoError(t, err)
	assert.Equal(t, "T10", code, "after the highest")
}

// Words are found in any of their forms, operators are words; only what is seen is found, and what resembles is told by what it shares.
func TestFindingLessons(t *testing.T) {
	o, as := opened(t)
	titles := func(list []register.Learned, err error) (s []string) {
		require.NoError(t, err)
		for _, l := range list {
			s = append(s, l.Title)
		}
		return s
	}
	c, a := as("analyst")
	search := func(text string) []string { return titles(o.Register.Search(c, a, whole(t, a), text)) }
	assert.ElementsMatch(t, []string{"Order steel early", "Ordering plates late"}, search("plate order"))
	assert.Equal(t, []string{"Order steel early"}, search("design"))
	assert.Equal(t, []string{"Ordering plates late", "Order steel early"}, search(""), "the newest first, none that is to come")
	for _, text := range []string{`"`, `steel" OR "x`, "NEAR(", "*", "steel NOT plates", "^title:"} {
		assert.NotPanics(t, func() { search(text) }, text)
	}
	list, err := o.Register.Like(c, a, "Plates of steel become dear")
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, []string{"plates", "steel", "dear"}, list[0].Shared)
	assert.Empty(t, titles(o.Register.Like(c, a, "The town may ask for more steel")), "one word of several is not enough")
	c, a = as("lead")
	assert.Equal(t, []string{"Order steel early"}, search("steel"), "another project's is kept from them")
	require.Equal(t, calendar.On(2026, 10, 31), a.Env.AsOf)
}
