package main

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// labour are three projects with the same rows, whose cost of labour is known in three ways, and a fourth whose hours have no rate.
// By hand, as of 30 October 2026, of each:
//   - postings of 500 on stone and of 300 on masons, which are labour since the code above them is;
//   - hours of ann: 8 h at 40 and 2 h taken back: 6 x 40 = 240, of which 8 h on stone by name; 10 h after the day;
//   - forecast of labour of 100 in September, 70 in October and 60 in November.
//
// From the ledger 800; from timesheets 500 + 240 = 740; as planned 500 + 100 = 600, since October has a day left.
// To go: of October nothing, since all of its working days have passed, and 60.
func labour(t *testing.T) string {
	t.Helper()
	files := map[string]string{
		"projects.csv":   "code,name,labour\nL,Ledger,ledger\nT,Times,timesheets\nP,Plan,planned\nN,None,timesheets\n",
		"cost_codes.csv": "code,name,parent,labour\nS,Stone,,\nW,Work,,yes\nW1,Masons,W,no\n",
		"people.csv":     "code,name,cost_rate,currency\nann,Ann,40,EUR\nbob,Bob,,\n",
	}
	files["actuals.csv"] = "project,cost_code,date,amount,document\n"
	files["timesheets.csv"] = "project,person,date,hours,cost_code\nN,bob,2026-10-02,1,\n"
	files["forecast.csv"] = "project,cost_code,month,amount\n"
	for _, p := range []string{"L", "T", "P"} {
		files["actuals.csv"] += p + ",S,2026-10-05,500," + p + "1\n" + p + ",W1,2026-10-06,300," + p + "2\n"
		files["timesheets.csv"] += p + ",ann,2026-10-07,8,S\n" + p + ",ann,2026-10-08,-2,\n" + p + ",ann,2026-11-02,10,\n"
		files["forecast.csv"] += p + ",W,2026-09,100\n" + p + ",W,2026-10,70\n" + p + ",W,2026-11,60\n"
	}
	return imported(t, files)
}

func TestCostOfLabourByThreeWays(t *testing.T) {
	db := labour(t)
	measures := func(args ...string) string {
		out, errs, code := run(t, append([]string{"measures", "--db", db}, args...)...)
		require.Zero(t, code, errs)
		return out
	}
	assert.Equal(t, "project,as_of,currency,ac,eac,labour_cost\n"+
		"L,2026-10-30,EUR,800.00,860.00,240.00\nN,2026-10-30,EUR,,,\nP,2026-10-30,EUR,600.00,660.00,240.00\n"+
		"T,2026-10-30,EUR,740.00,800.00,240.00\n*,2026-10-30,EUR,2140.00,2320.00,720.00\n",
		measures("--as-of", "2026-10-30", "--keys", "ac,eac,labour_cost"))
	assert.Contains(t, measures("--as-of", "2026-10-31", "--keys", "ac"), "P,2026-10-31,EUR,670.00\n", "October has passed")

	trace := func(project string) string {
		out, errs, code := run(t, "trace", "--db", db, "--as-of", "2026-10-30", "--project", project, "--measure", "ac")
		require.Zero(t, code, errs)
		return out
	}
	hours := trace("T")
	for _, want := range []string{"Labour from timesheets", "1 row of the ledger on codes of labour not counted", "S Stone", "W Work",
		"8 h at €40.00", "-2 h at €40.00", "timesheets.csv", "people.csv"} {
		assert.Contains(t, hours, want)
	}
	plan := trace("P")
	assert.Contains(t, plan, "Labour as planned")
	assert.Contains(t, plan, "Forecast of September 2026")
	assert.NotContains(t, plan, "October 2026")
	assert.Contains(t, trace("N"), "no cost rate for bob on 2026-10-02")
	assert.NotContains(t, trace("L"), "Labour")
}

// A way that is none is refused by its row.
func TestWayOfLabourIsChecked(t *testing.T) {
	db := labour(t)
	_, errs, code := run(t, "import", "--db", db, folder(t, map[string]string{"projects.csv": "code,name,labour\nL,Ledger,guess\n"}))
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, `projects.csv, row 2`)
	assert.Contains(t, errs, "ledger, timesheets, planned")
}
