package backlog_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/assess"
	"turret/internal/app/backlog"
	"turret/internal/app/fault"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/record"
)

// listed is an office whose project A accepted 4 in one week, has 1 of 3 in the week that ends on 1 November, and wants to be done on 15
// November: x 2, y 3 and z 1 remain, then b, which is blocked. Of the 3 of the week 2 came on its second day.
func listed(t *testing.T) (*app.Office, *assess.Assessment) {
	t.Helper()
	send := func(kind record.Kind, text string) apptest.Sent {
		return apptest.Sent{Kind: kind, Period: apptest.October, Text: text}
	}
	o := apptest.House(t, send(record.Projects,
		"code,name,parent,lead,planned_start,planned_finish\nA,First,PF,Ann,2026-10-01,2026-11-15\n"),
		send(record.Iterations, "project,code,from,to\nA,I1,2026-10-19,2026-10-25\nA,I2,2026-10-26,2026-11-01\n"),
		send(record.Issues, "project,code,title,state,blocks\nA,I1,Rain,open,X\nA,I2,Sun,closed,X\n"),
		send(record.Backlog, "project,code,title,points,state,iteration,added,accepted,rank,owner,blocked\n"+
			"A,d,D,4,accepted,I1,,2026-10-22,,,\nA,e,E,1,accepted,I2,,2026-10-27,,,\nA,x,X,2,doing,I2,2026-10-27,,1,Ann,\nA,y,Y,3,todo,,,,2,,\n"+
			"A,z,Z,1,todo,,,,3,,\nA,b,B,6,todo,,,,,,no device\n"))
	return o, apptest.Assessed(t, o, apptest.Last)
}

func codes(list []backlog.Line) (all []string) {
	for i := range list {
		all = append(all, list[i].Code)
	}
	return all
}

// At 4 a week 3 more are done by 1 November, 7 by the 8th, 11 by the 15th, of 12.
func TestLinesTellByWhenItemsAreDone(t *testing.T) {
	_, a := listed(t)
	list := backlog.Lines(a.ByCode["A"])
	assert.Equal(t, []string{"x", "y", "z", "b", "e", "d"}, codes(list), "what is accepted stands last, the newest first")
	var by []string
	for _, l := range list[:4] {
		by = append(by, l.By.Human())
	}
	assert.Equal(t, []string{"1 Nov 2026", "8 Nov 2026", "8 Nov 2026", "22 Nov 2026"}, by)
	assert.Equal(t, []bool{false, false, false, true}, []bool{list[0].Late, list[1].Late, list[2].Late, list[3].Late})
	assert.True(t, list[0].Unplanned)
}

func TestItemsByIteration(t *testing.T) {
	_, a := listed(t)
	var got [][]any
	for _, x := range backlog.ByIteration(a.ByCode["A"]) {
		code := "none"
		if x.Iteration != nil {
			code = x.Code
		}
		got = append(got, []any{code, x.Current, x.Points / 10_000, x.Accepted / 10_000, x.Unplanned / 10_000, len(x.Lines)})
	}
	assert.Equal(t, [][]any{{"I2", true, int64(3), int64(1), int64(2), 2}, {"I1", false, int64(4), int64(4), int64(0), 1},
		{"none", false, int64(10), int64(0), int64(0), 3}}, got)
}

func TestBacklogsOfAScope(t *testing.T) {
	_, a := listed(t)
	s, err := a.Scope("")
	require.NoError(t, err)
	list := backlog.Of(a, s)
	require.Len(t, list, 1, "B has none")
	x := list[0]
	assert.Equal(t, "b", x.Blocked[0].Code)
	assert.Equal(t, []any{1, 1}, []any{len(x.Blocked), x.Issues})
	assert.Equal(t, fact.Of(30, 45), x.Elapsed, "of 45 days from 1 October")
	assert.Equal(t, fact.Of(2, 3), x.Unplan)
	assert.True(t, x.Awakened)
	assert.InDelta(t, 0.15, x.Warns, 0, "as the office has it")
}

// Two thirds of the time have passed: a project that warns from then on does, one that waits a little longer does not.
func TestAProjectSaysWhenItsWarningsBegin(t *testing.T) {
	for early, want := range map[float64]bool{0.66: true, 0.67: false, 0: true, 1: false} {
		o, _ := listed(t)
		set, err := o.Setting.Get(apptest.Ctx)
		require.NoError(t, err)
		set.Tolerances = append(set.Tolerances, setting.Limits{Scope: "A", Early: &early})
		require.NoError(t, o.Setting.Save(apptest.Ctx, set))
		a := apptest.Assessed(t, o, apptest.Last)
		s, err := a.Scope("")
		require.NoError(t, err)
		list := backlog.Of(a, s)
		assert.Equal(t, want, list[0].Awakened, early)
		assert.InDelta(t, early, list[0].Warns, 0)
	}
}

func row(t *testing.T, o *app.Office, code string) *measure.Project {
	t.Helper()
	p := apptest.Assessed(t, o, apptest.Last).ByCode["A"]
	for i := range p.Items {
		if p.Items[i].Code == code {
			p.Items[0] = p.Items[i]
			return p
		}
	}
	t.Fatal(code)
	return nil
}

