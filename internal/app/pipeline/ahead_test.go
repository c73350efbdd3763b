package pipeline_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/pipeline"
	"turret/internal/core/money"
	"turret/internal/record"
)

// By hand: each of twenty finished projects cost twice its first budget. P with 35 in 2027 and Q with 20 in 2028 come to 70 and 40 in every
// run; divers are not drawn. With nineteen, the plan is all there is.
func TestWhatTheChosenMayCost(t *testing.T) {
	for finished, factor := range map[int]money.Amount{20: 2, 19: 1} {
		o, _, _ := board(t, "")
		rows := [3]strings.Builder{}
		for i := range finished {
			fmt.Fprintf(&rows[0], "F%02d,Done,PF,closed\n", i)
			fmt.Fprintf(&rows[1], "F%02d,K,100,2026-01\n", i)
			fmt.Fprintf(&rows[2], "F%02d,K,2026-02-02,200\n", i)
		}
		for i, x := range []apptest.Sent{{Kind: record.Projects, Text: "code,name,parent,status\n"},
			{Kind: record.Budget, Text: "project,cost_code,amount,month\n"}, {Kind: record.Actuals,
				Text: "project,cost_code,date,amount\n"}} {
			x.Period, x.Text = apptest.October, x.Text+rows[i].String()
			apptest.Send(t, o, x)
		}
		a := apptest.Assessed(t, o, apptest.Last)
		p, err := pipeline.Read(apptest.Ctx, a)
		require.NoError(t, err)
		stories, err := o.Forecast.Stories(apptest.Ctx, a)
		require.NoError(t, err)

		x := choose(t, a, p, "2027=70", "2028=39.99", "fte:diver:2027Q1=99").Ahead(stories)
		assert.Equal(t, 2, x.Chosen)
		assert.Equal(t, map[money.Amount]int{2: 2, 1: 0}[factor], x.Pooled)
		require.Len(t, x.Lines, 3, "people are not drawn")
		for k, planned := range []money.Amount{5_500, 3_500, 2_000} {
			line := x.Lines[k]
			assert.Equal(t, [3]money.Amount{planned, factor * planned, factor * planned}, [3]money.Amount{line.Planned, line.P50, line.P80})
		}
		assert.False(t, x.Lines[0].Kept.Given(), "there is no limit of all")
		assert.InDelta(t, 1, x.Lines[1].Kept.Float(), 0, "70 are as much as there is")
		assert.InDelta(t, float64(2-factor), x.Lines[2].Kept.Float(), 0, "40 are a cent more than there is, 20 are not")
		assert.InDelta(t, float64(2-factor), x.Kept.Float(), 0)
		assert.False(t, choose(t, a, p).Ahead(stories).Kept.Given(), "nothing limits it")
	}
}
