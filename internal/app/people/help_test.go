package people_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/people"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// The as-of date is Saturday 31 October 2026; the last seven working days are 22, 23, 26 to 30 October. By hand: of Kim two actions are
// open,
// one of them in work and late since the 20th, one was done on the 27th and one on the 21st, which is too long ago; her item is blocked
// and
// one was accepted on the 30th. Zoe has one in work since the 26th and nothing else: silent for four days. Lou has the same and is away;
// Max
// has one thing to do later; of Nan something moved on the 28th, of Pat on the 29th.
func TestWhoNeedsHelp(t *testing.T) {
	_, o := apptest.Gate(t)
	send := func(kind record.Kind, text string) apptest.Sent {
		return apptest.Sent{Kind: kind, Period: apptest.October, Text: text}
	}
	apptest.Send(t, o, send(record.People, "code,name\nK,Kim\nZ,Zoe\nL,Lou\nM,Max\nN,Nan\nP,Pat\nQ,Quiet\n"),
		send(record.Absences, "person,from,to,reason\nL,2026-10-29,2026-11-06,Leave\n"),
		send(record.Actions, "project,code,title,owner,raised,due,done_on,state\nA1,1,Pump,Kim,2026-10-01,2026-10-20,,in work\n"+
			"A1,2,Gate,Kim,2026-10-01,2026-12-20,,open\nA1,3,Weir,Kim,2026-10-01,,2026-10-27,done\nB1,4,Lock,Kim,2026-10-01,,2026-10-21,done\n"+
			"A1,5,Boat,Zoe,2026-10-26,,,in work\nA1,6,Sail,Lou,2026-10-26,,,in work\nA1,7,Rope,Max,2026-10-01,2026-12-01,,open\n"+
			"A1,8,Oar,Nan,2026-10-28,,,in work\nA1,9,Mast,Pat,2026-10-29,,,in work\n"),
		send(record.Backlog, "project,code,title,state,owner,added,accepted,blocked\nA1,I1,Door,doing,Kim,2026-10-01,,yes\n"+
			"A1,I2,Key,accepted,Kim,2026-10-01,2026-10-30,no\n"),
		send(record.Iterations, "project,code,from,to\nB1,S1,2026-10-19,2026-11-01\n"),
		send(record.Backlog, "project,code,title,state,owner,added,removed,iteration\nB1,J1,Ring,todo,Max,2026-10-20,,S1\n"+
			"B1,J2,Bell,todo,Max,2026-10-20,,\nB1,J3,Hook,todo,Max,2026-10-19,,S1\nB1,J4,Sill,todo,Max,2026-10-21,2026-10-22,S1\n"+
			"B1,J5,Tarp,todo,Max,2026-11-02,,S1\n"))
	c, a := as(t, o, "analyst")
	days := people.HelpDays(calendar.Standard, apptest.October.Last())
	assert.Equal(t, []calendar.Date{on("2026-10-22"), on("2026-10-30")}, []calendar.Date{days[0], days[6]})
	list, err := people.HelpOf(c, a)
	require.NoError(t, err)
	require.Len(t, list, 6)
	k, z := list[0], list[1]
	assert.Equal(t, "Kim", k.Person.Name)
	assert.Equal(t, []int{3, 2, 1, 1, 0}, []int{k.Given, k.InWork, k.Overdue, k.Blocked, k.Silent})
	assert.Equal(t, [7]int{0, 0, 0, 1, 0, 0, 1}, k.Done)
	assert.Equal(t, []string{"A1 Pump, overdue", "A1 Door, blocked"}, k.Late)
	assert.Equal(t, "Zoe", z.Person.Name)
	assert.Equal(t, 4, z.Silent)
	assert.True(t, z.Wants())
	assert.Equal(t, []any{"Nan", 2}, []any{list[2].Person.Name, list[2].Silent}, "nothing moved on the 29th and the 30th")
	for _, h := range list[3:] {
		assert.False(t, h.Wants(), h.Person.Name)
	}
	assert.Equal(t, []any{"Max", 4, 1}, []any{list[4].Person.Name, list[4].Given, list[4].Unplanned},
		"came a day after its iteration began; what went or is to come is not given")
	assert.Equal(t, "Leave until 6 Nov 2026", list[3].Away)

	own := access.As(context.Background(), &access.Actor{Login: "zoe", Name: "Zoe", Role: access.Member, Scopes: []string{"A1"}})
	b, err := o.Assess.Day(own, apptest.October.Last())
	require.NoError(t, err)
	list, err = people.HelpOf(own, b)
	require.NoError(t, err)
	require.Len(t, list, 1, "of oneself alone")
	assert.Equal(t, "Zoe", list[0].Person.Name)
}
