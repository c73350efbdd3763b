package draft_test

import (
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/draft"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/record"
)

func dropped(t *testing.T, o *app.Office, source, name, text string) *draft.Draft {
	t.Helper()
	sent := false
	d, err := o.Draft.Receive(apptest.Ctx, source, apptest.October, func() (*draft.Upload, error) {
		if sent {
			return nil, io.EOF
		}
		sent = true
		return &draft.Upload{Name: name, Body: strings.NewReader(text)}, nil
	})
	require.NoError(t, err)
	return d
}

func preview(t *testing.T, o *app.Office, id string) *draft.Consequences {
	t.Helper()
	_, c, err := o.Draft.Preview(apptest.Ctx, id, apptest.October.Last())
	require.NoError(t, err)
	return c
}

// A word that several columns say is asked for once, with how many rows say it in all.
func TestAMeaningIsAskedOnceForColumnsThatShareIt(t *testing.T) {
	_, o := apptest.Gate(t)
	d := dropped(t, o, "", "status.csv", "project,overall,schedule,cost\nA1,amber,amber,green\nB1,Amber,on track,green\n")
	list, err := o.Draft.Troubles(apptest.Ctx, d, preview(t, o, d.ID).Problems)
	require.NoError(t, err)
	unknown, err := o.Draft.Unknowns(apptest.Ctx, d, list)
	require.NoError(t, err)
	got := map[string]int{}
	for _, u := range unknown {
		var names []string
		for _, c := range u.Columns {
			names = append(names, c.Name)
		}
		assert.False(t, u.Rare(), u.Value)
		got[strings.ToLower(u.Value)+" in "+strings.Join(names, " and ")] += u.Count
	}
	assert.Equal(t, map[string]int{"amber in overall and schedule": 3, "green in cost": 2}, got)
	of := func(name string, count int) *draft.Unknown {
		c, ok := record.Statuses.Input().Column(name)
		require.True(t, ok)
		return &draft.Unknown{Columns: []record.Column{c}, Count: count}
	}
	assert.Equal(t, []bool{true, false, false}, []bool{of("project", 1).Rare(), of("project", 2).Rare(), of("overall", 1).Rare()},
		"one wrong code is a slip, one word for a status is how its sender writes")
}

// What is undone is read as before, what holds for one file is not there for the next of the same sender.
func TestChoicesOfADraft(t *testing.T) {
	_, o := apptest.Gate(t)
	office := apptest.Writers["analyst"]
	red := intake.ValueChoice("overall", "red")
	d := sentAs(t, o, office, "Works", "A1,red")
	m := d.Sheets[0].Sheet.Mapping
	m.Kind, m.Columns = record.Statuses, map[string]string{"job": "project", "light": "overall"}
	m.Values = map[string]map[string]string{"overall": {"red": "act"}}
	d, err := o.Draft.Remap(apptest.Ctx, d.ID, "Works", apptest.October, []intake.Mapping{m})
	require.NoError(t, err)
	require.Empty(t, preview(t, o, d.ID).Problems)
	d, err = o.Draft.Change(apptest.Ctx, d.ID, 0, func(s *intake.Sheet) (intake.Mapping, error) { return s.Undo(red) })
	require.NoError(t, err)
	require.Len(t, preview(t, o, d.ID).Problems, 1, "red means nothing again")
	d, err = o.Draft.Remap(apptest.Ctx, d.ID, "Works", apptest.October, []intake.Mapping{m})
	require.NoError(t, err)
	d, err = o.Draft.Change(apptest.Ctx, d.ID, 0, func(s *intake.Sheet) (intake.Mapping, error) { return s.Mapping.Only(red, true), nil })
	require.NoError(t, err)
	loaded(t, o, office, d)
	next := sentAs(t, o, office, "Works", "A1,red")
	assert.True(t, next.Sheets[0].Sheet.Remembered)
	assert.Equal(t, "overall", next.Sheets[0].Sheet.Mapping.Columns["light"])
	assert.Empty(t, next.Sheets[0].Sheet.Mapping.Values["overall"]["red"])
	_, err = o.Draft.Change(apptest.Ctx, d.ID, 3, func(s *intake.Sheet) (intake.Mapping, error) { return s.Undo(red) })
	require.ErrorIs(t, err, fault.ErrNotFound)
}

