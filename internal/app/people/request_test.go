package people_test

import (
	"context"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/people"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/record"
)

func on(s string) calendar.Date {
	d, err := calendar.ParseDate(s)
	if err != nil {
		panic(err)
	}
	return d
}

// gate is an office in which Kim works half on B1 in November 2026, and Zoe on nothing.
func gate(t *testing.T) *app.Office {
	t.Helper()
	_, o := apptest.Gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.People, Period: apptest.October, Text: "code,name,role\nK,Kim,diver\nZ,Zoe,diver\n"},
		apptest.Sent{Kind: record.Assignments, Period: apptest.October,
			Text: "person,role,project,from,to,percent\nK,,B1,2026-11-02,2026-11-27,50\n" +
				"K,,A1,2026-11-02,2026-11-13,25\n"})
	return o
}

func as(t *testing.T, o *app.Office, who string) (context.Context, *assess.Assessment) {
	t.Helper()
	c := access.As(context.Background(), apptest.Writers[who])
	a, err := o.Assess.Day(c, apptest.October.Last())
	require.NoError(t, err)
	return c, a
}

// By hand: in the week of 9 November Kim has 40 h; B1 wants 20, A1 10, and the request 16 more: 115 %. In that of the 16th 20 and 16: 90
// %.
func TestAskingForAPerson(t *testing.T) {
	o := gate(t)
	c, a := as(t, o, "lead")
	ask := people.Request{Project: "A1", Person: "K", From: on("2026-11-09"), To: on("2026-11-20"), Percent: 4000, Note: "The sluice"}
	require.NoError(t, o.People.Ask(c, a, ask))
	at, load := people.With(a, &ask, "K")
	assert.Equal(t, on("2026-11-09"), at)
	assert.InDelta(t, 1.15, load, 1e-9)
	list, err := o.People.Requests(c, a)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, []string{"Lea", "asked"}, []string{list[0].Asker, string(list[0].State)})
	_, _, err = o.People.Answer(c, a, people.Reply{ID: list[0].ID, State: people.Agreed})
	require.ErrorIs(t, err, access.ErrForbidden, "nobody gives people to themselves")

	boss, all := as(t, o, "analyst")
	_, _, err = o.People.Answer(boss, all, people.Reply{ID: list[0].ID, State: people.Refused})
	require.Error(t, err, "without a reason")
	_, _, err = o.People.Answer(boss, all, people.Reply{ID: list[0].ID, State: people.Offered})
	require.Error(t, err, "of nobody")
	r, _, err := o.People.Answer(boss, all, people.Reply{ID: list[0].ID, State: people.Offered, Offer: "Z", Answer: "Kim is full"})
	require.NoError(t, err)
	assert.Equal(t, people.Offered, r.State)
	_, _, err = o.People.Answer(boss, all, people.Reply{ID: list[0].ID, State: people.Agreed})
	require.ErrorIs(t, err, fault.ErrRefused, "it was answered meanwhile")
	list, err = o.People.Requests(c, a)
	require.NoError(t, err)
	_, receipt, err := o.People.Answer(c, a, people.Reply{ID: list[0].ID, State: people.Agreed})
	require.NoError(t, err)
	require.Len(t, receipt.Loads, 1)
	_, all = as(t, o, "analyst")
	shares := all.ByCode["A1"].Shares
	require.Len(t, shares, 2, "what stood stays")
	assert.Equal(t, []string{"K", "Z"}, []string{shares[0].Who, shares[1].Who})
	assert.Equal(t, int64(4000), shares[1].Percent)
	_, _, err = o.People.Answer(c, a, people.Reply{ID: list[0].ID, State: people.Retired})
	require.ErrorIs(t, err, fault.ErrRefused, "it is over")
	other, b := as(t, o, "lead of nothing")
	list, err = o.People.Requests(other, b)
	require.NoError(t, err)
	assert.Empty(t, list)
}

