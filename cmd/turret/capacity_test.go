package main

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// staffed is a file with two people, a role, and projects in all states. By hand, as of Friday 13 November 2026:
//   - A of 8 h leaves on 20 November, is away whole on the 3rd, 3 h on the 4th and 5th and 6 h more on the 5th: 101 h in November. Open P
//     wants 50 % of her in November (84 h), closed Q 100 % from the 2nd to the 4th (24 h), cancelled R nothing.
//   - B works 7.5 h from Monday to Thursday by a calendar of his own: 127.5 h in November, 142.5 h in December, wanted at 120 % from the
//     30th to the end of December: 9 h and 171 h. Proposal S wants 10 % of him in December: 14.25 h, only where it is asked for.
//   - A diver is wanted at 25 % from the 7th to the 10th: 4 h of nobody.
func staffed(t *testing.T) string {
	t.Helper()
	return imported(t, map[string]string{
		"projects.csv":  "code,name,status\nP,Open,open\nQ,Done,closed\nR,Not,cancelled\nS,Wish,proposed\n",
		"calendars.csv": "calendar,weekday,working\nfour,fri,no\nfour,sat,no\nfour,sun,no\n",
		"people.csv": "code,name,role,team,to,hours_per_day,utilisation_target,calendar\nA,Ann,diver,North,2026-11-20,,80,\n" +
			"B,Bo,diver,South,,7.5,50,four\n",
		"absences.csv": "person,from,to,hours\nA,2026-11-03,2026-11-03,\nA,2026-11-04,2026-11-05,3\nA,2026-11-05,2026-11-05,6\n",
		"assignments.csv": "person,role,project,from,to,percent\nA,,P,2026-11-01,2026-11-30,50\nA,,Q,2026-11-02,2026-11-04,100\n" +
			"A,,R,2026-11-01,2026-11-30,100\nB,,P,2026-11-30,2026-12-31,120\nB,,S,2026-12-01,2026-12-31,10\n" +
			",diver,P,2026-11-07,2026-11-10,25\n",
		"timesheets.csv": "person,project,date,hours,billable\nA,P,2026-11-02,8,yes\nA,P,2026-11-13,4,no\nA,P,2026-11-16,8,no\n" +
			"A,Q,2026-11-12,-1,yes\n",
	})
}

const capacityHead = "by,period,available_hours,demand_hours,unstaffed_hours,load,available_fte,demand_fte,fte_gap,booked_hours,utilisation," +
	"billable_utilisation,planned_utilisation\n"

func TestCapacityCommand(t *testing.T) {
	db := staffed(t)
	capacity := func(args ...string) string {
		out, errs, code := run(t, append([]string{"capacity", "--db", db, "--as-of", "2026-11-13", "--from", "2026-11"}, args...)...)
		require.Zero(t, code, errs)
		return out
	}
	// November has 168 h of one at work, December 184 h. 108 of 101 is 1.069307, 9 of 127.5 is 0.070588, 171 of 142.5 is 1.2. By the 13th
	// there are 61 h of A, 64 wanted, 11 booked, 7 of them billable; 60 of B, and 4 wanted of a diver.
	assert.Equal(t, capacityHead+
		"A,2026-11,101.00,108.00,0.00,1.069307,0.60,0.64,-0.04,11.00,0.180328,0.114754,1.049180\n"+
		"B,2026-11,127.50,9.00,0.00,0.070588,0.76,0.05,0.71,0.00,0.000000,0.000000,0.000000\n"+
		"B,2026-12,142.50,171.00,0.00,1.200000,0.77,0.93,-0.15,0.00,,,\n"+
		",2026-11,0.00,4.00,4.00,,0.00,0.02,-0.02,0.00,,,\n", capacity("--to", "2026-12"))
	assert.Equal(t, capacityHead+
		"diver,2026-11,228.50,121.00,4.00,0.529540,1.36,0.72,0.64,11.00,0.090909,0.057851,0.561983\n"+
		"diver,2026-12,142.50,185.25,0.00,1.300000,0.77,1.01,-0.23,0.00,,,\n", capacity("--to", "2026-12", "--by", "role", "--proposals"))
	// The week from the 30th is cut to one day in November.
	assert.Contains(t, capacity("--to", "2026-11", "--unit", "week"),
		"\nA,2026-W49,0.00,4.00,0.00,,0.00,0.50,-0.50,0.00,,,\nB,2026-W45,30.00,0.00,0.00,0.000000,0.75,0.00,0.75,0.00,0.000000,")
	assert.Contains(t, capacity("--to", "2026-11", "--by", "team", "--format", "json"), `"by": "South",
    "demand_fte": 0.05,`)

	out, _, code := run(t, "measures", "--db", db, "--as-of", "2026-11-13", "--keys", "hours_planned,hours_to_go,hours_actual")
	require.Zero(t, code)
	assert.Equal(t,
		"project,as_of,currency,hours_planned,hours_to_go,hours_actual\nP,2026-11-13,EUR,44,224,12\nQ,2026-11-13,EUR,24,0,-1\n"+
			"R,2026-11-13,EUR,,,\nS,2026-11-13,EUR,0,14.25,\n*,2026-11-13,EUR,68,238.25,11\n", out)
}

// What cannot be is refused with what was expected: files by row and column, the command by its flag.
func TestCapacityBadInput(t *testing.T) {
	for name, x := range map[string][3]string{
		"a calendar nobody has": {"people.csv", "code,name,calendar\nZ,Zoe,nine\n", "calendar"},
		"25 hours":              {"people.csv", "code,name,hours_per_day\nZ,Zoe,25\n", "at most 24 hours"},
		"gone before here":      {"people.csv", "code,name,from,to\nZ,Zoe,2026-02-01,2026-01-01\n", "on or after 2026-02-01"},
		"less than nothing":     {"assignments.csv", "person,project,from,to,percent\nA,P,2026-01-01,2026-01-02,-5\n", "0 or more"},
		"a stranger":            {"assignments.csv", "person,project,from,to,percent\nQQ,P,2026-01-01,2026-01-02,5\n", "QQ"},
	} {
		db := staffed(t)
		_, errs, code := run(t, "import", "--db", db, folder(t, map[string]string{x[0]: x[1]}))
		assert.Equal(t, 1, code, name)
		assert.Contains(t, errs, x[0]+", row 2", name)
		assert.Contains(t, errs, x[2], name)
	}
	db := staffed(t)
	for _, args := range [][]string{{"--to", "2026-10"}, {"--to", "2026-13"}, {"--to", "2026-12", "--by", "dog"}, {"--to", "2026-12",
		"--unit",
		"day"}, {"--to", "2099-01"}} {
		_, errs, code := run(t, append([]string{"capacity", "--db", db, "--as-of", "2026-11-13", "--from", "2026-11"}, args...)...)
		assert.Equal(t, 2, code, "%v", args)
		assert.Contains(t, errs, "expected", "%v", args)
	}
}
