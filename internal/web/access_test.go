package web_test

import (
	"context"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/web/page"
	"turret/internal/web/webtest"
)

// doors says who comes through each address: n nobody, l lead, e executive, r the analyst with a scope, a analyst, d
// administrator. A route that stands here with no example cannot be asked for alone.
var doors = map[string]struct{ path, may string }{
	"/healthz": {"/healthz", "nleard"}, "/readyz": {"/readyz", "nleard"},
	"/sign-in": {"/sign-in", "nleard"}, "/begin": {"/begin", "nleard"},
	"/desk": {"/desk", "leard"}, "/desk/owners": {"/desk/owners", "ad"},
	"/registers/:kind/file": {},
	"/pipeline":             {"/pipeline", "leard"}, "/pipeline/proposals": {"/pipeline/proposals", "leard"},
	"/pipeline/ranking": {"/pipeline/ranking", "leard"}, "/pipeline/goals": {"/pipeline/goals", "leard"},
	"/pipeline/selection": {"/pipeline/selection", "leard"}, "/pipeline/new": {"/pipeline/new", "leard"},
	"/pipeline/form":      {"/pipeline/form", "ad"},
	"/pipeline/templates": {"/pipeline/templates", "leard"},
	"/pipeline/plane":     {"/pipeline/plane", "leard"}, "/pipeline/roadmap": {"/pipeline/roadmap", "leard"},
	"/pipeline/gates": {"/pipeline/gates", "leard"}, "/registers/backlogs": {"/registers/backlogs", "leard"},
	"/money/benefits": {"/money/benefits", "lard"}, "/projects/:code/gates": {"/projects/A1/gates", "lead"},
	"/projects/:code/proposal": {"/projects/A1/proposal", "lead"},
	"/hours":                   {"/hours", "leard"}, "/hours/approve": {"/hours/approve", "lard"}, "/hours/weeks": {"/hours/weeks",
		"lard"},
	"/people": {"/people", "leard"}, "/people/load": {"/people/load", "lard"}, "/people/roles": {"/people/roles", "leard"},
	"/people/utilisation": {"/people/utilisation", "leard"}, "/people/work": {"/people/work", "lard"}, "/people/of/:code": {},
	"/people/help": {"/people/help",
		"leard"}, "/people/level": {"/people/level", "lard"}, "/people/asked": {"/people/asked",
		"lard"}, "/people/plan/:code": {"/people/plan/A1", "lad"},
	"/registers": {"/registers", "leard"}, "/registers/risks": {"/registers/risks", "leard"},
	"/registers/issues": {"/registers/issues", "leard"}, "/registers/actions": {"/registers/actions", "leard"},
	"/registers/decisions": {"/registers/decisions", "leard"}, "/registers/lessons": {"/registers/lessons", "leard"},
	"/registers/meetings":     {"/registers/meetings", "leard"},
	"/registers/meetings/new": {"/registers/meetings/new", "leard"}, "/registers/meetings/:holder/:code": {},
	"/": {"/", "leard"}, "/projects": {"/projects", "leard"}, "/projects/:code": {"/projects/A1", "lead"},
	"/projects/:code/risks": {"/projects/A1/risks", "lead"}, "/projects/:code/people": {"/projects/A1/people", "lead"},
	"/projects/:code/backlog": {"/projects/A1/backlog", "lead"}, "/projects/:code/benefits": {"/projects/A1/benefits", "lad"},
	"/projects/:code/records": {"/projects/A1/records", "lead"}, "/places": {"/places", "leard"},
	"/projects/:code/records/:kind": {"/projects/A1/records/risks", "lad"},
	"/find":                         {"/find?q=alpha", "leard"}, "/newer": {}, "/pack.pdf": {"/pack.pdf", "leard"},
	"/lookout.csv": {"/lookout.csv", ""},
	"/me":          {"/me", "leard"},
	"/timeline":    {"/timeline", "leard"}, "/timeline/data.json": {"/timeline/data.json", "leard"},
	"/timeline/rows.json":      {"/timeline/rows.json?project=A1", "lead"},
	"/timeline/download/:file": {"/timeline/download/timeline.csv", "leard"}, "/timeline/milestones": {"/timeline/milestones", "leard"},
	"/timeline/slips":        {"/timeline/slips", "leard"},
	"/timeline/dependencies": {"/timeline/dependencies", "leard"}, "/timeline/calendar": {"/timeline/calendar", "leard"},
	"/timeline/calendar.ics":        {"/timeline/calendar.ics", "leard"},
	"/subscribed/:key/calendar.ics": {}, "/timeline/rehearsal": {"/timeline/rehearsal", "leard"},
	"/timeline/rehearsal/download/:file": {"/timeline/rehearsal/download/rehearsal.csv", "leard"},
	"/projects/:code/plan":               {"/projects/A1/plan", "lead"}, "/projects/:code/versions": {"/projects/A1/versions", "lead"},
	"/money": {"/money", "lard"}, "/money/projects": {"/money/projects?group=cost+centre", "lard"},
	"/money/burn": {"/money/burn", "lard"}, "/money/year": {"/money/year", "lard"},
	"/money/funding": {"/money/funding", "lard"}, "/money/changes": {"/money/changes", "lard"},
	"/money/revenue":        {"/money/revenue", "lard"},
	"/money/download/:file": {"/money/download/money.csv", "lard"}, "/projects/:code/money": {"/projects/A1/money", "lad"},
	"/projects/:code/money/data.json":      {"/projects/A1/money/data.json", "lad"},
	"/projects/:code/money/spread.json":    {"/projects/A1/money/spread.json?of=EUR&amount=10&from=2026-11-01&to=2026-12-31", "lead"},
	"/projects/:code/money/download/:file": {"/projects/A1/money/download/money.xlsx", "lad"},
	"/projects/:code/money/versions":       {"/projects/A1/money/versions", "lad"},
	"/projects/:code/outlook":              {"/projects/A1/outlook", "lead"},
	"/assess/outlook":                      {"/assess/outlook", "leard"},
	"/assess/outlook/skill":                {"/assess/outlook/skill", "leard"},
	"/projects/:code/closing":              {"/projects/A1/closing", "lead"},
	"/projects/:code/money/activities":     {"/projects/A1/money/activities", "lad"},
	"/check":                               {"/check", "leard"}, "/check/score": {"/check/score", "leard"},
	"/check/rules":          {"/check/rules", "ard"},
	"/check/findings/:file": {"/check/findings/findings.csv", "leard"},
	"/assess":               {"/assess", "leard"}, "/assess/opinion": {"/assess/opinion", "leard"},
	"/assess/tolerances": {"/assess/tolerances",
		"leard"}, "/assess/earned": {"/assess/earned", "lard"},
	"/assess/trends": {"/assess/trends", "leard"}, "/assess/accuracy": {"/assess/accuracy", "leard"},
	"/assess/table":       {"/assess/table", "leard"},
	"/assess/table/:file": {"/assess/table/money.csv", "leard"}, "/assess/glossary": {"/assess/glossary", "leard"},
	"/projects/:code/assess": {"/projects/A1/assess", "lead"}, "/publish": {"/publish", "leard"}, "/publish/compare": {"/publish/compare",
		"leard"}, "/explain": {"/explain", "leard"}, "/reports": {"/reports", "leard"}, "/lookout/arrange": {"/lookout/arrange", "leard"},
	"/reports/sending": {"/reports/sending", "ad"}, "/reports/read": {"/reports/read?report=status", "leard"},
	"/sent/:id": {"/sent/1", ""}, "/reports/compose": {"/reports/compose?report=executive", "leard"},
	"/reports/file/:format": {"/reports/file/pdf?report=executive", "leard"}, "/projects/:code/explain": {"/projects/A1/explain", "lead"},
	"/tables/:name/views": {"/tables/milestones/views", "leard"},
	"/gather":             {"/gather", "lard"}, "/gather/outbox": {"/gather/outbox", "ard"}, "/gather/outbox/:file": {},
	"/gather/samples":       {"/gather/samples", "lard"},
	"/gather/samples/:file": {"/gather/samples/forecast.xlsx?project=A1", "lad"}, "/gather/load": {"/gather/load", "lard"},
	"/gather/drafts/:id": {}, "/gather/drafts/:id/consequences": {}, "/gather/drafts/:id/problems.csv": {},
	"/gather/drafts/:id/corrected/:sheet": {},
	"/gather/drafts/:id/progress":         {}, "/loads": {"/loads", "lard"}, "/loads/:id": {"/loads/5", "ard"},
	"/edit/:kind": {"/edit/status?project=A1", "lad"}, "/setup": {"/setup", "ard"}, "/setup/settings": {"/setup/settings", "ard"},
	"/setup/settings.json": {"/setup/settings.json", "ard"}, "/setup/people": {"/setup/people", "d"},
	"/setup/people/:id": {"/setup/people/new", "d"},
	"/setup/audit":      {"/setup/audit", "ad"}, "/feeds": {"/feeds", "ad"}, "/feeds/:name": {},
	"/api/v1/openapi.json": {"/api/v1/openapi.json", "nleard"}, "/api/v1/catalogue": {"/api/v1/catalogue", ""},
	"/api/v1/projects":       {"/api/v1/projects", ""},
	"/api/v1/projects/:code": {"/api/v1/projects/A1", ""}, "/api/v1/measures": {"/api/v1/measures", ""},
	"/sign-in/with": {}, "/sign-in/back": {}, // of no house with an identity provider
	"/computing":      {"/computing?asof=2026-10-31", "leard"},
	"/api/v1/network": {"/api/v1/network", ""}, "/api/v1/milestones": {"/api/v1/milestones", ""},
	"/api/v1/dependencies": {"/api/v1/dependencies", ""}, "/api/v1/loads": {"/api/v1/loads", ""}, "/api/v1/loads/:id": {"/api/v1/loads/1",
		""},
}

