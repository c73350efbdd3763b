package web_test

import (
	"fmt"
	"html"
	"net/url"
	"regexp"
	"sort"
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

// nouns are what pages count, one and many.
var nouns = [][2]string{{"project", "projects"}, {"milestone", "milestones"}, {"risk", "risks"}, {"issue", "issues"}, {"action", "actions"},
	{"input", "inputs"}, {"error", "errors"}, {"warning", "warnings"}, {"row", "rows"}, {"load", "loads"}, {"message", "messages"},
	{"report", "reports"}, {"change", "changes"}, {"line", "lines"}, {"activity", "activities"}, {"measure", "measures"}, {"file", "files"},
	{"problem", "problems"}, {"thing", "things"}, {"week", "weeks"}, {"month", "months"}, {"day", "days"}, {"note", "notes"},
	{"answer", "answers"}, {"question", "questions"}, {"programme", "programmes"}, {"check", "checks"}, {"finding", "findings"},
	{"record", "records"}, {"period", "periods"}, {"dependency", "dependencies"}, {"deliverable", "deliverables"}, {"person", "people"},
	{"posting", "postings"}, {"cell", "cells"}, {"entry", "entries"}, {"item", "items"}, {"lead", "leads"}, {"rule", "rules"}}

var (
	unread = regexp.MustCompile(`(?s)<(script|style|template|title|option)\b.*?</(script|style|template|title|option)>`)
	inline = regexp.MustCompile(`</?(?:a|b|small|span|em|i|strong)\b[^>]*>`)
	tags   = regexp.MustCompile(`<[^>]*>`)
	blanks = regexp.MustCompile(`\s+`)
	counts = func() *regexp.Regexp {
		var one, many []string
		for _, n := range nouns {
			one, many = append(one, n[0]), append(many, n[1])
		}
		return regexp.MustCompile(`(?:^|[^\d.,/:−+-])(?:1 (?:` + strings.Join(many, "|") + `)|[02] (?:` + strings.Join(one, "|") + `))\b`)
	}()
)

// wrongCounts are the places of a text where one is said of many, or many of one.
func wrongCounts(text string) []string {
	var list []string
	for _, at := range counts.FindAllStringIndex(text, -1) {
		list = append(list, text[max(0, at[0]-30):min(len(text), at[1]+20)])
	}
	return list
}

func TestWrongCountsAreFound(t *testing.T) {
	for text, want := range map[string]int{"1 projects are late": 1, "2 project": 1, "0 risk": 1, "1 project, 2 projects, 0 projects": 0,
		"11 projects": 0, "31 days": 0, "1 of 1 projects": 1, "1 people": 1, "12 row": 0, "2 projected": 0} {
		assert.Len(t, wrongCounts(text), want, text)
	}
}

// counted is an office that holds n of everything.
func counted(t *testing.T, n int) *app.Office {
	t.Helper()
	s, _ := apptest.Opened(t)
	office := app.NewOffice(s, demotest.Now, webtest.Parts(t))
	for _, x := range []struct {
		kind record.Kind
		head string
		row  string // with the project as %[1]s and a number as %[2]d
	}{
		{record.Projects, "code,name,lead,status,planned_start,planned_finish", "%[1]s,Canal,Ann,open,2026-01-05,2026-12-18"},
		{record.CostCodes, "code,name", "C%[2]d,Stone"},
		{record.Activities, "project,code,name,kind,baseline_start,baseline_finish,start,finish,report_to",
			"%[1]s,M%[2]d,Gate,milestone,2026-10-02,2026-10-02,2026-11-20,2026-11-20,portfolio"},
		{record.Budget, "project,cost_code,amount,month", "%[1]s,C1,100,2026-%02[3]d"},
		{record.Forecast, "project,cost_code,amount,month", "%[1]s,C1,200,2026-%02[4]d"},
		{record.Actuals, "project,cost_code,date,amount", "%[1]s,C1,2026-10-0%[2]d,150"},
		{record.Statuses, "project,overall", "%[1]s,on track"},
		{record.Risks, "project,code,title,likelihood,consequence,due", "%[1]s,R%[2]d,Flood,5,5,2026-10-01"},
		{record.Issues, "project,code,title,priority,due", "%[1]s,I%[2]d,Leak,high,2026-10-01"},
		{record.Actions, "project,code,title,due", "%[1]s,A%[2]d,Ask,2026-10-01"},
	} {
		lines := []string{x.head}
		for p := 1; p <= n; p++ {
			for i := 1; i <= n; i++ {
				if i > 1 && (x.kind == record.Projects || x.kind == record.Statuses) || p > 1 && x.kind == record.CostCodes {
					continue
				}
				row := fmt.Sprintf(x.row+"\x00%[1]s%[2]d%[3]d%[4]d", fmt.Sprintf("P%d", p), i, 8+i, 10+i) // every row uses every word
				row, _, _ = strings.Cut(row, "\x00")
				lines = append(lines, row)
			}
		}
		if len(lines) == 1 {
			continue
		}
		_, err := office.Intake.Import(apptest.Ctx, []*kept.File{apptest.Read(t, x.kind, strings.Join(lines, "\n")+"\n")},
			intake.Origin{Source: "S", Period: apptest.October})
		require.NoError(t, err, x.kind)
	}
	return office
}

// With nothing, one and two of everything, no page says one of many or many of one.
func TestPluralsOfNothingOneAndTwo(t *testing.T) {
	for n := range 3 {
		srv := webtest.Serve(t, counted(t, n), page.Config{AsOf: func() calendar.Date { return calendar.On(2026, 10, 31) },
			Today: func() calendar.Date { return calendar.On(2026, 11, 10) }})
		wrong := map[string]string{}
		walked := 0
		walk(t, srv, "/", func(at, body string) {
			walked++
			text := tags.ReplaceAllString(inline.ReplaceAllString(unread.ReplaceAllString(body, " "), " "), " | ")
			text = blanks.ReplaceAllString(html.UnescapeString(text), " ")
			for _, w := range wrongCounts(text) {
				wrong[w] = at
			}
		})
		var list []string
		for w, at := range wrong {
			list = append(list, at+": "+w)
		}
		sort.Strings(list)
		assert.Empty(t, strings.Join(list, " ;; "), "with %d of everything", n)
		assert.Greater(t, walked, 25, "the walk has become short")
	}
}

// walk visits the pages that are reached from one, two of each shape.
func walk(t *testing.T, srv *web.Server, from string, visit func(at, body string)) {
	t.Helper()
	number := regexp.MustCompile(`/(?:\d+|P\d+)\b`)
	queue, seen, shapes := []string{from}, map[string]bool{from: true}, map[string]int{}
	for len(queue) > 0 {
		at := queue[0]
		queue = queue[1:]
		path, _, _ := strings.Cut(at, "?")
		shape := number.ReplaceAllString(path, "/#")
		if shapes[shape]++; shapes[shape] > 2 {
			continue
		}
		status, body, head := webtest.Get(t, srv.App, at)
		require.Less(t, status, 500, at)
		if status != 200 || !strings.HasPrefix(head.Get("Content-Type"), "text/html") {
			continue
		}
		visit(at, body)
		for _, m := range addresses.FindAllStringSubmatch(body, -1) {
			to := html.UnescapeString(m[1])
			if u, err := url.Parse(to); err != nil || placeless(to) || u.Path == "" || u.Path == "/lookout.csv" || seen[to] {
				continue
			}
			seen[to] = true
			queue = append(queue, to)
		}
	}
}
