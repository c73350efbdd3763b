package pipeline_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/fault"
	"turret/internal/app/pipeline"
	"turret/internal/core/fact"
	"turret/internal/record"
)

func TestMonthsLater(t *testing.T) {
	for from, want := range map[string]string{"2027-01-31": "2027-02-28", "2027-03-15": "2027-04-15", "2027-12-31": "2028-01-31"} {
		assert.Equal(t, want, pipeline.Later(on(from), 1).String())
	}
	assert.Equal(t, "2027-02-28", pipeline.Later(on("2027-03-31"), -1).String())
	assert.Equal(t, "2029-02-28", pipeline.Later(on("2028-02-29"), 12).String())
	assert.Zero(t, pipeline.Later(0, 3))
	m, err := pipeline.ParseMoves([]string{"A:1:-3", "B:0", "C:60"})
	require.NoError(t, err)
	assert.Equal(t, pipeline.Moves{"A:1": -3, "C": 60}, m)
	for _, bad := range []string{"A", ":3", "A:", "A:61", "A:-61", "A:1.5", "A:b"} {
		_, err := pipeline.ParseMoves([]string{bad})
		var wrong *fault.FieldError
		require.ErrorAs(t, err, &wrong, bad)
	}
}

// By hand: a month later the 30 of P fall into April and the 5 into January 2028, so that 2027 has 30 where it had 35, and 2028 25 where
// it had 20.
// Of divers P wants February, 160 h, and half of March and April, 92 and 88 h: 252 h in the first quarter where it wanted 340, and with
// the 8 h of Q
// 96 in the second. Kim is there for 512 and 520 h.
func TestWhatMovesDo(t *testing.T) {
	_, a, p := board(t, "")
	s, err := a.Scope("")
	require.NoError(t, err)
	list := pipeline.EffectsOf(a, p, s, pipeline.Moves{"P": 1, "R": 5, "S": 9})
	var got [][]any
	const hour = 100_000_000
	for i := range list {
		e := &list[i]
		if e.Role {
			got = append(got, []any{e.Name, e.Before / hour, e.After / hour, e.Free.N / hour})
			continue
		}
		got = append(got, []any{e.Name, e.Before, e.After, e.Running})
	}
	assert.Equal(t, [][]any{{"2027", int64(3_500), int64(3_000), int64(0)}, {"2028", int64(2_000), int64(2_500), int64(0)},
		{"diver, 2027Q1", int64(340), int64(252), int64(512)}, {"diver, 2027Q2", int64(8), int64(96), int64(520)}}, got)
	assert.Equal(t, fact.Some(49), list[2].FTE(list[2].After), "252 of 512 h")
	list = pipeline.EffectsOf(a, p, s, pipeline.Moves{"P": 10})
	assert.Equal(t, []int64{0, 5_500}, []int64{list[0].After, list[1].After}, "ten months later both amounts of P fall into 2028")
	list = pipeline.EffectsOf(a, p, s, nil)
	require.Len(t, list, 2, "roles that moves do not change and that are enough are not told")
}

// Lanes hold what runs and what is proposed by start; what is declined, over or without dates is not drawn.
func TestLanesOfARoadmap(t *testing.T) {
	send := func(kind record.Kind, text string) apptest.Sent {
		return apptest.Sent{Kind: kind, Period: apptest.October, Text: text}
	}
	o := apptest.House(t, send(record.Structure, "code,name,level,parent\nN,North,programme,PF\n"),
		send(record.Projects, "code,name,parent,status,category,planned_start,planned_finish\nP,Pond,N,proposed,,2027-01-15,2027-06-30\n"+
			"S,Sluice,N,open,renewal,2026-01-01,2026-12-31\nR,Reed,N,proposed,,2027-01-01,2027-02-01\nU,Undated,N,proposed,,,\n"+
			"Z,Done,N,closed,,2025-01-01,2025-12-31\nQ,Quay,PF,proposed,,2026-12-01,2027-01-31\n"),
		send(record.Activities,
			"project,code,name,kind,baseline_finish,finish,report_to\nS,M,Open,milestone,2026-11-30,2027-01-29,portfolio\n"+
				"S,K,Small,milestone,2026-11-30,2026-11-30,project\n"),
		send(record.Proposals, "project,decision\nR,declined\n"),
		send(record.Activities, "project,code,name,start,finish\nQ,1,Wall,2026-12-01,2027-01-29\n"),
		send(record.Links, "project,from_project,from,to\nQ,S,M,1\n"),
		send(record.Requirements, "project,kind,other\nP,needs,S\nP,needs,R\nQ,not with,P\n"),
		send(record.Goals, "code,name\nBOAT,Boats\nSAFE,Safe\n"),
		send(record.Contributions, "project,goal,rating\nP,BOAT,2\nP,SAFE,3\nS,BOAT,1\n"))
	a := apptest.Assessed(t, o, apptest.Last)
	p, err := pipeline.Read(apptest.Ctx, a)
	require.NoError(t, err)
	s, err := a.Scope("")
	require.NoError(t, err)
	lanes := func(by string) (got [][]string) {
		for _, l := range pipeline.RoadmapOf(a, p, s, by, nil).Lanes {
			row := []string{l.Name}
			for _, b := range l.Bars {
				row = append(row, b.Project.Code)
			}
			got = append(got, row)
		}
		return got
	}
	assert.Equal(t, [][]string{{"North", "S", "P"}, {"Portfolio", "Q"}}, lanes("programme"))
	assert.Equal(t, [][]string{{"Boats", "S"}, {"Safe", "P"}, {"no goal", "Q"}}, lanes("goal"))
	assert.Equal(t, [][]string{{"no category", "Q", "P"}, {"renewal", "S"}}, lanes("category"))
	m := pipeline.RoadmapOf(a, p, s, "programme", pipeline.Moves{"P": 2, "S": 2})
	var undated []string
	for _, x := range m.Undated {
		undated = append(undated, x.Code)
	}
	assert.Equal(t, []string{"A", "B", "U"}, undated, "with the two that the office has besides")
	s2, p2 := m.Lanes[0].Bars[0], m.Lanes[0].Bars[1]
	assert.Equal(t, []any{on("2026-01-01"), on("2027-01-29"), 0}, []any{s2.From, s2.To, s2.Moved},
		"what runs is not moved, and ends when it is expected")
	assert.Equal(t, []any{on("2027-03-15"), on("2027-08-30"), 2}, []any{p2.From, p2.To, p2.Moved})
	require.Len(t, s2.Milestones, 1, "of portfolio level alone")
	assert.Equal(t, "Open", s2.Milestones[0].Name)
	assert.Equal(t, []any{on("2026-01-01"), on("2027-08-30")}, []any{m.From, m.To})

	byRule := pipeline.Need{Of: "S", By: "P", Given: on("2027-01-29"), Wanted: on("2027-03-15"), Title: "P needs S"}
	assert.Contains(t, m.Needs, byRule, "two months later it is there in time")
	byRule.Wanted, byRule.Strained = on("2027-01-15"), true
	now := pipeline.RoadmapOf(a, p, s, "programme", nil).Needs
	assert.Contains(t, now, byRule)
	require.Len(t, now, 2, "R is declined, and what does not go together needs nothing")
	byLink := now[slices.IndexFunc(now, func(n pipeline.Need) bool { return n.By == "Q" })]
	assert.Equal(t, []any{"S", on("2027-01-29"), true, "Q needs Open of S"}, []any{byLink.Of, byLink.Given, byLink.Strained, byLink.Title},
		"the wall was to begin in December")
}