func TestRequestsThatAreRefused(t *testing.T) {
	o := gate(t)
	c, a := as(t, o, "lead")
	good := people.Request{Project: "A1", Role: "diver", From: on("2026-11-09"), To: on("2026-11-09"), Percent: 1}
	require.NoError(t, o.People.Ask(c, a, good))
	for name, change := range map[string]func(*people.Request){
		"of nobody":        func(r *people.Request) { r.Role = "" },
		"of both":          func(r *people.Request) { r.Person = "K" },
		"of a stranger":    func(r *people.Request) { r.Role, r.Person = "", "QQ" },
		"ends before":      func(r *people.Request) { r.To-- },
		"nothing of a day": func(r *people.Request) { r.Percent = 0 },
		"ten days a day":   func(r *people.Request) { r.Percent = 100_001 },
		"for another":      func(r *people.Request) { r.Project = "B1" },
	} {
		bad := good
		change(&bad)
		require.Error(t, o.People.Ask(c, a, bad), name)
	}
	exe, b := as(t, o, "executive")
	require.ErrorIs(t, o.People.Ask(exe, b, good), access.ErrForbidden)
}

// By hand: Kim at 25 % on A1 and half on B1 has 30 of 40 h in the weeks of 2 and 9 November. With 75 % on A1 it is 50 of 40, 20 h more in
// each of two weeks.
func TestTryingAPlanOfPeople(t *testing.T) {
	o := gate(t)
	c, a := as(t, o, "lead")
	x, err := o.People.Plan(c, a, "A1", nil)
	require.NoError(t, err)
	require.Len(t, x.Rows, 1)
	assert.Empty(t, x.Changes)
	named, busy, nobody := x.Staffed(capacity.StandardLimits, apptest.October.Last())
	assert.Equal(t, []int{1, 0, 0}, []int{named, busy, nobody})
	named, _, _ = x.Staffed(capacity.StandardLimits, on("2026-11-13"))
	assert.Zero(t, named, "it ends on that day")
	rows := [][]string{{"K", "", "A1", "2026-11-02", "2026-11-13", "75", ""}}
	two, err := o.People.Plan(c, a, "A1", append(rows, []string{"K", "", "A1", "2026-12-01", "2026-12-02", "10", ""},
		[]string{"", "diver", "A1", "2026-12-01", "2026-12-02", "10", ""}, []string{"", "diver", "A1", "2026-12-03", "2026-12-03", "10",
			""}))
	require.NoError(t, err)
	named, busy, nobody = two.Staffed(capacity.StandardLimits, apptest.October.Last())
	assert.Equal(t, []int{1, 1, 2}, []int{named, busy, nobody}, "a person once, a role by assignment")
	x, err = o.People.Plan(c, a, "A1", rows)
	require.NoError(t, err)
	require.Len(t, x.Changes, 1)
	k := x.Changes[0]
	assert.Equal(t, int64(40*capacity.Unit), k.Hours)
	assert.Equal(t, []int{0, 2}, []int{k.OverBefore, k.Over})
	assert.InDelta(t, 1.25, k.WorstPercent, 1e-9)
	assert.Equal(t, on("2026-11-02"), k.WorstAt)
	rows[0][0] = "Z"
	x, err = o.People.Plan(c, a, "A1", rows)
	require.NoError(t, err)
	require.Len(t, x.Changes, 2, "handed over: of both")
	for i, bad := range [][]string{{"QQ", "", "A1", "2026-11-02", "2026-11-13", "75", ""}, {"K", "", "A1", "2026-11-02", "2026-11-01",
		"75", ""}} {
		_, err = o.People.Plan(c, a, "A1", [][]string{bad})
		var wrong *edit.Error
		require.ErrorAs(t, err, &wrong, i)
		assert.Zero(t, wrong.Problems[0].Row)
	}
	_, err = o.People.Plan(c, a, "B1", nil)
	require.ErrorIs(t, err, fault.ErrNotFound)
	_, err = o.People.Save(c, nil, "")
	require.Error(t, err, "without a reason")

	before, after, err := people.Split(rows[0], on("2026-11-09"))
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-11-02", "2026-11-08", "2026-11-09", "2026-11-13"}, []string{before[3], before[4], after[3], after[4]})
	for _, day := range []string{"2026-11-02", "2026-11-14"} {
		_, _, err = people.Split(rows[0], on(day))
		require.Error(t, err, day)
	}
	_, _, err = people.Split(rows[0], on("2026-11-13"))
	require.NoError(t, err, "the last day by itself")
}

