package web_test

import (
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/record"
	"turret/internal/web/webtest"
)

// hostile is a small portfolio whose texts try to be markup, formulas and addresses.
var hostile = map[record.Kind]string{
	record.Structure: "code,name,level,parent\nPF,<i>PF,portfolio,\n\"A&B\",\"\"\"><script>x()</script>\",programme,PF\n",
	record.CostCodes: "code,name\nC,<script>c()</script>\n",
	record.Projects: "code,name,parent,lead\n\"../x?a=1&b#2\",<script>alert(1)</script>,A&B,\"' " +
		"onload=x\"\nP,\"=HYPERLINK(\"\"http://x\"\")\",A&B,L\n" +
		"Q,\"Nothing, sent\",PF,\n",
	record.Activities: "project,code,name,kind,baseline_start,baseline_finish,finish\nP,1,<script>w()</script>,activity,2026-01-05,2026-06-30,2026-12-18\n" +
		"P,2,<script>m()</script>,milestone,,2026-06-30,2026-12-18\n",
	record.Budget: "project,cost_code,amount,month,cost_centre,change,note,currency\nP,C,1000,2026-09,,,,\nP,C,99999999999.99,2119-12,<script>alert(2)</script>,<script>c1()</script>,=1+1,\n" +
		"P,C,5,1980-01,,,,\n",
	record.Forecast:    "project,cost_code,amount,month,cost_centre,note\nP,C,400,2026-11,<script>alert(3)</script>,<script>s2()</script>\n",
	record.Commitments: "project,cost_code,document,amount,supplier,due\nP,C,<script>d1()</script>,10,<script>s3()</script>,2119-12-31\n",
	record.Changes: "project,change,title,state,amount,reason,requested_by,answer\nP,\"\"\"><script>c2()</script>\",<script>alert(4)</script>,requested,5,<script>w2()</script>,' onload=x,<script>d2()</script>\n" +
		"P,<script>c1()</script>,t,approved,,,,\n",
	record.Funding:     "project,funder,percent,received\nP,<script>alert(5)</script>,100,7\n",
	record.Revenue:     "project,code,name,month,planned,billed,client\nP,R,<script>alert(6)</script>,2026-12,100,,<script>c3()</script>\nP,R,x,2026-09,100,200,\n",
	record.People:      "code,name,role\n<script>p()</script>,<script>alert(7)</script>,<script>r()</script>\n",
	record.Timesheets:  "person,project,date,hours\n<script>p()</script>,P,2026-09-01,8\n",
	record.Allocations: "node,year,amount,note\nPF,2026,5,<script>alert(8)</script>\n",
	record.Actuals:     "project,cost_code,date,amount,document\n" + strings.Repeat("P,C,2026-09-01,10,<script>d()</script>\n", 90),
	record.Statuses:    "project,overall,commentary\nP,on track,<script>s()</script>\n",
}

var links = regexp.MustCompile(`href="(/[^"]*)"`)

// Every address that the pages offer is walked, each template executed, and no text of a file becomes markup.
func TestEveryLinkLeadsSomewhere(t *testing.T) {
	a := webtest.Server(t, hostile)
	seen := map[string]bool{}
	todo := []string{"/", "/projects", "/find?q=sent"}
	for len(todo) > 0 && len(seen) < 700 {
		path := todo[0]
		todo = todo[1:]
		if seen[path] || strings.HasPrefix(path, "/lookout.csv") {
			continue
		}
		seen[path] = true
		code, body, _ := webtest.Get(t, a, path)
		assert.Equal(t, 200, code, path)
		if strings.HasPrefix(path, "/assets/") || strings.HasPrefix(path, "/pack") {
			continue
		}
		for _, bad := range []string{"<script>alert", "<script>w", "<script>m", "<script>d", "<script>c", "<script>s", "<script>x",
			"<i>PF", `" onload`, "ZgotmplZ", "style="} {
			assert.NotContains(t, body, bad, path)
		}
		for _, m := range links.FindAllStringSubmatch(body, -1) {
			todo = append(todo, strings.ReplaceAll(m[1], "&amp;", "&"))
		}
	}
	assert.Greater(t, len(seen), 60)
	assert.True(t, seen["/projects/..%2Fx%3Fa=1&b%232"], "a code that looks like a path has its page")
}

func TestLookoutFiltersAndSorts(t *testing.T) {
	a := webtest.Server(t, hostile)
	rows := regexp.MustCompile(`data-project="([^"]*)"`)
	shown := func(path string) (list []string) {
		code, body, _ := webtest.Get(t, a, path)
		require.Equal(t, 200, code, path)
		for _, m := range rows.FindAllStringSubmatch(body, -1) {
			list = append(list, m[1])
		}
		return list
	}
	assert.Len(t, shown("/"), 3)
	assert.Equal(t, "P", shown("/")[0], "what needs action stands first")
	assert.Equal(t, []string{"P"}, shown("/?status=act"))
	assert.Equal(t, []string{"P"}, shown("/?status=disagree"))
	assert.Equal(t, []string{"Q", "P"}, []string{shown("/?sort=project&dir=down")[0], shown("/?sort=project&dir=down")[1]})
	assert.Equal(t, "P", shown("/?sort=vac_share")[0], "undefined figures stand last")
	assert.Equal(t, "P", shown("/?sort=vac_share&dir=down")[0])
	assert.Len(t, shown("/?scope=A%26B"), 2)
	assert.Empty(t, shown("/?lead=nobody"))
	_, body, _ := webtest.Get(t, a, "/?lead=nobody")
	assert.Contains(t, body, "No open project answers these filters.")
	_, body, _ = webtest.Get(t, a, "/?scope=Q")
	assert.Contains(t, body, "1 open project")
}

