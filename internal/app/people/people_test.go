package people_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/people"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/record"
)

// By hand, for October 2026 of 22 working days: Kim is wanted at 50 % by A1 (88 h) and at 75 % by B1 (132 h) of 176 h. Who sees only A1
// is told of both; who only reads is told of roles, and not of people.
func TestLoadsAcrossProjects(t *testing.T) {
	_, o := apptest.Gate(t)
	apptest.Send(t, o, apptest.Sent{Kind: record.People, Period: apptest.October, Text: "code,name,role\nK,Kim,diver\nZ,Zoe,\n"},
		apptest.Sent{Kind: record.Assignments, Period: apptest.October, Text: "person,role,project,from,to,percent\n" +
			"K,,A1,2026-10-01,2026-10-31,50\nK,,B1,2026-10-01,2026-10-31,75\n,diver,B1,2026-10-01,2026-10-31,100\n"})
	m := apptest.October.Last().Month()
	sheet := func(who string, by capacity.By) (*people.Sheet, error) {
		c := access.As(context.Background(), apptest.Writers[who])
		a, err := o.Assess.Day(c, apptest.October.Last())
		require.NoError(t, err)
		return people.SheetOf(c, a, people.Ask{By: by, From: m, To: m + 1})
	}
	s, err := sheet("lead", capacity.ByPerson)
	require.NoError(t, err)
	lines := s.Lines()
	require.Len(t, lines, 3)
	assert.Equal(t, []string{"K", "Z", ""}, []string{lines[0].Name, lines[1].Name, lines[2].Name})
	assert.Equal(t, "Kim", lines[0].Person.Name)
	assert.Nil(t, lines[2].Person)
	assert.Equal(t, int64(220*capacity.Unit), lines[0].Cells[0].Demand)
	assert.Equal(t, int64(176*capacity.Unit), lines[0].Cells[0].Available)
	assert.Zero(t, lines[0].Cells[1].Demand)
	assert.Equal(t, int64((176+168)*capacity.Unit), lines[0].Total.Full)
	assert.Equal(t, int64(220*capacity.Unit), lines[0].Total.Demand)
	c := access.As(context.Background(), apptest.Writers["lead"])
	a, err := o.Assess.Day(c, apptest.October.Last())
	require.NoError(t, err)
	assert.Equal(t, people.Names{"K": true}, s.Of(a, a.Projects), "those whom A1 wants")

	_, err = sheet("executive", capacity.ByPerson)
	require.ErrorIs(t, err, access.ErrForbidden)
	s, err = sheet("executive", capacity.ByRole)
	require.NoError(t, err)
	lines = s.Lines()
	assert.Equal(t, int64(396*capacity.Unit), lines[0].Cells[0].Demand)
	assert.Equal(t, int64(176*capacity.Unit), lines[0].Cells[0].Unstaffed)

	for _, ask := range []people.Ask{{From: m, To: m - 1}, {From: m, To: m + 240},
		{From: calendar.MaxDate.Month(), To: calendar.MaxDate.Month() + 1}} {
		_, err := people.SheetOf(c, a, ask)
		var wrong *fault.FieldError
		require.ErrorAs(t, err, &wrong)
	}
	_, err = people.ParseBy("dog")
	require.Error(t, err)
}

// By hand: the first of two spans that are equally short; a row without people missing is none; of those that are short the worst.
func TestWhoIsShortAndWhoIsBusy(t *testing.T) {
	line := func(name string, cells ...capacity.Cell) people.Line {
		l := people.Line{Name: name, Cells: cells}
		for i := range cells {
			l.Cells[i].Full = 100
			l.Total.Add(&cells[i])
		}
		return l
	}
	enough := line("A", capacity.Cell{Available: 100, Demand: 100}, capacity.Cell{})
	twice := line("B", capacity.Cell{Available: 100, Demand: 90}, capacity.Cell{Available: 50, Demand: 80}, capacity.Cell{Demand: 30})
	worse := line("", capacity.Cell{Demand: 31})
	idle := line("C", capacity.Cell{Available: 100})
	assert.Equal(t, []int{-1, 1, 0, -1}, []int{enough.Shortest(), twice.Shortest(), worse.Shortest(), idle.Shortest()})
	n, of := people.Short([]people.Line{enough, twice, worse, idle})
	assert.Equal(t, 2, n)
	assert.Empty(t, of.Name)
	n, of = people.Short([]people.Line{enough})
	assert.Zero(t, n)
	assert.Nil(t, of)
	assert.Equal(t, people.Busy{All: 3, Over: 1, Idle: 1}, people.BusyOf([]people.Line{enough, twice, worse, idle},
		capacity.StandardLimits))
}

// What one project wants from now on is on the sheet at once, also where only that project is computed again.
func TestASheetFollowsALoad(t *testing.T) {
	_, o := apptest.Gate(t)
	m := apptest.October.Last().Month()
	wanted := func() int64 {
		c := access.As(context.Background(), apptest.Writers["analyst"])
		a, err := o.Assess.Day(c, apptest.October.Last())
		require.NoError(t, err)
		s, err := people.SheetOf(c, a, people.Ask{From: m, To: m})
		require.NoError(t, err)
		return s.Lines()[0].Total.Demand
	}
	send := func(kind record.Kind, text string) {
		apptest.Send(t, o, apptest.Sent{Kind: kind, Period: apptest.October, Text: text})
	}
	assert.Zero(t, wanted())
	send(record.Assignments, "person,project,from,to,percent\nK,A1,2026-10-01,2026-10-31,50\n")
	assert.Equal(t, int64(88*capacity.Unit), wanted())
	send(record.Assignments, "person,project,from,to,percent\nK,A1,2026-10-01,2026-10-31,25\n")
	assert.Equal(t, int64(44*capacity.Unit), wanted())
	send(record.Assignments, "person,project,from,to,percent\nK,B1,2026-10-01,2026-10-31,50\n")
	assert.Equal(t, int64(132*capacity.Unit), wanted())
	send(record.People, "code,name,hours_per_day\nK,Kim,4\n")
	assert.Equal(t, int64(66*capacity.Unit), wanted(), "half days")
}

// By hand: 9 of 8 h in the first and third span, none there in the second, 12 of 8 h in the fourth: three spans, the first of them the
// first, the worst 1.5. Who is full and not over is none.
func TestOverloadsOfASheet(t *testing.T) {
	day := func(available, demand int64) capacity.Cell {
		return capacity.Cell{Available: available, Demand: demand}
	}
	l := people.Line{Name: "K", Person: &capacity.Person{Code: "K"}, Cells: []capacity.Cell{day(8, 9), day(0, 8), day(8, 9), day(8, 12)}}
	o := l.Overload(capacity.StandardLimits)
	assert.Equal(t, []int{3, 0}, []int{o.Weeks, o.First})
	assert.InDelta(t, 1.5, o.Worst.Float(), 1e-9)
	l.Cells = []capacity.Cell{day(8, 8)}
	assert.Zero(t, l.Overload(capacity.StandardLimits).Weeks)
	l.Cells, l.Person = []capacity.Cell{day(8, 9)}, nil
	assert.Zero(t, l.Overload(capacity.StandardLimits).Weeks, "what is nobody's")
	_, err := people.SpansOf(&people.Ask{Days: true, From: apptest.October.Last().Month(), To: apptest.October.Last().Month() + 3})
	require.Error(t, err, "more than a quarter")
	spans, err := people.SpansOf(&people.Ask{Days: true, From: apptest.October.Last().Month(), To: apptest.October.Last().Month() + 2})
	require.NoError(t, err)
	assert.Len(t, spans, 92)
}