// By hand: half on B1 and a quarter on A1 is never too much; three quarters on A1 are, in the two weeks of 2 and 9 November.
func TestOnePersonOverAllProjects(t *testing.T) {
	o := gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.Assignments, Period: apptest.October, Text: "person,role,project,from,to,percent\n" +
		"K,,A1,2026-11-02,2026-11-13,75\n"})
	c, a := as(t, o, "lead")
	g, err := o.People.Agenda(c, a, "K", nil)
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"K", "", "A1", "2026-11-02", "2026-11-13", "75", ""}}, g.Rows)
	require.Len(t, g.Others, 1, "also of the project that the lead does not see")
	require.Len(t, g.Mine, 1)
	assert.Equal(t, []int{2, 1, 0}, []int{g.Over(a, on("2026-11-01")), g.Over(a, on("2026-11-02")), g.Over(a, on("2026-11-09"))},
		"weeks that begin after the day")
	_, err = o.People.Agenda(c, a, "QQ", nil)
	require.ErrorIs(t, err, fault.ErrNotFound)
	x, err := o.People.Agenda(c, a, "Z", nil)
	require.NoError(t, err)
	assert.Len(t, x.Weeks(a), len(x.Spans), "of whom nothing is wanted, too")
	_, err = o.People.Agenda(c, a, "K", [][]string{{"K", "", "B1", "2026-11-02", "2026-11-13", "75", ""}})
	var wrong *edit.Error
	require.ErrorAs(t, err, &wrong)
	assert.Equal(t, "B1", wrong.Problems[0].Value)
}

// By hand: 75 % on A1 and half on B1 are 50 of 40 h in two weeks; with the second of them handed to Zoe and the first put from Tuesday on
// to B1,
// one week of Kim is over, and A1 has Zoe alone.
func TestAPlanOfSeveralProjectsIsSavedAtOnce(t *testing.T) {
	o := gate(t)
	row := func(who, project, from, to, percent string) []string {
		return []string{who, "", project, from, to, percent, ""}
	}
	was := row("K", "A1", "2026-11-02", "2026-11-13", "75")
	apptest.Send(t, o, apptest.Sent{Kind: record.Assignments, Period: apptest.October, Text: "person,role,project,from,to,percent\n" +
		"K,,A1,2026-11-02,2026-11-13,75\n"})
	c, a := as(t, o, "analyst")
	g, err := o.People.Agenda(c, a, "K", nil)
	require.NoError(t, err)
	require.Len(t, g.Rows, 2)
	assert.Empty(t, g.Others)
	half := slices.IndexFunc(g.Rows, func(r []string) bool { return r[2] == "B1" })
	first, second := row("K", "B1", "2026-11-03", "2026-11-06", "75"), row("Z", "A1", "2026-11-09", "2026-11-13", "75")
	tried, err := o.People.Agenda(c, a, "K", [][]string{g.Rows[half], first, second})
	require.NoError(t, err)
	require.Len(t, tried.Changes, 2)
	k := tried.Changes[slices.IndexFunc(tried.Changes, func(x people.Change) bool { return x.Person.Code == "K" })]
	assert.Equal(t, []any{int64(-36 * capacity.Unit), 2, 1}, []any{k.Hours, k.OverBefore, k.Over})

	_, err = o.People.Save(c, []intake.Edited{{Old: was, New: first}, {New: row("Z", "NO", "2026-11-09", "2026-11-13", "75")}}, "why")
	require.Error(t, err)
	_, a = as(t, o, "analyst")
	g, err = o.People.Agenda(c, a, "K", nil)
	require.NoError(t, err)
	assert.Contains(t, g.Rows, was, "all or nothing")

	receipt, err := o.People.Save(c, []intake.Edited{{Old: was, New: first}, {New: second}}, "inspector away")
	require.NoError(t, err)
	assert.Len(t, receipt.Loads, 2, "a load for each project")
	_, a = as(t, o, "analyst")
	g, err = o.People.Agenda(c, a, "K", nil)
	require.NoError(t, err)
	assert.Len(t, g.Rows, 2)
	assert.Contains(t, g.Rows, first)
	assert.Equal(t, 1, g.Over(a, on("2026-11-01")))
	x, err := o.People.Plan(c, a, "A1", nil)
	require.NoError(t, err)
	assert.Equal(t, [][]string{second}, x.Rows)
}