// Days follow states: accepted today, taken back, and begun again.
func TestItemsAreChangedTogether(t *testing.T) {
	o, _ := listed(t)
	day := calendar.On(2026, 10, 30)
	_, err := o.Backlog.Set(apptest.Ctx, backlog.Change{Project: "A", Codes: []string{"x", "y"},
		Set: map[string]string{"state": "accepted",
			"owner": "Bob"}}, day)
	require.NoError(t, err)
	x := row(t, o, "y").Items[0]
	assert.Equal(t, []any{"accepted", day, day, day, "Bob"}, []any{x.State, x.Started, x.DoneOn, x.Accepted, x.Owner})
	_, err = o.Backlog.Set(apptest.Ctx, backlog.Change{Project: "A", Codes: []string{"y"}, Set: map[string]string{"state": "doing",
		"iteration": "I2"}}, day+1)
	require.NoError(t, err)
	x = row(t, o, "y").Items[0]
	assert.Equal(t, []any{"doing", day, calendar.Date(0), calendar.Date(0), "I2"}, []any{x.State, x.Started, x.DoneOn, x.Accepted,
		x.Iteration})
	_, err = o.Backlog.Set(apptest.Ctx, backlog.Change{Project: "A", Codes: []string{"z"}, TakenOut: true}, day)
	require.NoError(t, err)
	assert.Equal(t, "1", apptest.Assessed(t, o, apptest.Last).ByCode["A"].Value(measure.BacklogRemoved).Text(measure.Points, ""))

	for name, c := range map[string]backlog.Change{
		"items":     {Project: "A"},
		"iteration": {Project: "A", Codes: []string{"y"}, Set: map[string]string{"iteration": "I9"}},
	} {
		_, err := o.Backlog.Set(apptest.Ctx, c, day)
		var f *fault.FieldError
		require.ErrorAs(t, err, &f)
		assert.Equal(t, name, f.Field)
	}
	_, err = o.Backlog.Set(apptest.Ctx, backlog.Change{Project: "A", Codes: []string{"y", "nope"}, Set: map[string]string{"owner": "Cid"}},
		day)
	require.ErrorIs(t, err, fault.ErrNotFound)
	assert.Equal(t, "Bob", row(t, o, "y").Items[0].Owner, "none of them changed")
	lead := access.As(context.Background(), &access.Actor{Login: "bob", Name: "Bob", Role: access.Lead})
	_, err = o.Backlog.Set(lead, backlog.Change{Project: "A", Codes: []string{"y"}, Set: map[string]string{"owner": "Cid"}}, day)
	require.ErrorIs(t, err, access.ErrForbidden, "it is Ann's")
}

func TestRankIsNumberedAnew(t *testing.T) {
	o, a := listed(t)
	order := func() []string { return codes(backlog.Lines(apptest.Assessed(t, o, apptest.Last).ByCode["A"]))[:4] }
	_, err := o.Backlog.Rank(apptest.Ctx, a.ByCode["A"], "b", "y")
	require.NoError(t, err)
	assert.Equal(t, []string{"x", "b", "y", "z"}, order())
	_, err = o.Backlog.Rank(apptest.Ctx, apptest.Assessed(t, o, apptest.Last).ByCode["A"], "x", "")
	require.NoError(t, err)
	assert.Equal(t, []string{"b", "y", "z", "x"}, order())
	_, err = o.Backlog.Rank(apptest.Ctx, a.ByCode["A"], "b", "nope")
	require.ErrorIs(t, err, fault.ErrNotFound)
	_, err = o.Backlog.Rank(apptest.Ctx, a.ByCode["A"], "nope", "b")
	require.ErrorIs(t, err, fault.ErrNotFound)
}

// The iteration under way began on 26 October, and x came on the 27th. Unplanned is what came after the days that the narrowest scope
// gives, and the backlog is drawn by what that says.
func TestAProjectSaysWhatIsUnplanned(t *testing.T) {
	for _, x := range []struct {
		limits []setting.Limits
		want   bool
		by     string
	}{
		{nil, true, "points"},
		{[]setting.Limits{{Scope: "PF", Grace: days(1), Burn: "items"}}, false, "items"},
		{[]setting.Limits{{Scope: "PF", Grace: days(1), Burn: "items"}, {Scope: "A", Grace: days(0), Burn: "points"}}, true, "points"},
		{[]setting.Limits{{Scope: "A", Grace: days(1)}, {Scope: "PF", Burn: "items"}}, false, "items"},
		{[]setting.Limits{{Scope: "B", Grace: days(1), Burn: "items"}}, true, "points"},
	} {
		o, _ := listed(t)
		set, err := o.Setting.Get(apptest.Ctx)
		require.NoError(t, err)
		set.Tolerances = append(set.Tolerances, x.limits...)
		require.NoError(t, o.Setting.Save(apptest.Ctx, set))
		a := apptest.Assessed(t, o, apptest.Last)
		v := a.ByCode["A"].Value(measure.BacklogUnplanned)
		assert.Equal(t, x.want, v.N > 0, x.limits)
		assert.Equal(t, x.by, assess.BurnOf(a, a.ByCode["A"]))
	}
}

func days(n int) *int { return &n }
