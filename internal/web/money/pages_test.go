package money_test

import (
	"strings"
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

// By hand: Town pays 60 % of 500.00 and has sent 400.00, ahead of its 300.00; the fund pays 200.00 and has sent nothing. Where nobody pays
// the page says so, and counts no shares.
func TestWhoPaysAndWhoIsBehind(t *testing.T) {
	h := webtest.New(t)
	page := webtest.Text(h.Page("ana", "/money/funding"))
	assert.Contains(t, page, "No funding here.")
	assert.NotContains(t, page, "0 shares")
	h.Take(record.Actuals, "project,cost_code,date,amount\nA1,C,2026-10-06,500\n")
	h.Take(record.Funding, "project,funder,percent,received\nA1,Town <b>,60,400\nA1,Fund,40,\n")
	page = webtest.Text(h.Page("ana", "/money/funding"))
	assert.Contains(t, page, "2 funders; 1 share drawn ahead of cost, 1 share behind.")
	assert.Contains(t, page, "Town &lt;b&gt;")
	borne := map[string]string{}
	for _, row := range webtest.Rows(h.Page("ana", "/money/funding"), "A1") {
		for _, name := range []string{"Town", "Fund"} {
			if text := webtest.Text(row); strings.Contains(text, name) {
				borne[name] = text
			}
		}
	}
	assert.Contains(t, borne["Town"], "€300", "60 % of what was spent")
	assert.Contains(t, borne["Fund"], "€200")
	h.Shut("exe", "/money/funding", 403)
}
