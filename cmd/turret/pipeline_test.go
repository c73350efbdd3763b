package main

import (
	"maps"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// proposed are four proposals with a budget and one without, an open project and a declined one. In 2027 P1 has 600,000, P2 300,000, P3
// 1,000,000 kronor at 0.1, on a code of operating expenditure, and P4 150,000 after 50,000 in 2026. In its first quarter P1 wants half a
// diver
// by name, P4 one whom nobody named.
func proposed(t *testing.T, more map[string]string) string {
	t.Helper()
	files := map[string]string{
		"structure.csv": "code,name,level\nN,North,programme\nM,South,programme\n",
		"projects.csv": "code,name,parent,status,currency\nP1,One,N,proposed,\nP2,Two,N,proposed,\nP3,Three,N,proposed,SEK\nP4,Four,N,proposed,\n" +
			"P5,Five,M,proposed,\nO,Open,N,open,\nQ,Out,N,proposed,\n",
		"cost_codes.csv": "code,name,type\nC,Works,capital\nW,Running,operating\n",
		"rates.csv":      "currency,month,rate,kind\nSEK,2026-01,0.1,plan\n",
		"budget.csv": "project,cost_code,amount,month,from,to\nP1,C,600000,2027-03,,\nP1,C,100000,2028-01,,\nP2,C,300000,,2027-01-01,2027-12-31\n" +
			"P3,W,1000000,2027-05,,\nP4,C,50000,2026-12,,\nP4,C,150000,2027-02,,\nQ,C,1,2027-02,,\n",
		"people.csv":      "code,name,role\nK,Kim,diver\n",
		"assignments.csv": "person,role,project,from,to,percent\nK,,P1,2027-01-01,2027-03-31,50\n,diver,P4,2027-01-01,2027-03-31,100\n",
		"criteria.csv":    "model,code,name,weight,direction,lowest,highest,measure\nM,use,Use,2,value,,,\nM,cost,Cost,1,effort,0,1000000,bac\n",
		"ratings.csv":     "project,model,criterion,rating\nP1,M,use,5\nP2,M,use,3\nP3,M,use,4\nO,M,use,1\nQ,M,use,5\n",
		"proposals.csv":   "project,decision\nQ,declined\nP1,put off\n",
	}
	maps.Copy(files, more)
	return imported(t, files)
}

// By hand: P1 has 100 (2 x 5/5 + 1 - 700,000 / 1,000,000) / 3 = 76.666667, P2 100 (1.2 + 0.7) / 3, P3 100 (1.6 + 0.9) / 3, P4 by its cost
// alone 80, O by its use alone 20, Q 100 (2 + 0.999999) / 3 = 99.999967. Where use weighs three times as much as cost P1 has 82.5 as P3
// has,
// and shares the second rank with it; where it weighs 4/3 of it 70.
func TestRankCommand(t *testing.T) {
	db := proposed(t, nil)
	out, errs, code := run(t, "rank", "--db", db, "--as-of", "2026-10-31", "--model", "M")
	require.Zero(t, code, errs)
	assert.Equal(t,
		"project,score,rank,rank_low,rank_high\nQ,99.999967,1,1,1\nP3,83.333333,2,2,2\nP4,80.000000,3,3,3\nP1,76.666667,4,2,4\n"+
			"P2,63.333333,5,4,5\nO,20.000000,6,5,6\nP5,,,,\n", out)
	out, _, code = run(t, "rank", "--db", db, "--as-of", "2026-10-31", "--model", "M", "--scope", "M", "--format", "json")
	require.Zero(t, code)
	assert.JSONEq(t, `[{"project": "P5", "score": null, "rank": null, "rank_low": null, "rank_high": null}]`, out)
	_, errs, code = run(t, "rank", "--db", db, "--as-of", "2026-10-31", "--model", "X")
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "known: M")
}