var roles = map[string]string{"n": "", "l": "lea", "e": "exe", "a": "ana", "r": "nar", "d": "admin"}

// Every address that can be asked for is asked for as everybody. One that is not in the list of doors fails the test.
func TestEveryRouteAsEveryRole(t *testing.T) {
	h := webtest.New(t)
	for _, route := range h.Server.App.GetRoutes(true) {
		if route.Method != http.MethodGet || route.Path == "/assets/*" {
			continue
		}
		door, ok := doors[route.Path]
		if !assert.True(t, ok, "%s stands in no list of who may come in", route.Path) || door.path == "" {
			continue
		}
		for letter, who := range roles {
			status, body, _ := h.Ask(who, http.MethodGet, door.path, nil)
			if route.Path == "/lookout.csv" {
				assert.NotEqual(t, who == "", status != 303, "nobody is sent to sign in")
				continue // the reports of these tests refuse to write it
			}
			if strings.Contains(door.may, letter) {
				assert.Less(t, status, 400, "%s as %q", door.path, who)
			} else {
				assert.Contains(t, []int{303, 401, 403, 404}, status, "%s as %q", door.path, who)
			}
			if who == "lea" || who == "exe" {
				assert.NotContains(t, body, "Beta", "%s as %q", door.path, who)
			}
			if who == "exe" {
				for _, amount := range []string{"777,123", "777123", "888,321", "888321"} {
					assert.NotContains(t, body, amount, "%s as %q", door.path, who)
				}
			}
		}
	}
}

