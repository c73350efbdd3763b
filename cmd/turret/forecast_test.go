package main

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// ahead is a file of a programme PG with two open projects and a finished one, of which nothing is drawn but risks that strike for certain
// or never. By hand, as of Friday 30 October 2026:
//   - A has 5 and then 3 days left: to 11 November; a certain risk adds 2 days to the second, another one 1 day and 100 crowns at 0.1 to
//
// the     project: 16 November. 400 spent, 600 to go, 10 by the risk. Its baseline ends on the 13th, it is required by the 16th.
//   - B ends after 2 days, on 3 November; nobody forecast it.
//   - F ended on 2 March and cost 70.
//   - a certain risk of PG costs 7.
func ahead(t *testing.T) string {
	t.Helper()
	return imported(t, map[string]string{
		"structure.csv": "code,name,level,parent\nPF,All,portfolio,\nPG,Some,programme,PF\n",
		"projects.csv": "code,name,parent,status,required_finish\nA,Alder,PG,open,2026-11-16\nB,Birch,PG,open,\nF,Fir,PG,closed,\n" +
			"X,Yew,PG,proposed,\n",
		"cost_codes.csv": "code,name\n1,Works\n",
		"rates.csv":      "currency,month,rate,kind\nSEK,2026-01,0.1,plan\n",
		"activities.csv": "project,code,name,kind,baseline_start,baseline_finish,duration,actual_start,actual_finish,low,likely,high\n" +
			"A,1,Dig,,2026-11-02,2026-11-06,5,,,5,5,5\nA,2,Build,,2026-11-09,2026-11-13,3,,,,,\nA,M,Done,milestone,,2026-11-13,,,,,,\n" +
			"B,1,Paint,,,,2,,,,,\nF,1,Fell,,2026-01-05,2026-02-27,,2026-01-05,2026-03-02,,,\n",
		"links.csv":    "project,from,to\nA,1,2\nA,2,M\n",
		"budget.csv":   "project,cost_code,amount,month\nA,1,1000,2026-10\nF,1,60,2026-01\n",
		"forecast.csv": "project,cost_code,amount,month\nA,1,600,2026-11\n",
		"actuals.csv":  "project,cost_code,date,amount\nA,1,2026-10-05,400\nF,1,2026-02-05,70\n",
		"risks.csv": "project,node,code,title,activity,probability,days_impact,cost_impact,currency,state\nA,,R1,Clay,2,100,2,,,open\n" +
			"A,,R2,Frost,,100,1,100,SEK,open\nA,,R3,Never,1,0,50,50,,open\nA,,R4,Over,1,100,50,50,,closed\nF,,R5,Late,,100,9,9,,open\n" +
			",PG,R6,Dry,,100,4,7,,open\n",
	})
}

const rangeHead = "project,p10_finish,p50_finish,p80_finish,p90_finish,p10_cost,p50_cost,p80_cost,p90_cost,chance_baseline,chance_required\n"

func TestRangeCommand(t *testing.T) {
	db := ahead(t)
	ranges := func(args ...string) string {
		out, errs, code := run(t, append([]string{"range", "--db", db, "--as-of", "2026-10-30", "--runs", "50"}, args...)...)
		require.Zero(t, code, errs)
		return out
	}
	four := func(s string) string { return strings.Repeat(s+",", 4) }
	assert.Equal(t, rangeHead+"A,"+four("2026-11-16")+four("1010.00")+"0.000000,1.000000\n"+
		"B,"+four("2026-11-03")+four("")+",\n"+"F,"+four("2026-03-02")+four("70.00")+"0.000000,\n"+"X,"+four("")+four("")+",\n"+
		"PF,"+four("2026-11-16")+four("1087.00")+"0.000000,1.000000\n"+"PG,"+four("2026-11-16")+four("1087.00")+"0.000000,1.000000\n"+
		"*,"+four("2026-11-16")+four("1087.00")+"0.000000,1.000000\n", ranges())
	assert.Equal(t, rangeHead+"A,"+four("2026-11-16")+four("1010.00")+"0.000000,1.000000\n"+
		"A/M,"+four("2026-11-13")+four("")+"1.000000,\n"+
		"*,"+four("2026-11-16")+four("1010.00")+"0.000000,1.000000\n", ranges("--scope", "A", "--milestones"))
	var rows []map[string]any
	require.NoError(t, json.Unmarshal([]byte(ranges("--format", "json", "--scope", "B")), &rows))
	assert.Equal(t, []any{"B", "2026-11-03", nil, nil}, []any{rows[0]["project"], rows[0]["p80_finish"], rows[0]["p80_cost"],
		rows[0]["chance_baseline"]})
	assert.Equal(t, ranges("--seed", "5"), ranges("--seed", "5"))

	for _, bad := range []string{"0", "-1", "1000001", "many"} {
		_, errs, code := run(t, "range", "--db", db, "--as-of", "2026-10-30", "--runs", bad)
		assert.Equal(t, 2, code, bad)
		assert.Contains(t, errs, bad)
	}
	_, errs, code := run(t, "range", "--db", db, "--as-of", "2026-10-30", "--scope", "nowhere")
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "nowhere")
}

