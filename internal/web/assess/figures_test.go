package assess_test

import (
	"net/http"
	"net/url"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/intake"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// progressed is a house of three open projects. Of A1's million 800,000 were planned by the end of October, 400,000 are earned by its one
// work, of which two fifths are done, and 500,000 are spent; 700,000 are still to come. B1 is on plan and A2 has no money.
func progressed(t *testing.T) *webtest.House {
	t.Helper()
	return webtest.Holding(t, map[record.Kind]string{
		record.Structure: "code,name,level,parent\nPF,Portfolio,portfolio,\nA,Programme A,programme,PF\nB,Programme B,programme,PF\n",
		record.CostCodes: "code,name\nC,Works\n",
		record.Projects: "code,name,parent,lead,status,earned_value\nA1,Alpha,A,Lea,open,yes\nA2,Amber,A,Other,open,\n" +
			"B1,Beta,B,Other,open,yes\n",
		record.Activities: "project,code,name,baseline_start,baseline_finish,actual_start,finish,percent_complete\n" +
			"A1,W,Dig,2026-09-01,2026-11-30,2026-09-01,2026-11-30,40\nB1,W,Plant,2026-09-01,2026-11-30,2026-09-01,2026-11-30,80\n",
		record.Budget: "project,cost_code,amount,month\nA1,C,400000,2026-09\nA1,C,400000,2026-10\nA1,C,200000,2026-11\n" +
			"B1,C,40000,2026-09\nB1,C,40000,2026-10\nB1,C,20000,2026-11\n",
		record.Forecast: "project,cost_code,amount,month\nA1,C,700000,2026-11\nB1,C,20000,2026-11\n",
		record.Actuals:  "project,cost_code,date,amount\nA1,C,2026-10-05,500000\nB1,C,2026-10-05,80000\n",
		record.Statuses: "project,overall,schedule,cost,commentary\nA1,on track,on track,watch,fine\nB1,watch,,,careful\n",
	}, intake.Origin{Period: apptest.October, Source: "the house"})
}

// By hand: CPI 400/500, estimates 500 + 600 at the budgeted rate and 1,000/0.8 by the index. The 700 that are forecast for work worth 600
// ask for an index of 0.86.
func TestEarnedValueByHand(t *testing.T) {
	h := progressed(t)
	body := h.Page("ana", "/assess/earned?scope=A1")
	for _, want := range []string{"Work worth", "€400 k", "is done for", "€500 k", "spent, where", "€800 k",
		"was planned", "earned", "0.80"} {
		assert.Contains(t, body, want)
	}
	for name, want := range map[string][]string{
		"Declared":             {"€1.20 M", "+€200 k", "0.86", "hopeful: better than so far"},
		"At the budgeted rate": {"€1.10 M", "+€100 k", "1.00", "not realistic: far better than so far"},
		"By the cost index":    {"€1.25 M", "+€250 k", "0.80", "in line with the work so far"},
	} {
		row := webtest.RowOf(t, body, name)
		for _, text := range want {
			assert.Contains(t, row, text, name)
		}
	}
	assert.Contains(t, webtest.RowOf(t, body, "Dig"), "40.0 %", "the work that it comes from")

	assert.NotContains(t, body, "The declared estimate is not realistic")

	all := h.Page("ana", "/assess/earned")
	assert.Contains(t, all, "2 of 3 projects have an earned value.")
	assert.Contains(t, webtest.RowOf(t, all, "Beta"), "1.00")
	assert.Contains(t, h.Page("ana", "/assess/earned?scope=A2"), "Nothing is known of earned value here.")
	h.Shut("exe", "/assess/earned", 403)

	apptest.Send(t, h.Office, apptest.Sent{Kind: record.Forecast, Period: apptest.October,
		Text: "project,cost_code,amount,month\nA1,C,550000,2026-11\n"}) // 600/550 asked of the rest, 36.36 % above 0.80
	assert.Contains(t, h.Page("ana", "/assess/earned?scope=A1"), "the rest would have to go 36.4 % better than the work so far did.")
}

// A1 is declared on track and is at act; B1 is declared worse than it is.
func TestTheMatrixOfStatuses(t *testing.T) {
	h := progressed(t)
	body := h.Page("ana", "/assess")
	assert.Contains(t, body, "Of 3 open projects")
	for show, want := range map[string][]bool{"": {true, true}, "act": {true, false}, "better": {true, false}, "worse": {false, true},
		"set": {false, false}, "watch": {false, false}} {
		shown := h.Page("ana", "/assess?difference="+show)
		assert.Equal(t, want, []bool{len(webtest.Rows(shown, "Alpha")) > 0, len(webtest.Rows(shown, "Beta")) > 0}, show)
	}
	assert.Contains(t, h.Page("ana", "/assess?difference=set"), "No open project answers these filters.")
	lead := h.Page("ana", "/assess?lead=Lea")
	assert.Equal(t, []bool{true, false}, []bool{len(webtest.Rows(lead, "Alpha")) > 0, len(webtest.Rows(lead, "Beta")) > 0})
	assert.Contains(t, h.Page("nar", "/assess"), "Of 1 open project")
}

// With wide limits nobody is at act any more; limits that cannot be are refused with what was typed, and what is in force stays.
func TestOtherTolerancesAreTriedOut(t *testing.T) {
	h := progressed(t)
	now := h.Page("ana", "/assess/tolerances")
	assert.Contains(t, now, "1 project is at act")
	wide := url.Values{}
	for _, tag := range regexp.MustCompile(`<input[^>]* name="[a-z_-]+-0(-[01])?"[^>]*>`).FindAllString(now, -1) {
		wide.Set(webtest.Attribute(tag, "name"), webtest.Attribute(tag, "value"))
	}
	require.NotEmpty(t, wide)
	for _, key := range []string{"vac_share", "cpi", "spi_t", "finish_share"} {
		for j, value := range map[string][]string{"vac_share": {"80", "90"}, "cpi": {"0.2", "0.1"}, "spi_t": {"0.2", "0.1"},
			"finish_share": {"80", "90"}}[key] {
			name := "limit-" + key + "-0-" + string(rune('0'+j))
			if wide.Has(name) {
				wide.Set(name, value)
			}
		}
	}
	tried := h.Page("ana", "/assess/tolerances?"+wide.Encode())
	assert.Contains(t, tried, "by those tried it would be 0 and 0")
	assert.Contains(t, webtest.RowOf(t, tried, "Alpha"), "cost act → on track")
	assert.Contains(t, h.Page("ana", "/assess/tolerances"), "1 project is at act", "nothing was kept")

	for _, bad := range []string{"soon", "-1", "NaN", "1e999"} {
		wide.Set("limit-vac_share-0-0", bad)
		status, body, _ := h.Ask("ana", http.MethodGet, "/assess/tolerances?"+wide.Encode(), nil)
		assert.Equal(t, 422, status, bad)
		assert.Contains(t, body, `value="`+bad+`"`, "what was typed stays")
	}
}
