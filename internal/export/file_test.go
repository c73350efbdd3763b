package export_test

import (
	"bytes"
	"encoding/json"
	"io"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/forecast"
	"turret/internal/app/pipeline"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	core "turret/internal/core/forecast"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/priority"
	"turret/internal/core/selection"
	"turret/internal/export"
)

func written(t *testing.T, write func(w io.Writer) error) string {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, write(&b))
	return b.String()
}

// Scores have six decimals, what has none leaves its cells empty and is null, and a code that a spreadsheet would run is guarded.
func TestARankingAsAFile(t *testing.T) {
	r := export.Rank{Ranking: &pipeline.Ranking{Rows: []pipeline.Ranked{
		{Ranked: priority.Ranked{Code: "=P1", Scored: true, Score: 4_250_000, Rank: 1, Low: 1, High: 3}},
		{Ranked: priority.Ranked{Code: "P2"}}}}}
	assert.Equal(t, "project,score,rank,rank_low,rank_high\n'=P1,4.250000,1,1,3\nP2,,,,\n", written(t, r.CSV))
	assert.JSONEq(t, `[{"project":"=P1","score":4.250000,"rank":1,"rank_low":1,"rank_high":3},
		{"project":"P2","score":null,"rank":null,"rank_low":null,"rank_high":null}]`, written(t, r.JSON))
}

// Amounts are in major units; the last row has the value of the chosen.
func TestAChoiceAsAFile(t *testing.T) {
	of := func(code string) *measure.Project { return &measure.Project{Info: measure.Info{Code: code}} }
	c := export.Choice{Choice: &pipeline.Choice{Places: 2, Rows: []pipeline.Chosen{
		{Project: of("P1"), Value: fact.Some(1250_00), In: true, Price: fact.Some(50_05)},
		{Project: of("P2"), Value: fact.Some(-7_00)}, {Project: of("P3")}},
		Result: &selection.Result{Value: 1250_00, Bound: 1300_00}}}
	assert.Equal(t, "project,value,chosen,price\nP1,1250.00,yes,50.05\nP2,-7.00,no,\nP3,,no,\n*,1250.00,,\n", written(t, c.CSV))
	assert.JSONEq(t, `{"rows":[{"project":"P1","value":1250.00,"chosen":"yes","price":50.05},
		{"project":"P2","value":-7.00,"chosen":"no","price":null},{"project":"P3","value":null,"chosen":"no","price":null}],
		"value":1250.00,"bound":1300.00,"proven":false,"limits":[]}`, written(t, c.JSON))
}

// Of ten runs the percentiles are the first, the fifth, the eighth and the ninth.
func TestRangesAsAFile(t *testing.T) {
	x := forecast.Row{Code: "A", Baseline: fact.Of(3, 10), Required: fact.Of(2, 3)}
	for i := range 10 {
		x.Finish = append(x.Finish, calendar.On(2026, 11, 2)+calendar.Date(i))
		x.Cost = append(x.Cost, money.Amount(100*(i+1)))
	}
	r := export.Ranges{Ranges: &forecast.Ranges{Rows: []forecast.Row{x, {Code: "*"}}}, Currency: "EUR"}
	assert.Equal(t, "project,p10_finish,p50_finish,p80_finish,p90_finish,p10_cost,p50_cost,p80_cost,p90_cost,chance_baseline,"+
		"chance_required\nA,2026-11-02,2026-11-06,2026-11-09,2026-11-10,1.00,5.00,8.00,9.00,0.300000,0.666667\n*,,,,,,,,,,\n",
		written(t, r.CSV))
	var rows []map[string]any
	require.NoError(t, json.Unmarshal([]byte(written(t, r.JSON)), &rows))
	assert.Equal(t, []any{"2026-11-09", 8.0, 0.3}, []any{rows[0]["p80_finish"], rows[0]["p80_cost"], rows[0]["chance_baseline"]})
	assert.Len(t, rows[1], 11)
	assert.Nil(t, rows[1]["p10_finish"])
}

// What is not predicted says why, and a skill that is no number is null.
func TestPredictionsAsAFile(t *testing.T) {
	p := &measure.Project{Info: measure.Info{Code: "A"}}
	told := &core.Prediction{Period: calendar.Months.Of(calendar.On(2026, 10, 1)), Chances: core.Chances{0.2, 0.3, 0.5}, Likeliest: 2,
		Drivers: []core.Reason{{Feature: "cpi", Direction: "toward", Size: 1.25, Words: "low"}}}
	o := export.Outlooks{Outlooks: &forecast.Outlooks{Learned: &core.Learned{Projects: 24}, List: []forecast.Outlook{
		{Project: p, Prediction: told, Declared: health.OnTrack, Computed: health.Watch}, {Project: p, Reason: "no closed period"}}}}
	assert.Equal(t, "project,on_track,watch,act,predicted,declared,computed\nA,0.200000,0.300000,0.500000,act,on track,watch\nA,,,,,,\n",
		written(t, o.CSV))
	var all struct {
		From  int              `json:"learned_from"`
		Skill *float64         `json:"skill"`
		Rows  []map[string]any `json:"rows"`
		Held  []any            `json:"cross_validated"`
	}
	require.NoError(t, json.Unmarshal([]byte(written(t, o.JSON)), &all))
	assert.Equal(t, 24, all.From)
	assert.Nil(t, all.Skill)
	assert.Equal(t, []any{map[string]any{"feature": "cpi", "direction": "toward", "size": 1.25, "words": "low"}}, all.Rows[0]["drivers"])
	assert.Equal(t, []any{"no closed period", nil, []any{}}, []any{all.Rows[1]["reason"], all.Rows[1]["act"], all.Rows[1]["drivers"]})
}