// Low, likely and high are given together and ascend, else the load is refused whole.
func TestThreePointsAreRefused(t *testing.T) {
	for _, c := range []struct{ points, says string }{{"5,4,6", "low"}, {"1,7,6", "high"}, {"1,,6", "likely"}, {",2,3", "low"}, {"1,2,",
		"high"},
		{"-1,2,3", "low"}} {
		db := imported(t, map[string]string{"projects.csv": "code,name\nA,Alder\n"})
		_, errs, code := importFor(t, db, "", "activities.csv", "project,code,name,low,likely,high\nA,1,Dig,"+c.points+"\n")
		assert.Equal(t, 1, code, c.points)
		assert.Contains(t, errs, c.says, c.points)
	}
}

// Without enough finished projects nothing is predicted: the chances are empty, the reason is told, and the exit status is 0.
func TestPredictCommandRefuses(t *testing.T) {
	out, errs, code := run(t, "predict", "--db", ahead(t), "--as-of", "2026-10-30")
	require.Zero(t, code)
	assert.Equal(t, "project,on_track,watch,act,predicted,declared,computed\nA,,,,,,on track\nB,,,,,,\n", out)
	assert.Contains(t, errs, "nothing is predicted: 0 finished projects")
	var told map[string]any
	out, _, _ = run(t, "predict", "--db", ahead(t), "--as-of", "2026-10-30", "--format", "json", "--scope", "A")
	require.NoError(t, json.Unmarshal([]byte(out), &told))
	assert.Equal(t, []any{0.0, nil, "0 finished projects with closed periods to learn from, of at least 20"},
		[]any{told["learned_from"], told["skill"], told["reason"]})
	assert.Len(t, told["rows"], 1)
}

// taught is a file with the history of so many projects: each was budgeted at 1,200 over the twelve months of 2025, half of them spent
// what
// they were given, half half as much again, and two months were closed on the way; then one is open that overspends, one that does not.
func taught(t *testing.T, n int) string {
	t.Helper()
	var projects, closed, activities, budget strings.Builder
	actuals := map[string]*strings.Builder{"03": {}, "06": {}, "12": {}}
	projects.WriteString("code,name,category,lead,status\n")
	closed.WriteString("code,name,category,lead,status\n")
	activities.WriteString("project,code,name,baseline_start,baseline_finish,start,finish,percent_complete\n")
	budget.WriteString("project,cost_code,amount,from,to\n")
	for _, b := range actuals {
		b.WriteString("project,cost_code,date,amount\n")
	}
	var done strings.Builder
	done.WriteString("project,code,name,baseline_start,baseline_finish,actual_start,actual_finish,percent_complete\n")
	for i := range n + 2 {
		code := fmt.Sprintf("P%02d", i)
		fmt.Fprintf(&projects, "%s,%s,c,L%d,open\n", code, code, i%3)
		status := "closed"
		if i >= n {
			status = "open"
		} else {
			fmt.Fprintf(&done, "%s,1,Work,2025-01-01,2025-12-31,2025-01-01,2025-12-31,100\n", code)
		}
		fmt.Fprintf(&closed, "%s,%s,c,L%d,%s\n", code, code, i%3, status)
		fmt.Fprintf(&activities, "%s,1,Work,2025-01-01,2025-12-31,2025-01-01,2025-12-31,50\n", code)
		fmt.Fprintf(&budget, "%s,1,1200,2025-01-01,2025-12-31\n", code)
		spent := 250 + 5*(i%7) // in all 1,000 to 1,120 of 1,200
		if i%2 == 1 {
			spent += 150 // 1,600 to 1,720
		}
		for _, month := range []string{"03", "06"} {
			fmt.Fprintf(actuals[month], "%s,1,2025-%s-20,%d\n", code, month, spent)
		}
		if i < n {
			fmt.Fprintf(actuals["12"], "%s,1,2025-12-20,%d\n", code, 2*spent)
		}
	}
	db := imported(t, map[string]string{"calendars.csv": "calendar,weekday,working\ndefault,sat,no\ndefault,sun,no\n"})
	for name, text := range map[string]string{"cost_codes.csv": "code,name\n1,Works\n", "projects.csv": projects.String()} {
		_, errs, code := importFor(t, db, "2025-01", name, text)
		require.Zero(t, code, errs)
	}
	for name, text := range map[string]string{"activities.csv": activities.String(), "budget.csv": budget.String()} {
		_, errs, code := importFor(t, db, "2025-01", name, text)
		require.Zero(t, code, errs)
	}
	for _, month := range []string{"03", "06"} {
		_, errs, code := importFor(t, db, "2025-"+month, "actuals.csv", actuals[month].String())
		require.Zero(t, code, errs)
	}
	for _, month := range []string{"2025-01", "2025-02", "2025-03", "2025-04", "2025-05", "2025-06"} {
		_, errs, code := run(t, "publish", "--db", db, "--period", month, "--waive", "history")
		require.Zero(t, code, errs)
	}
	for name, text := range map[string]string{"actuals.csv": actuals["12"].String(), "activities.csv": done.String(),
		"projects.csv": closed.String()} {
		_, errs, code := importFor(t, db, "2025-12", name, text)
		require.Zero(t, code, errs)
	}
	return db
}