// By hand: P1, P3 and P4 use 850,000 of 2027 and have 240. Without P1, or with P2, the best are P2, P3 and P4, 226.666666; without P3 P1
// and
// P4, 156.666667; without P4 P1 and P3, 160. Without the limit all four have 303.333333.
func TestSelectCommand(t *testing.T) {
	db := proposed(t, nil)
	choose := func(args ...string) string {
		out, errs, code := run(t, append([]string{"select", "--db", db, "--as-of", "2026-10-31"}, args...)...)
		require.Zero(t, code, errs)
		return out
	}
	assert.Equal(t, "project,value,chosen,price\nP1,76.666667,yes,13.333334\nP2,63.333333,no,13.333334\nP3,83.333333,yes,83.333333\n"+
		"P4,80.000000,yes,80.000000\nP5,,no,\n*,240.000000,,\n", choose("--value", "score:M", "--limit", "2027=850000"))
	assert.JSONEq(t, `{"value": 240.000000, "bound": 240.000000, "proven": true, "rows": [
		{"project": "P1", "value": 76.666667, "chosen": "yes", "price": 13.333334},
		{"project": "P2", "value": 63.333333, "chosen": "no", "price": 13.333334},
		{"project": "P3", "value": 83.333333, "chosen": "yes", "price": 83.333333},
		{"project": "P4", "value": 80.000000, "chosen": "yes", "price": 80.000000},
		{"project": "P5", "value": null, "chosen": "no", "price": null}],
		"limits": [{"limit": "2027", "allowed": 850000.00, "used": 850000.00, "gives_up": 63.333333},
		{"limit": "2028", "allowed": 100000.00, "used": 100000.00, "gives_up": 0.000000}]}`,
		choose("--value", "score:M", "--limit", "2027=850000", "--limit", "2028=100000", "--format", "json"))
	assert.Contains(t, choose("--value", "score:M", "--limit", "2027=849999.99"), "*,226.666666,,\n", "a cent less lets P1 no longer in")
	assert.Contains(t, choose("--value", "score:M", "--limit", "capital:2027=750000"), "*,240.000000,,\n",
		"what P3 runs at is not capital")
	assert.Contains(t, choose("--value", "score:M", "--limit", "operating:2027=99999.99"), "P3,83.333333,no,")
	assert.Contains(t, choose("--value", "score:M", "--limit", "fte:diver:2027Q1=1"), "P1,76.666667,no,3.333333\n",
		"P4 takes the one diver")
	assert.Contains(t, choose("--value", "score:M", "--limit", "fte:diver:2027Q1=1.5"), "*,303.333333,,\n")
	assert.Equal(t, "project,value,chosen,price\nP1,700000.00,yes,100000.00\nP2,300000.00,no,100000.00\nP3,100000.00,no,100000.00\n"+
		"P4,200000.00,no,100000.00\n*,700000.00,,\n", choose("--value", "bac", "--scope", "N", "--limit", "2027=600000"),
		"money in major units; the other three have 600,000 of bac")
}

func TestWhatSelectCannotMeet(t *testing.T) {
	refused := func(requirements string, limits ...string) string {
		db := proposed(t, map[string]string{"requirements.csv": "project,kind,other\n" + requirements})
		args := []string{"select", "--db", db, "--as-of", "2026-10-31", "--value", "score:M"}
		for _, l := range limits {
			args = append(args, "--limit", l)
		}
		out, errs, code := run(t, args...)
		assert.Equal(t, 1, code)
		assert.Empty(t, out)
		return errs
	}
	assert.Contains(t, refused("P1,must,\n", "2027=500000"),
		"uses 600000.00 of 2027, which allows 500000.00; it would have to be 600000.00 at least")
	assert.Contains(t, refused("P4,must,\nP1,must,\n", "fte:diver:2027Q1=1.4"),
		"uses 1.50 of fte:diver:2027Q1, which allows 1.4; it would "+
			"have to be 1.5 at least")
	assert.Contains(t, refused("P2,must,\nP2,needs,P5\n"), "P2 must be chosen, P2 needs P5, and P5 has no value.")
	assert.Contains(t, refused("P2,must,\nP2,needs,Q\n"), "P2 must be chosen, and P2 may not be chosen", "what is declined cannot be had")
	assert.Contains(t, refused("P2,must,\nO,not with,P2\n"), "P2 must be chosen, and P2 may not be chosen", "what runs already forbids it")
	db := proposed(t, map[string]string{"requirements.csv": "project,kind,other\nP2,needs,O\nP2,must,\nP1,not with,P3\nP5,must,\n"})
	out, errs, code := run(t, "select", "--db", db, "--as-of", "2026-10-31", "--value", "score:M", "--scope", "N")
	require.Zero(t, code, errs)
	assert.Equal(t,
		"project,value,chosen,price\nP1,76.666667,no,6.666666\nP2,63.333333,yes,\nP3,83.333333,yes,6.666666\nP4,80.000000,yes,80.000000\n"+
			"*,226.666666,,\n", out, "an open one meets a need; a must outside the scope is none of it")
	for _, limit := range []string{"2027", "27=5", "2027=x", "fte:2027Q1=3", "fte:diver:2027Q5=1", "other:2027=1", "=1", "2027=",
		"1950=1"} {
		_, errs, code := run(t, "select", "--db", db, "--as-of", "2026-10-31", "--value", "score:M", "--limit", limit)
		assert.Equal(t, 2, code, limit)
		assert.Contains(t, errs, "2027=5000000", limit)
	}
	for _, value := range []string{"bax", "expected_finish", "health", "score:Z"} {
		_, _, code := run(t, "select", "--db", db, "--as-of", "2026-10-31", "--value", value)
		assert.Equal(t, 1, code, value)
	}
	_, errs, code = run(t, "select", "--db", db, "--as-of", "2026-10-31", "--value", "bac", "--limit", "fte:driver:2027Q1=1")
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "a role that somebody has")
}