func TestMarginAloneForHtmx(t *testing.T) {
	a := webtest.Server(t, hostile)
	_, body, h := webtest.Get(t, a, "/projects/P?trace=ac", "HX-Request", "true", "HX-Target", "margin")
	assert.NotContains(t, body, "<html")
	assert.Contains(t, body, "€900.00")
	assert.Contains(t, body, "actuals.csv, row 2")
	assert.Contains(t, body, "78 more rows")
	assert.Contains(t, h.Get("Vary"), "HX-Request")
	_, body, _ = webtest.Get(t, a, "/projects/P?trace=ac&at=0", "HX-Request", "true", "HX-Target", "margin")
	assert.Contains(t, body, "actuals.csv, row 91")
	_, body, _ = webtest.Get(t, a, "/projects/P", "HX-Request", "true", "HX-Target", "margin")
	assert.Empty(t, strings.TrimSpace(body), "closing empties the margin")
}

// Every cell of the cost table and every milestone has a trace of its own, and no other code's rows are in it.
func TestCellsAndMilestonesAreTraced(t *testing.T) {
	files := map[record.Kind]string{}
	for k, v := range hostile {
		files[k] = v
	}
	files[record.CostCodes] = "code,name\nC,Cost\nD,Other\n"
	files[record.Budget] = "project,cost_code,amount,month\nP,C,1000,2026-09\nP,D,70,2026-09\n"
	a := webtest.Server(t, files)
	for path, want := range map[string][]string{
		"trace=bac&code=D":            {"Budget at completion, D Other", "€70.00", "budget.csv, row 3"},
		"trace=vac&code=D":            {"€70.00", "Forecast to go", "Actual cost"},
		"trace=eac&code=C":            {"€1,300.00", "forecast.csv, row 2"},
		"trace=milestone&milestone=2": {"&#43;123", "30 Jun 2026", "activities.csv, row 3"},
	} {
		code, body, _ := webtest.Get(t, a, "/projects/P?"+path, "HX-Request", "true", "HX-Target", "margin")
		assert.Equal(t, 200, code, path)
		for _, w := range want {
			assert.Contains(t, body, w, path)
		}
	}
	_, body, _ := webtest.Get(t, a, "/projects/P?trace=bac&code=D", "HX-Request", "true", "HX-Target", "margin")
	assert.NotContains(t, body, "budget.csv, row 2")
	for _, path := range []string{"trace=bac&code=NONE", "trace=milestone&milestone=NONE"} {
		code, _, _ := webtest.Get(t, a, "/projects/P?"+path)
		assert.Equal(t, 404, code, path)
	}
	_, body, _ = webtest.Get(t, a, "/?status=act&trace=vac_share&of=shown", "HX-Request", "true", "HX-Target", "margin")
	assert.Contains(t, body, "Over 1 of 1 projects")
}

// Without a forecast there is no estimate, in the cost table as little as at the head of the page.
func TestPartsOfAnUndefinedFigureAreNoFigures(t *testing.T) {
	files := map[record.Kind]string{}
	for k, v := range hostile {
		files[k] = v
	}
	delete(files, record.Forecast)
	files[record.Budget] = "project,cost_code,amount,month\nP,C,1000,2026-09\n"
	_, body, _ := webtest.Get(t, webtest.Server(t, files), "/projects/P")
	table := body[strings.Index(body, "Cost by cost code"):]
	assert.Contains(t, table, ">1,000.00</a>")
	assert.Contains(t, table, ">900.00</a>")
	assert.NotContains(t, table, ">0.00</a>", "nothing to go was never said")
	assert.NotContains(t, table, ">100.00</a>", "there is no variance")
	assert.Contains(t, table, "Estimate at completion: no forecast")
}

func TestErrorsAreOurOwnAndTellNothingInside(t *testing.T) {
	a := webtest.Server(t, hostile)
	for path, want := range map[string]int{"/nowhere": 404, "/projects/NONE": 404, "/?scope=NONE": 404, "/?sort=nonsense": 404,
		"/?status=nonsense": 404, "/projects/P?trace=nonsense": 404, "/?asof=2026-02-30": 400, "/?%zz": 400, "/lookout.csv": 500} {
		code, body, _ := webtest.Get(t, a, path)
		assert.Equal(t, want, code, path)
		assert.Contains(t, body, "To the Lookout", path)
		assert.NotContains(t, body, "secret", path)
	}
	r := httptest.NewRequest(http.MethodPost, "/", nil)
	resp, err := a.Test(r, webtest.Patient)
	require.NoError(t, err)
	assert.Equal(t, 405, resp.StatusCode)
}

func TestHeaders(t *testing.T) {
	a := webtest.Server(t, nil)
	_, body, h := webtest.Get(t, a, "/")
	assert.Contains(t, body, "There are no projects yet.")
	policy := h.Get("Content-Security-Policy")
	assert.Contains(t, policy, "script-src 'self';")
	assert.NotContains(t, policy, "unsafe")
	assert.Equal(t, "nosniff", h.Get("X-Content-Type-Options"))
	style := regexp.MustCompile(`/assets/turret-[0-9a-f]+\.css`).FindString(body)
	code, _, h := webtest.Get(t, a, style)
	assert.Equal(t, 200, code)
	assert.Contains(t, h.Get("Cache-Control"), "immutable")
}
