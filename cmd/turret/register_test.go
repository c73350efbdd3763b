package main

import (
	"encoding/csv"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The figures of examples/registers/calculation.md: open, exposure, exposure after; expected cost and after; expected days and after;
// issues open, past due, of those of high priority; actions open and past due; decisions asked for. Of scopes it is the total.
var registers = map[string]string{
	"X":   "2 12 8 250.00 200.00 6 5.2 3 2 2 1 1 1",
	"Y":   "1 - - 45.00 9.00 - - - - - 1 0 0",
	"Z":   "- - - - - - - - - - - - -",
	"PG1": "2 12 8 250.00 200.00 6 5.2 3 2 2 1 1 1",
	"PG2": "2 6 6 56.11 20.11 - - 1 1 0 1 0 0",
	"PF":  "5 20 20 366.14 225.11 7.8 5.3 4 3 2 4 3 2",
	"":    "5 20 20 366.14 225.11 7.8 5.3 4 3 2 4 3 2",
}

const registerKeys = "risks_open,risk_exposure,risk_exposure_after,risk_expected,risk_expected_after,risk_days,risk_days_after," +
	"issues_open,issues_overdue,issues_late,actions_open,actions_overdue,decisions_open"

func TestRegistersAgreeWithTheCalculationByHand(t *testing.T) {
	db := filepath.Join(t.TempDir(), "registers.db")
	_, errs, code := run(t, "init", "--db", db)
	require.Zero(t, code, errs)
	_, errs, code = run(t, "import", "--db", db, "../../examples/registers")
	require.Zero(t, code, errs)
	for scope, want := range registers {
		args := []string{"measures", "--db", db, "--as-of", "2026-10-31", "--keys", registerKeys}
		if scope != "" {
			args = append(args, "--scope", scope)
		}
		out, errs, code := run(t, args...)
		require.Zero(t, code, errs)
		rows, err := csv.NewReader(strings.NewReader(out)).ReadAll()
		require.NoError(t, err)
		last := rows[len(rows)-1]
		assert.Equal(t, "*", last[0])
		for i, cell := range strings.Fields(strings.ReplaceAll(want, "-", "_")) {
			assert.Equal(t, strings.Trim(cell, "_"), last[i+3], "%s of %q", rows[0][i+3], scope)
		}
	}
	out, _, code := run(t, "export", "--db", db, "--kind", "risks")
	assert.Zero(t, code)
	assert.Contains(t, out, "\n,PF,R1,A dry summer,", "a record of a node goes out as it came in")
	assert.Contains(t, out, "\nX,,R1,Ground softer than bored,")
}
