package project_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/apptest"
	"turret/internal/app/intake"
	"turret/internal/record"
	"turret/internal/web/webtest"
)

// portfolio is a house of four projects, one of which is closed and one proposed. Of the 1,000 and 200 budgeted in programme A 1,300 and
// 200 are estimated.
func portfolio(t *testing.T) *webtest.House {
	t.Helper()
	return webtest.Holding(t, map[record.Kind]string{
		record.Structure: "code,name,level,parent\nPF,Portfolio,portfolio,\nA,Programme A,programme,PF\nB,Programme B,programme,PF\n",
		record.CostCodes: "code,name\nC,Works\n",
		record.Projects: "code,name,parent,lead,sponsor,status\nA1,Alpha,A,Lea,Sam,open\nA2,Amber,A,Other,,open\nA3,Ash,A,Lea,,closed\n" +
			"B1,Beta,B,Other,,proposed\n",
		record.Budget:   "project,cost_code,amount,month\nA1,C,1000000,2026-10\nA2,C,200000,2026-11\nA3,C,50000,2026-01\n",
		record.Forecast: "project,cost_code,amount,month\nA1,C,300000,2026-11\nA2,C,200000,2026-11\n",
		record.Actuals:  "project,cost_code,date,amount\nA1,C,2026-10-05,1000000\nA3,C,2026-01-05,50000\n",
		record.Risks:    "project,code,title,likelihood,consequence,state\nA1,R1,<i>Flood</i>,3,4,open\n",
	}, intake.Origin{Period: apptest.October, Source: "the house"})
}

// Open projects stand below their programme with its sums; a search finds those of every status, by lead and sponsor too.
func TestTheListOfProjects(t *testing.T) {
	h := portfolio(t)
	list := h.Page("ana", "/projects")
	assert.Contains(t, list, "2 open projects; ")
	assert.Contains(t, webtest.RowOf(t, list, "Alpha"), "€1.30 M")
	group := webtest.RowOf(t, list, "Programme A")
	assert.Contains(t, group, "€1.20 M", "budgeted")
	assert.Contains(t, group, "€1.50 M", "estimated")
	assert.Empty(t, webtest.Rows(list, "Ash"))
	for path, want := range map[string][]string{"?status=closed": {"Ash"}, "?status=proposed": {"Beta"}, "?q=lea": {"Alpha", "Ash"},
		"?q=SAM": {"Alpha"}, "?status=all": {"Alpha", "Amber", "Ash", "Beta"}, "?q=a2&status=open": {"Amber"}} {
		page := h.Page("ana", "/projects"+path)
		var found []string
		for _, name := range []string{"Alpha", "Amber", "Ash", "Beta"} {
			if len(webtest.Rows(page, name)) > 0 {
				found = append(found, name)
			}
		}
		assert.Equal(t, want, found, path)
	}
	none := h.Page("ana", "/projects?q=%3Cscript%3E")
	assert.Contains(t, none, "No project answers this.")
	assert.NotContains(t, none, "<script>”")
	assert.NotContains(t, h.Page("exe", "/projects"), "€", "costs are hidden")
}

// A code leads straight to its project, whatever its letters; anything else is searched for.
func TestFindingAProject(t *testing.T) {
	h := portfolio(t)
	status, _, head := h.Ask("ana", http.MethodGet, "/find?q=+a1+&asof=2026-09-30", nil)
	assert.Equal(t, http.StatusSeeOther, status)
	assert.Equal(t, "/projects/A1?asof=2026-09-30", head.Get("Location"))
	assert.Contains(t, h.Page("ana", "/find?q=amb"), "1 project with “amb”")
	h.Shut("nar", "/projects/A1", 404)
	h.Shut("ana", "/projects/none", 404)
	assert.Contains(t, h.Page("nar", "/find?q=a1"), "0 projects with “a1”", "another's project is not found")
}

// A project's records stand by kind, as they were sent, and are told apart from markup.
func TestRecordsOfAProject(t *testing.T) {
	h := portfolio(t)
	page := h.Page("ana", "/projects/A1/records/budget")
	assert.Regexp(t, `1,?000,?000`, page)
	risks := h.Page("ana", "/projects/A1/risks")
	assert.Contains(t, risks, "&lt;i&gt;Flood&lt;/i&gt;")
	assert.NotContains(t, risks, "<i>Flood</i>")
	h.Shut("ana", "/projects/A1/records/weather", 404)
	h.Shut("exe", "/projects/A1/records/budget", 404)
	h.Shut("nar", "/projects/A1/records", 404)
}