// importFor loads one file for a period; empty is the one under way.
func importFor(t *testing.T, db, period, name, text string) (out, errs string, code int) {
	t.Helper()
	args := []string{"import", "--db", db}
	if period != "" {
		args = append(args, "--period", period)
	}
	return run(t, append(args, folder(t, map[string]string{name: text}))...)
}

// Forty projects, of which those that spent more by a period ended at act: what is told of the two open ones follows, the figures of
// leaving out add up to the skill that is told, and the same file tells the same bytes.
func TestPredictCommandLearns(t *testing.T) {
	db := taught(t, 40)
	out, errs, code := run(t, "predict", "--db", db, "--as-of", "2026-01-30", "--format", "json")
	require.Zero(t, code, errs)
	var told struct {
		LearnedFrom int `json:"learned_from"`
		Skill       float64
		Reason      *string
		Validated   []struct {
			Project, Period, Outcome string
			OnTrack                  float64 `json:"on_track"`
			Watch, Act               float64
		} `json:"cross_validated"`
		Rows []struct {
			Project, Predicted, Computed string
			OnTrack                      float64 `json:"on_track"`
			Watch, Act                   float64
			Drivers                      []struct {
				Feature, Direction, Words string
				Size                      float64
			}
		}
	}
	require.NoError(t, json.Unmarshal([]byte(out), &told))
	require.Nil(t, told.Reason)
	assert.Equal(t, 40, told.LearnedFrom)
	require.Len(t, told.Validated, 240, "six closed periods of each")
	share, loss, base := map[string]float64{}, 0.0, 0.0
	for _, v := range told.Validated {
		assert.InDelta(t, 1, v.OnTrack+v.Watch+v.Act, 3e-6)
		share[v.Outcome]++
	}
	assert.Equal(t, map[string]float64{"on track": 120, "act": 120}, share)
	for _, v := range told.Validated {
		loss -= math.Log(map[string]float64{"on track": v.OnTrack, "watch": v.Watch, "act": v.Act}[v.Outcome])
		base -= math.Log(share[v.Outcome] / 240)
	}
	assert.InDelta(t, 1-loss/base, told.Skill, 1e-3)
	assert.Greater(t, told.Skill, 0.3)
	require.Len(t, told.Rows, 2)
	assert.Equal(t, []string{"P40", "on track", "P41", "act"}, []string{told.Rows[0].Project, told.Rows[0].Predicted, told.Rows[1].Project,
		told.Rows[1].Predicted})
	assert.Equal(t, "cost index", told.Rows[1].Drivers[0].Feature)
	assert.Greater(t, told.Rows[1].Drivers[0].Size, told.Rows[1].Drivers[1].Size)

	again, _, _ := run(t, "predict", "--db", db, "--as-of", "2026-01-30", "--format", "json")
	assert.Equal(t, out, again)
	one, _, _ := run(t, "predict", "--db", db, "--as-of", "2026-01-30", "--scope", "P41")
	assert.Equal(t, 2, strings.Count(one, "\n"), "the scope narrows what is shown")
	all, _, _ := run(t, "predict", "--db", db, "--as-of", "2026-01-30")
	assert.Contains(t, all, strings.Split(one, "\n")[1], "and not what is learned from")
	early, errs, code := run(t, "predict", "--db", db, "--as-of", "2025-04-15")
	require.Zero(t, code)
	assert.Contains(t, errs, "nothing is predicted")
	assert.NotEmpty(t, early)
}