// What is beyond a scope is not there: not as a page, a part of one, a trace, a file, a table or an answer of the API.
func TestNothingBeyondTheScope(t *testing.T) {
	h := webtest.New(t)
	for _, path := range []string{"/projects/B1", "/projects/B1?trace=bac", "/projects/B1?trace=milestone&milestone=M", "/?scope=B",
		"/?scope=B1", "/lookout.csv?scope=B",
		"/pack.pdf?scope=B", "/find?q=B1", "/edit/status?project=B1", "/edit/forecast?project=B1",
		"/gather/samples/status.xlsx?project=B1", "/edit/structure", "/edit/projects", "/loads/3"} {
		for _, who := range []string{"lea", "exe"} {
			for _, header := range [][]string{nil, {"HX-Request", "true", "HX-Target", "margin"}} {
				status, body, _ := h.Ask(who, http.MethodGet, path, nil, header...)
				assert.NotContains(t, body, "Beta", "%s as %s", path, who)
				if !strings.HasPrefix(path, "/find") {
					assert.Contains(t, []int{403, 404}, status, "%s as %s", path, who)
				}
			}
		}
	}
	for key, may := range map[string]bool{"finish_deviation": true, "bac": false, "vac_share": false, "overall_health": true} {
		_, body, _ := h.Ask("exe", http.MethodGet, "/projects/A1?trace="+key, nil)
		assert.NotContains(t, body, "777,", key)
		assert.Equal(t, !may, strings.Contains(body, "costs are not shown to you") && strings.Contains(body, "id=\"margin\"") && !may, key)
	}
}

// An analyst with a scope reads of a load what is within it, withdraws none, and reads no trail of everybody's doings.
func TestAScopeBoundsAnAnalystToo(t *testing.T) {
	h := webtest.New(t)
	html := h.Page("nar", "/loads/5")
	assert.Contains(t, html, "777456.00", "the budget of B1")
	assert.NotContains(t, html, "777123", "not that of A1")
	assert.Contains(t, h.Page("ana", "/loads/5"), "777123.00")
	assert.Contains(t, h.Page("nar", "/loads/3"), "not yours to see", "a list of all projects cannot be cut")
	status, _, _ := h.Ask("nar", http.MethodPost, "/loads/7/withdraw", url.Values{"_csrf": {h.Token["nar"]}, "reason": {"x"}})
	assert.Equal(t, 403, status)
	status, at := h.Drop("ana", map[string]string{"status.csv": "project,overall\nA1,act\n"})
	require.Equal(t, 303, status)
	status, _, _ = h.Ask("nar", http.MethodGet, at, nil)
	assert.Equal(t, 404, status, "another's files on their way in")
}

