package main

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// folder writes files into a new folder.
func folder(t *testing.T, files map[string]string) string {
	t.Helper()
	dir := t.TempDir()
	for name, text := range files {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(text), 0o600))
	}
	return dir
}

func imported(t *testing.T, files map[string]string) string {
	t.Helper()
	db := filepath.Join(t.TempDir(), "x.db")
	_, errs, code := run(t, "init", "--db", db)
	require.Zero(t, code, errs)
	_, errs, code = run(t, "import", "--db", db, folder(t, files))
	require.Zero(t, code, errs)
	return db
}

// A dock lends its barge to a weir. As of Friday 30 October 2026, by hand: D1 has 4 days left, Monday 2 to Thursday 5 November;
// the barge leaves on its milestone D2 that day. W1 of 3 days follows two working days later: Tuesday 10 to Thursday 12. W2
// finishes with W1 at the earliest. The weir must be ready by Wednesday 11, which is a day too early for all of it.
func TestNetworkCommand(t *testing.T) {
	db := imported(t, map[string]string{
		"projects.csv": "code,name,planned_start,planned_finish,required_finish,schedule_mode\n" +
			"DOCK,Dock,2026-10-01,2026-11-30,,reported\nWEIR,Weir,2026-10-01,2026-11-30,2026-11-11,driven\n",
		"activities.csv": "project,code,name,kind,duration,remaining,actual_start,baseline_finish,finish\n" +
			"DOCK,D1,Refit,activity,9,4,2026-10-26,2026-10-30,2026-11-03\nDOCK,D2,Barge " +
			"free,milestone,,,,2026-10-30,2026-11-03\nDOCK,D3,Tidy,activity,1,,,,\n" +
			"WEIR,W,All,summary,,,,,\nWEIR,W1,Lift,activity,3,,,2026-11-06,2026-11-06\nWEIR,W2,Watch,activity,5,,,,\n",
		"links.csv": "project,from,to,type,lag,from_project,to_project\nDOCK,D1,D2,FS,0,,\nWEIR,D2,W1,FS,2,DOCK,\nWEIR,W1,W2,FF,0,,\nWEIR,W1,W9,FS,0,,\n",
	})
	out, errs, code := run(t, "network", "--db", db, "--as-of", "2026-10-30")
	require.Zero(t, code, errs)
	assert.Equal(t, `project,activity,early_start,early_finish,late_start,late_finish,total_float,free_float,critical
DOCK,D1,2026-10-26,2026-11-05,2026-10-30,2026-11-04,-1,0,yes
DOCK,D2,2026-11-05,2026-11-05,2026-11-04,2026-11-04,-1,0,yes
DOCK,D3,2026-11-02,2026-11-02,2026-11-05,2026-11-05,3,3,no
WEIR,W1,2026-11-10,2026-11-12,2026-11-09,2026-11-11,-1,0,yes
WEIR,W2,2026-11-06,2026-11-12,2026-11-05,2026-11-11,-1,0,yes
`, out)
	assert.Contains(t, errs, "left out: link of WEIR from W1 to W9 (load 3, row 5): W9 is no activity")

	out, _, code = run(t, "measures", "--db", db, "--as-of", "2026-10-30",
		"--keys", "expected_finish,computed_finish,finish_deviation,finish_float,activities_open,critical_share,loose_ends,bei")
	require.Zero(t, code)
	assert.Equal(t,
		"project,as_of,currency,expected_finish,computed_finish,finish_deviation,finish_float,activities_open,critical_share,loose_ends,bei\n"+
			"DOCK,2026-10-30,EUR,2026-11-03,2026-11-05,2,-1,3,0.666667,1,0.000000\n"+
			"WEIR,2026-10-30,EUR,2026-11-12,2026-11-12,4,-1,2,1.000000,0,\n"+
			"*,2026-10-30,EUR,2026-11-12,2026-11-12,4,-1,5,0.800000,1,0.000000\n", out,
		"the dock stands by what it sent, the weir by the network")

	out, _, code = run(t, "trace", "--db", db, "--as-of", "2026-10-30", "--project", "WEIR", "--measure", "computed_finish")
	require.Zero(t, code)
	assert.Regexp(t, `(?s)W1 Lift.*DOCK D2 Barge free.*FS \+2.*links.csv, row 3.*DOCK D1 Refit.*activities.csv, row 2`, out)
}

// The last of three files closes a circle of three projects: it is refused by name, and nothing of it stays.
func TestLinksThatGoRoundAreRefused(t *testing.T) {
	db := imported(t, map[string]string{
		"projects.csv":   "code,name\nA,A\nB,B\nC,C\n",
		"activities.csv": "project,code,name,duration\nA,1,a,2\nB,1,b,2\nC,1,c,2\n",
		"links.csv":      "project,from,to,to_project\nA,1,1,B\nB,1,1,C\n",
	})
	_, errs, code := run(t, "import", "--db", db, folder(t, map[string]string{"links.csv": "project,from,to,to_project\nC,1,1,A\n"}))
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "links.csv, row 2, column to")
	assert.Contains(t, errs, "links go round: C 1")
	out, errs, code := run(t, "network", "--db", db, "--as-of", "2026-10-30", "--scope", "C", "--format", "json")
	require.Zero(t, code, errs)
	assert.JSONEq(t, `[{"project":"C","activity":"1","early_start":"2026-11-06","early_finish":"2026-11-09","late_start":"2026-11-06",
		"late_finish":"2026-11-09","total_float":0,"free_float":0,"critical":true}]`, out, "two days each for A and B from Monday, so Friday and Monday")
}