// A wrong row is left out or corrected, and what was done to it stays with the load.
func TestRowsOfADraftByHand(t *testing.T) {
	_, o := apptest.Gate(t)
	d := dropped(t, o, "", "status.csv", "project,overall\nA1,on track\nNONE,watch\nB1,purple\n")
	require.Len(t, preview(t, o, d.ID).Problems, 2)
	_, err := o.Draft.Change(apptest.Ctx, d.ID, 0, func(s *intake.Sheet) (intake.Mapping, error) {
		return s.Mapping.LeaveRows([]int32{3}, "a project of another office")
	})
	require.NoError(t, err)
	d, err = o.Draft.Change(apptest.Ctx, d.ID, 0, func(s *intake.Sheet) (intake.Mapping, error) {
		return s.Mapping.Correct([]int32{4}, map[string]string{"overall": "act"})
	})
	require.NoError(t, err)
	c := preview(t, o, d.ID)
	require.Empty(t, c.Problems)
	assert.Equal(t, 2, c.Files[0].Len())
	loaded(t, o, apptest.Writers["analyst"], d)
	list, err := o.Load.List(apptest.Ctx)
	require.NoError(t, err)
	assert.Contains(t, list[0].Recognised, "row 3 was left out: a project of another office")
	assert.Contains(t, list[0].Recognised, "row 4: overall was set to “act” by hand")
}

// Files with errors are kept as refused: they stay, and the inputs say why they were not taken. Good ones are not.
func TestADraftIsKeptAsRefused(t *testing.T) {
	_, o := apptest.Gate(t)
	bad := dropped(t, o, "Works", "status.csv", "project,overall\nA1,purple\n")
	n, err := o.Draft.Refuse(apptest.Ctx, bad.ID)
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	again, err := o.Draft.Get(apptest.Ctx, bad.ID)
	require.NoError(t, err)
	assert.True(t, again.Refused)
	m, err := o.Gather.Matrix(apptest.Ctx, apptest.October, calendar.On(2026, 11, 2))
	require.NoError(t, err)
	for _, row := range m.Rows {
		for _, s := range row.Slots {
			if row.Project.Code == "A1" && s.Kind == record.Statuses {
				require.NotNil(t, s.Refusal)
				assert.Contains(t, s.Refusal.First, "purple")
			}
		}
	}
	good := dropped(t, o, "Works", "status.csv", "project,overall\nA1,watch\n")
	_, err = o.Draft.Refuse(apptest.Ctx, good.ID)
	require.ErrorIs(t, err, fault.ErrConflict)
}

// Rows of nothing and rows that change nothing are counted, and so is a declared status that moves.
func TestWhatARowDoesIsCounted(t *testing.T) {
	_, o := apptest.Gate(t)
	budget := "project,cost_code,amount,month\nA1,C,5,2026-10\nA1,C,0,2026-11\nA1,C,0.00,2026-12\n"
	apptest.Send(t, o, apptest.Sent{Kind: record.Budget, Period: apptest.October, Text: budget})
	c := preview(t, o, dropped(t, o, "", "budget.csv", strings.Replace(budget, "A1,C,5,", "A1,C,6,", 1)).ID)
	require.Empty(t, c.Problems)
	require.Len(t, c.Changes, 1)
	assert.Equal(t, []int{0, 1, 0, 2, 2}, []int{c.Changes[0].New, c.Changes[0].Changed, c.Changes[0].Gone, c.Changes[0].Same,
		c.Changes[0].Zero})
	apptest.Send(t, o, apptest.Sent{Kind: record.Statuses, Period: apptest.October, Text: "project,overall\nA1,watch\n"})
	c = preview(t, o, dropped(t, o, "", "status.csv", "project,overall\nA1,act\n").ID)
	var moved []string
	for _, x := range c.Totals {
		if x.Key == measure.DeclaredHealth {
			moved = append(moved, x.Code+" "+x.Before+" to "+x.After)
		}
	}
	assert.Equal(t, []string{"A1 watch to act"}, moved)
}