// From an analyst without costs they are kept on the way in too: what a preview would show beside the new amounts are the old.
func TestHiddenCostsAreNotSentEither(t *testing.T) {
	h := webtest.New(t)
	saved, err := h.Office.Account.SaveAccount(access.As(context.Background(), access.Operator("x")),
		account.Account{Login: "hid", Name: "Hid", Role: access.Analyst, HideMoney: true, Active: true}, "")
	require.NoError(t, err)
	h.Cookie["hid"], h.Token["hid"] = webtest.SignedIn(t, h.Server, saved)
	status, at := h.Drop("hid", map[string]string{"forecast.csv": "project,cost_code,amount,month\nA1,C,1,2026-12\n"})
	require.Equal(t, 303, status)
	status, body, _ := h.Ask("hid", http.MethodGet, at+"?show=consequences", nil)
	assert.Equal(t, 403, status)
	assert.NotContains(t, body, "888321")
	status, at = h.Drop("hid", map[string]string{"status.csv": "project,overall\nA1,act\n"})
	require.Equal(t, 303, status)
	assert.Contains(t, h.Page("hid", at+"?show=consequences"), "Load 1 row<")
}

// Requests that change something need the token of the session, a page of ours behind them, and the role.
func TestChangesNeedTokenOriginAndRole(t *testing.T) {
	h := webtest.New(t)
	form := func(who string, pairs ...string) url.Values {
		q := url.Values{"_csrf": {h.Token[who]}}
		for i := 0; i+1 < len(pairs); i += 2 {
			q.Set(pairs[i], pairs[i+1])
		}
		return q
	}
	status, _, _ := h.Ask("ana", http.MethodPost, "/loads/7/withdraw", url.Values{"reason": {"no token"}})
	assert.Equal(t, 403, status)
	status, _, _ = h.Ask("ana", http.MethodPost, "/loads/7/withdraw", form("lea", "reason", "another's token"))
	assert.Equal(t, 403, status)
	status, _, _ = h.Ask("ana", http.MethodPost, "/loads/7/withdraw", form("ana", "reason", "from elsewhere"), "Sec-Fetch-Site",
		"cross-site")
	assert.Equal(t, 403, status)
	status, _, _ = h.Ask("ana", http.MethodPost, "/loads/7/withdraw", form("ana", "reason", "from elsewhere"), "Origin",
		"https://evil.example")
	assert.Equal(t, 403, status)
	for _, who := range []string{"lea", "exe"} {
		for _, path := range []string{"/loads/1/withdraw", "/gather/remind", "/gather/expect", "/setup/settings", "/setup/people/new",
			"/feeds", "/feeds/x/run", "/edit/structure", "/edit/status?project=B1"} {
			status, _, _ := h.Ask(who, http.MethodPost, path, form(who, "reason", "x", "project", "A1", "kind", "status", "version", "0"))
			assert.Contains(t, []int{403, 404}, status, "%s as %s", path, who)
		}
	}
	status, _, _ = h.Ask("nar", http.MethodPost, "/edit/status?project=A1", form("nar"))
	assert.Equal(t, 403, status, "an analyst with a scope stays within it")
	status, _, _ = h.Ask("", http.MethodPost, "/gather/remind", url.Values{})
	assert.Equal(t, 303, status)
	loads, err := h.Store.Loads(context.Background())
	require.NoError(t, err)
	assert.Len(t, loads, len(webtest.Files), "nothing was changed by all this")
	status, _, _ = h.Ask("ana", http.MethodPost, "/loads/7/withdraw", form("ana", "reason", "with everything"))
	assert.Equal(t, 303, status)
}

// A body that goes on and on is cut off while it is read.
func TestUploadsAreBounded(t *testing.T) {
	h := webtest.New(t)
	status, _, _ := h.Ask("ana", http.MethodPost, "/loads/1/withdraw",
		url.Values{"_csrf": {h.Token["ana"]}, "reason": {strings.Repeat("x", page.FormLimit)}})
	assert.Equal(t, 413, status)
}
