package plan_test

import (
	"context"
	"errors"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/forecast"
	"turret/internal/app/kept"
	"turret/internal/app/plan"
	"turret/internal/record"
)

// By hand: A digs for five days from Monday, 2 November, and in three of ten runs for two more; B fills for five days after it; C hangs
// together with neither. Three days longer, all of A and B come three working days later, at the same odds, and the 10th, by which A is
// required, is kept in no run any more.
func TestWhatMayComeOfARehearsal(t *testing.T) {
	sent := func(kind record.Kind, text string) apptest.Sent {
		return apptest.Sent{Kind: kind, Period: apptest.October, Text: text}
	}
	o := apptest.House(t, sent(record.Projects, "code,name,required_finish\nA,First,2026-11-10\nC,Third,\n"),
		sent(record.Activities, "project,code,name,baseline_start,baseline_finish,duration\nA,1,Dig,2026-11-02,2026-11-06,5\n"+
			"B,1,Fill,2026-11-09,2026-11-13,5\nC,1,Look,2026-11-02,2026-11-06,5\n"),
		sent(record.Links, "project,from,to,from_project\nB,1,1,A\n"),
		sent(record.Risks, "project,code,title,activity,probability,days_impact,state\nA,R1,Clay,1,30,2,open\n"))
	a := apptest.Assessed(t, o, apptest.Last)
	told := func(moves ...kept.RehearsedMove) (list [][6]string) {
		found, err := o.Plan.Ahead(apptest.Ctx, a, moves)
		require.NoError(t, err)
		for _, x := range found {
			list = append(list, [6]string{x.Now.Code, x.Now.Day(50).String()[5:], x.Then.Day(50).String()[5:], x.Now.Day(80).String()[5:],
				x.Then.Day(80).String()[5:], map[bool]string{true: "3 days", false: ""}[x.Days == 3]})
			if x.Now.Code == "A" {
				assert.Equal(t, [2]float64{1, 0}, [2]float64{x.Now.Required.Float(), x.Then.Required.Float()})
			}
		}
		return list
	}
	dig := kept.RehearsedMove{Project: "A", Activity: "1", Stretch: 3}
	assert.Equal(t, [][6]string{{"A", "11-06", "11-11", "11-10", "11-13", "3 days"}, {"B", "11-13", "11-18", "11-17", "11-20", "3 days"},
		{"*", "11-13", "11-18", "11-17", "11-20", "3 days"}}, told(dig))

	look := kept.RehearsedMove{Project: "C", Activity: "1", Stretch: 1}
	found, err := o.Plan.Ahead(apptest.Ctx, a, []kept.RehearsedMove{look})
	require.NoError(t, err)
	assert.Len(t, found, 2, "C, and all together, which stay as they are")

	hurried, cancel := context.WithTimeout(apptest.Ctx, time.Nanosecond)
	defer cancel()
	dig.Stretch = 4
	_, err = o.Plan.Ahead(hurried, a, []kept.RehearsedMove{dig})
	var waits *forecast.Progress
	assert.True(t, errors.As(err, &waits))
	dig.Activity = "none"
	_, err = o.Plan.Ahead(apptest.Ctx, a, []kept.RehearsedMove{dig})
	var wrong *plan.MoveError
	assert.ErrorAs(t, err, &wrong)
}
