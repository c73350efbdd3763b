package main

import (
	"encoding/csv"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// valued writes files into a new file of Turret.
func valued(t *testing.T, files map[string]string) string {
	t.Helper()
	dir := t.TempDir()
	db := filepath.Join(dir, "v.db")
	for name, text := range files {
		require.NoError(t, os.MkdirAll(filepath.Join(dir, "in"), 0o750))
		require.NoError(t, os.WriteFile(filepath.Join(dir, "in", name+".csv"), []byte(text), 0o600))
	}
	_, errs, code := run(t, "init", "--db", db)
	require.Zero(t, code, errs)
	_, errs, code = run(t, "import", "--db", db, filepath.Join(dir, "in"))
	require.Zero(t, code, errs)
	return db
}

// figuresOf are the cells of measures by project, empty ones as a dash.
func figuresOf(t *testing.T, db, day, keys string) map[string]string {
	t.Helper()
	out, errs, code := run(t, "measures", "--db", db, "--as-of", day, "--keys", keys)
	require.Zero(t, code, errs)
	rows, err := csv.NewReader(strings.NewReader(out)).ReadAll()
	require.NoError(t, err)
	by := map[string]string{}
	for _, row := range rows[1:] {
		for i := range row {
			if row[i] == "" {
				row[i] = "-"
			}
		}
		by[row[0]] = strings.Join(row[3:], " ")
	}
	return by
}

// By hand. P has accepted 8, 5 and 2 in three iterations of two weeks and 3 in the fourth, which ends on 1 November; 15 remain in the
// order x 4,
// b 6, y 3, w 0, z 2. At 5 an iteration it takes 2 more in the fourth, then 13 in three: to 13 December; at 2 eight, to 21 February; at 8
// two,
// to 29 November. By its required finish on that day 12 are possible: y, w and z are late. It is done by 18 of 33, which earns 545.45 of
// 1,000. Q is done since 5 October and has no iterations; R has none of it.
func TestBacklogsAgreeWithTheCalculationByHand(t *testing.T) {
	db := valued(t, map[string]string{
		"projects": "code,name,planned_start,planned_finish,required_finish\nP,Pond,2026-09-01,2026-12-24,2026-11-29\n" +
			"Q,Quay,2026-09-01,2026-12-31,\nR,Reed,2026-09-01,2026-12-31,\n",
		"cost_codes": "code,name\nC,Cost\n", "budget": "project,cost_code,amount,month\nP,C,1000,2026-09\n",
		"status": "project,percent_complete\nP,90\n",
		"iterations": "project,code,from,to\nP,S2,2026-09-21,2026-10-04\nP,S1,2026-09-07,2026-09-20\nP,S3,2026-10-05,2026-10-18\n" +
			"P,S4,2026-10-19,2026-11-01\nP,S5,2026-11-02,2026-11-15\n",
		"backlog": "project,code,title,points,state,iteration,added,accepted,removed,rank\n" +
			"P,d1,D,8,accepted,S1,,2026-09-18,,\nP,d2,D,5,accepted,S2,,2026-10-02,,\nP,d3,D,2,accepted,S3,,,,\nP,d4,D,3,accepted,S4,,,,\n" +
			"P,z,Z,2,todo,,,,,\nP,y,Y,3,todo,,,,,2\nP,b,B,6,doing,S4,2026-10-20,,,2\nP,x,X,4,done,S4,2026-10-19,,,1\nP,w,W,,todo,,,,,9\n" +
			"P,g,Gone,7,accepted,S1,2026-09-02,2026-09-10,2026-10-31,\nP,l,Later,50,todo,,2026-11-01,,,\n" +
			"P,n,Early,1,todo,,2026-11-05,,,\nQ,q,Q,10,accepted,,,2026-10-05,,\n",
	})
	keys := "backlog_total,backlog_accepted,backlog_remaining,backlog_added,backlog_removed,backlog_unplanned,velocity_low,velocity_mean," +
		"velocity_high,backlog_finish_low,backlog_finish_mean,backlog_finish_high,late_share,late_items,ev"
	assert.Equal(t, map[string]string{
		"P": "33 18 15 10 7 6 2 5 8 2027-02-21 2026-12-13 2026-11-29 0.333333 3 545.45",
		"Q": "10 10 0 0 0 0 - - - 2026-10-05 2026-10-05 2026-10-05 0.000000 0 -",
		"R": "- - - - - - - - - - - - - - -",
		"*": "43 28 15 10 7 6 2 5 8 2027-02-21 2026-12-13 2026-11-29 0.333333 3 545.45",
	}, figuresOf(t, db, "2026-10-31", keys))
	// On 18 October b and x have not come and g is there: 30, of which 8 + 7, 5, 2 and 3 are accepted. No iteration is under way; 5
	// remain: one
	// iteration at 22/3 and at 15, three at 2, the last of which ends on the required day.
	assert.Equal(t, "30 25 2 7.3333 15 2026-11-29 2026-11-01 2026-11-01 0.000000 0", figuresOf(t, db, "2026-10-18", "backlog_total,"+
		"backlog_accepted,velocity_low,velocity_mean,velocity_high,backlog_finish_low,backlog_finish_mean,backlog_finish_high,late_share,"+
		"late_items")["P"])
}

// By hand: discounted by 1.04^(1/12) = 1.003273740 a month from September on, P costs 400 + 300/d + 500/d2 = 1,195.76 and brings 100/d +
// 300/d2 + 1,000/d3 = 1,387.96. S has no forecast, so its budget of December counts, not that of September: 124.80 a year later is as
// much. Boats are no money; R costs nothing and Q brings nothing.
func TestBenefitsAgreeWithTheCalculationByHand(t *testing.T) {
	db := valued(t, map[string]string{
		"projects":   "code,name\nP,Pond\nQ,Quay\nR,Reed\nS,Sluice\n",
		"cost_codes": "code,name\nC,Cost\n",
		"budget":     "project,cost_code,amount,month\nP,C,1000,2026-09\nQ,C,5,2026-09\nS,C,60,2026-09\nS,C,120,2026-12\n",
		"actuals":    "project,cost_code,date,amount\nP,C,2026-09-10,400\nP,C,2026-10-15,300\nP,C,2026-11-02,77\n",
		"forecast":   "project,cost_code,amount,month\nP,C,900,2026-10\nP,C,500,2026-11\n",
		"benefits": "project,code,name,month,planned,forecast,achieved,unit,owner\nP,V,Fish,2026-10,220,230,100,,Ann\n" +
			"P,V,Fish,2026-11,220,300,999,,Ann\nP,V,Fish,2026-12,1000,,,,Ann\nP,W,Boats,2026-10,5,6,7,boats,\n" +
			"R,V,Reeds,2026-10,10,,,,\nS,V,Swans,2027-12,124.80,,,,\n",
	})
	keys := "benefit_planned,benefit_achieved,benefit_forecast,realised_share,npv,benefit_cost_ratio,payback"
	assert.Equal(t, map[string]string{
		"P": "1440.00 100.00 1400.00 0.454545 192.20 1.160733 2026-12",
		"Q": "- - - - - - -",
		"R": "10.00 0.00 10.00 0.000000 - - -",
		"S": "124.80 0.00 124.80 - 0.00 1.000000 2027-12",
		"*": "1574.80 100.00 1534.80 0.434783 192.20 1.146074 2026-12",
	}, figuresOf(t, db, "2026-10-31", keys))
	// On 15 October 11 of 22 working days have passed.
	assert.Equal(t, "110.00 100.00", figuresOf(t, db, "2026-10-15", "benefit_due,benefit_achieved")["P"])
}

// Bad input is refused whole, each with its row and what was expected.
func TestBacklogsAndBenefitsThatAreRefused(t *testing.T) {
	db := valued(t, map[string]string{"projects": "code,name\nP,Pond\n"})
	for name, x := range map[string]struct{ text, want string }{
		"backlog":   {"project,code,title,points\nP,a,A,-1\n", "0 or more"},
		"backlog.2": {"project,code,title,added,accepted,state\nP,a,A,2026-10-05,2026-10-04,accepted\n", "a day on or after 2026-10-05"},
		"iterations": {"project,code,from,to\nP,a,2026-10-05,2026-10-18\nP,b,2026-10-18,2026-10-31\n",
			"a day after 2026-10-18, the last of a"},
		"iterat.2": {"project,code,from,to\nP,a,2026-10-05,2026-10-04\n", "a day on or after 2026-10-05"},
	} {
		kind, _, _ := strings.Cut(name, ".")
		if kind == "iterat" {
			kind = "iterations"
		}
		path := filepath.Join(t.TempDir(), kind+".csv")
		require.NoError(t, os.WriteFile(path, []byte(x.text), 0o600))
		_, errs, code := run(t, "import", "--db", db, path)
		assert.Equal(t, 1, code, name)
		assert.Contains(t, errs, x.want, name)
	}
}
