package money_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/record"
	"turret/internal/web/webtest"
)

// A project whose labour is known from timesheets says so where its money stands, and in the trace of its actual cost. By hand: 3 h at 40
// are
// 120; a posting of 500 on labour is not counted.
func TestTheMoneyTellsWhatLabourIsKnownFrom(t *testing.T) {
	h := webtest.New(t)
	h.Take(record.CostCodes, "code,name,labour\nW,Work,yes\n")
	h.Take(record.Projects, "code,name,labour\nA1,Alpha,timesheets\n")
	h.Take(record.People, "code,name,cost_rate,currency\nK,Kim,40,EUR\n")
	h.Take(record.Timesheets,
		"person,project,date,hours\nK,A1,2026-10-06,3\n")
	h.Take(record.Actuals, "project,cost_code,date,amount\nA1,W,2026-10-06,500\n")
	page := h.Page("ana", "/projects/A1/money?rows=all")
	assert.Contains(t, page, "Its cost of labour is hours at hourly rates; 1 posting on codes of labour is not counted.")
	page = h.Page("ana", "/projects/A1?trace=ac")
	assert.Contains(t, page, "Labour from timesheets")
	assert.Contains(t, page, "1 row of the ledger on codes of labour not counted")
}
