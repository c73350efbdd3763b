package web_test

import (
	"fmt"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/demotest"
	"turret/internal/record"
	"turret/internal/web"
	"turret/internal/web/page"
	"turret/internal/web/webtest"
)

// many is a server over n open projects with a budget and a posting each.
func many(t *testing.T, n int) *web.Server {
	t.Helper()
	s, _ := apptest.Opened(t)
	office := app.NewOffice(s, demotest.Now, webtest.Parts(t))
	take := func(kind record.Kind, head, row string) {
		lines := []string{head}
		if kind == record.Projects {
			lines = append(lines, "A,First,closed", "B,Second,closed")
		}
		for i := range n {
			lines = append(lines, fmt.Sprintf(row, fmt.Sprintf("P%03d", i)))
		}
		_, err := office.Intake.Import(apptest.Ctx, []*kept.File{apptest.Read(t, kind, strings.Join(lines, "\n")+"\n")},
			intake.Origin{Period: apptest.October})
		require.NoError(t, err)
	}
	take(record.Projects, "code,name,status", "%[1]s,Canal %[1]s,open")
	take(record.Budget, "project,cost_code,amount,month", "%s,C,100,2026-12")
	take(record.Actuals, "project,cost_code,date,amount", "%s,C,2026-10-01,90")
	return webtest.Serve(t, office, page.Config{AsOf: func() calendar.Date { return calendar.On(2026, 10, 31) },
		Today: func() calendar.Date { return calendar.On(2026, 11, 10) }})
}

var projectRows = regexp.MustCompile(`<small>(P\d{3})\b|data-project="(P\d{3})"`)

// onPage lists the projects of a page's table, each once.
func onPage(t *testing.T, srv *web.Server, at string) []string {
	t.Helper()
	status, body, _ := webtest.Get(t, srv.App, at)
	require.Equal(t, 200, status, at)
	if i := strings.Index(body, "data-table="); i > 0 {
		body = body[i:]
	}
	seen := map[string]bool{}
	var list []string
	for _, m := range projectRows.FindAllStringSubmatch(body, -1) {
		if code := m[1] + m[2]; !seen[code] {
			seen[code] = true
			list = append(list, code)
		}
	}
	return list
}

// A list of more than 200 rows is shown in pages of a hundred, every row on exactly one of them; a page that is not there is the nearest.
func TestLongListsAreShownInPages(t *testing.T) {
	srv := many(t, 201)
	for _, path := range []string{"/", "/assess", "/assess/table", "/money/projects", "/money/burn", "/money/year", "/gather", "/explain",
		"/check/score"} {
		seen := map[string]int{}
		for n, want := range map[int]int{1: 100, 2: 100, 3: 1} {
			list := onPage(t, srv, fmt.Sprintf("%s?page=%d", path, n))
			assert.Len(t, list, want, "%s, page %d", path, n)
			for _, code := range list {
				seen[code]++
			}
		}
		assert.Len(t, seen, 201, path)
		assert.Equal(t, onPage(t, srv, path+"?page=3"), onPage(t, srv, path+"?page=99"), path)
		for _, none := range []string{"", "0", "-1", "x"} {
			assert.Equal(t, onPage(t, srv, path+"?page=1"), onPage(t, srv, path+"?page="+none), path)
		}
	}
	_, body, _ := webtest.Get(t, srv.App, "/gather?page=3")
	assert.Contains(t, body, "Rows 201 to 201 of 201;")
	srv = many(t, 200)
	assert.Len(t, onPage(t, srv, "/money/projects"), 200, "two hundred stand on one page")
	assert.Len(t, onPage(t, srv, "/gather"), 100, "of rows that each say much a hundred")
	assert.Len(t, onPage(t, many(t, 120), "/gather"), 120)
}
