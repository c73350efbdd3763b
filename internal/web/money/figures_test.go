package money_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/apptest"
	"turret/internal/app/intake"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// budgeted is a house of two projects with money: of A1's million 500,000 are spent and 700,000 still to come; B1 keeps its 100,000.
func budgeted(t *testing.T) *webtest.House {
	t.Helper()
	return webtest.Holding(t, map[record.Kind]string{
		record.Structure: "code,name,level,parent\nPF,Portfolio,portfolio,\nA,Programme A,programme,PF\nB,Programme B,programme,PF\n",
		record.CostCodes: "code,name\nC,Works\n",
		record.Projects:  "code,name,parent,lead,status\nA1,Alpha,A,Lea,open\nA2,Amber,A,Other,open\nB1,Beta,B,Other,open\n",
		record.Budget: "project,cost_code,amount,month\nA1,C,400000,2026-09\nA1,C,400000,2026-10\nA1,C,200000,2026-11\n" +
			"B1,C,80000,2026-10\nB1,C,20000,2026-11\n",
		record.Forecast: "project,cost_code,amount,month\nA1,C,700000,2026-11\nB1,C,20000,2026-11\n",
		record.Actuals:  "project,cost_code,date,amount\nA1,C,2026-10-05,500000\nB1,C,2026-10-05,80000\n",
	}, intake.Origin{Period: apptest.October, Source: "the house"})
}

// By hand: 1,000 and 100 are budgeted, 1,200 and 100 estimated, so that one project is 200 over and both are.
func TestMoneyOfProjectsByHand(t *testing.T) {
	h := budgeted(t)
	table := h.Page("ana", "/money/projects")
	for name, want := range map[string][]string{"Alpha": {"€1.00 M", "€1.20 M", "€500 k"}, "Beta": {"€100 k", "€80"},
		"Total": {"€1.10 M", "€1.30 M", "€580 k"}} {
		row := webtest.RowOf(t, table, name)
		for _, text := range want {
			assert.Contains(t, row, text, name)
		}
	}
	body := h.Page("ana", "/money")
	assert.Contains(t, webtest.RowOf(t, body, "Alpha"), "20.0 %")
	assert.Contains(t, h.Page("ana", "/money?scope=A2"), "No project here has a budget, a forecast or a posting.")
	assert.NotContains(t, h.Page("nar", "/money/projects"), "Alpha", "of another programme")
	for _, path := range []string{"/money", "/money/projects", "/money/burn", "/money/year", "/money/funding", "/money/changes",
		"/money/revenue", "/projects/A1/money", "/projects/A1/money/data.json", "/projects/A1/money/versions"} {
		h.Shut("exe", path, 403)
	}
}

const save = "/projects/A1/money"

// cell is a change of the forecast of November.
func cell(old, now string) string {
	return `{"kind":"forecast","reason":"piles","cells":[{"code":"C","currency":"EUR","month":"2026-11","old":"` + old + `","new":"` + now +
		`"}]}`
}

// What is saved counts at once and stands beside what stood before; whoever saw the older amount is told what it is now, and changes
// nothing.
func TestSavingAForecast(t *testing.T) {
	h := budgeted(t)
	status, answer := h.SendJSON("ana", save, cell("700000", "650000"))
	assert.Equal(t, []any{http.StatusOK, true}, []any{status, answer["saved"]})
	assert.Contains(t, webtest.RowOf(t, h.Page("ana", "/money/projects"), "Alpha"), "€1.15 M")

	status, answer = h.SendJSON("lea", save, cell("700000", "1"))
	assert.Equal(t, http.StatusConflict, status)
	if list, _ := answer["cells"].([]any); assert.Len(t, list, 1) {
		assert.Equal(t, "650000.00", list[0].(map[string]any)["theirs"])
	}
	for body, want := range map[string]int{cell("650000", "soon"): 422, cell("650000", "1e9999"): 422, "{": 400,
		`{"kind":"actuals","reason":"x","cells":[]}`: 404, `{"kind":"forecast","reason":"","cells":[]}`: 422} {
		status, _ = h.SendJSON("ana", save, body)
		assert.Equal(t, want, status, body)
	}
	status, _ = h.SendJSON("nar", save, cell("650000", "1"))
	assert.Equal(t, http.StatusNotFound, status)
	status, _ = h.SendJSON("exe", save, cell("650000", "1"))
	assert.Equal(t, http.StatusForbidden, status)
	assert.Contains(t, webtest.RowOf(t, h.Page("ana", "/money/projects"), "Alpha"), "€1.15 M", "as it was saved")
	versions := h.Page("ana", save+"/versions")
	assert.Contains(t, webtest.RowOf(t, versions, "Amounts"), "−€50,000")
	line := webtest.RowOf(t, versions, "700,000.00")
	assert.Contains(t, line, "650,000.00")
	assert.Contains(t, line, "Works")
}

// By hand: from 16 November to 11 December there are 11 and 9 working days, so that of 1,000 come 550 and 450.
func TestAnAmountIsSpread(t *testing.T) {
	h := budgeted(t)
	const at = "/projects/A1/money/spread.json?of=EUR&profile=even"
	assert.JSONEq(t, `{"first":"2026-11","parts":[55000,45000]}`, h.Page("ana", at+"&amount=1000&from=2026-11-16&to=2026-12-11"))
	for _, x := range []string{"&amount=much&from=2026-11-16&to=2026-12-11", "&amount=1&from=soon&to=2026-12-11",
		"&amount=1&from=2026-11-16&to=", "&amount=1&from=2026-12-11&to=2026-11-16"} {
		h.Shut("ana", at+x, 422)
	}
}

// A change that is asked for counts when it is approved, and is decided once, by whoever may.
func TestAChangeIsAskedForAndDecided(t *testing.T) {
	h := budgeted(t)
	ask := []string{"project", "A1", "reference", "CR-1", "title", "More <piles>", "amount", "30000", "in", "EUR", "cost_code", "C", "from",
		"2026-11-02", "to", "2026-11-30", "profile", "even", "reason", "soft ground"}
	h.Do("ana", "/money/changes", 303, ask...)
	row := webtest.RowOf(t, h.Page("ana", "/money/changes"), "CR-1")
	assert.Contains(t, row, "+€30")
	assert.Contains(t, row, "requested")
	assert.Contains(t, webtest.RowOf(t, h.Page("ana", "/money/projects"), "Alpha"), "€1.00 M", "not before it is approved")
	assert.Equal(t, 422, h.Post("ana", "/money/changes", append([]string{"x", "y"}, ask...)...), "the reference is taken")
	assert.Equal(t, 422, h.Post("ana", "/money/changes/decide", "project", "A1", "change", "CR-1", "state", "perhaps", "answer", "x"))
	assert.Equal(t, 403, h.Post("lea", "/money/changes/decide", "project", "A1", "change", "CR-1", "state", "approved", "answer", "x"))
	h.Do("ana", "/money/changes/decide", 303, "project", "A1", "change", "CR-1", "state", "approved", "answer", "agreed")
	assert.Contains(t, webtest.RowOf(t, h.Page("ana", "/money/changes"), "CR-1"), "approved")
	assert.Contains(t, webtest.RowOf(t, h.Page("ana", "/money/projects"), "Alpha"), "€1.03 M")
	assert.Equal(t, 409, h.Post("ana", "/money/changes/decide", "project", "A1", "change", "CR-1", "state", "refused", "answer", "x"))
}
