package web_test

import (
	"html"
	"net/url"
	"regexp"
	"sort"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/core/calendar"
	"turret/internal/demotest"
	"turret/internal/web/page"
	"turret/internal/web/webtest"
)

var (
	addresses = regexp.MustCompile(`\s(?:href|action|hx-get)="([^"]*)"`)
	forms     = regexp.MustCompile(`(?s)<form\b([^>]*)>(.*?)</form>`)
	named     = regexp.MustCompile(`name="(asof|scope)"[^>]*value="[^"]`)
	selects   = regexp.MustCompile(`(?s)<select[^>]*name="(asof|scope)"`)
)

// placeless are addresses that lead out of every place: what is signed in, what ships with Turret, and what programs read.
func placeless(to string) bool {
	for _, p := range []string{"/assets/", "/sign-out", "/api/", "/subscribed/", "#", "http://", "https://", "webcal:", "mailto:"} {
		if strings.HasPrefix(to, p) {
			return true
		}
	}
	return to == "" || to == "?"
}

// Whoever stands in September, in one programme, stays there whatever leads on: every link and form of every page that is reached from the
// Lookout names both.
func TestThePlaceIsKept(t *testing.T) {
	office := app.NewOffice(demotest.Store(t), demotest.Now, webtest.Parts(t))
	srv := webtest.Serve(t, office, page.Config{AsOf: func() calendar.Date { return calendar.On(2026, 10, 31) },
		Today: func() calendar.Date { return calendar.On(2026, 11, 10) }})
	queue, seen, walked := []string{"/?asof=2026-09-30&scope=LW"}, map[string]bool{}, map[string]int{}
	lost := map[string]string{}
	number := regexp.MustCompile(`/(?:\d+|[A-Z]{2,3}-[A-Z]?\d+)\b`)
	for len(queue) > 0 {
		at := queue[0]
		queue = queue[1:]
		path, _, _ := strings.Cut(at, "?")
		if path == "/places" { // is there to choose another scope
			continue
		}
		if shape := number.ReplaceAllString(path, "/#"); walked[shape] >= 2 {
			continue
		} else {
			walked[shape]++
		}
		status, body, head := webtest.Get(t, srv.App, at)
		if status != 200 || !strings.HasPrefix(head.Get("Content-Type"), "text/html") {
			continue
		}
		offered := forms.ReplaceAllStringFunc(body, func(f string) string { // where a form to look at something leads is told by its fields
			if head, rest, _ := strings.Cut(f, ">"); !strings.Contains(head, `method="post"`) {
				return rest
			}
			return f
		})
		for _, m := range addresses.FindAllStringSubmatch(offered, -1) {
			to := html.UnescapeString(m[1])
			if placeless(to) {
				continue
			}
			u, err := url.Parse(to)
			assert.NoError(t, err, "%s on %s", to, at)
			if q := u.Query(); q.Get("asof") == "" || q.Get("scope") == "" && !strings.Contains(m[0], `"?`) {
				if len(q) > 0 && u.Path == "" {
					continue
				}
				key := number.ReplaceAllString(u.Path, "/#")
				if q.Get("scope") == "" && q.Get("asof") != "" {
					key += " (scope)"
				}
				if lost[key] == "" {
					lost[key] = to + " on " + at
				}
				continue
			}
			if u.Path != "" && !seen[to] {
				seen[to] = true
				queue = append(queue, to)
			}
		}
		for _, f := range forms.FindAllStringSubmatch(body, -1) {
			// posted, a dialog, or sent by a script
			if strings.Contains(f[1], "method=") || strings.Contains(f[1], " hidden") || strings.Contains(f[1], "data-plan-") {
				continue
			}
			has := map[string]bool{}
			for _, m := range append(named.FindAllStringSubmatch(f[2], -1), selects.FindAllStringSubmatch(f[2], -1)...) {
				has[m[1]] = true
			}
			if !has["asof"] || !has["scope"] {
				key := "form " + number.ReplaceAllString(path, "/#") + " " + strings.Join(strings.Fields(f[1]), " ")
				if lost[key] == "" {
					lost[key] = at
				}
			}
		}
	}
	var list []string
	for key, example := range lost {
		list = append(list, key+": "+example)
	}
	sort.Strings(list)
	assert.Empty(t, strings.Join(list, " ;; "), "these lead out of the place")
	assert.Greater(t, len(walked), 60, "the walk has become short")
}

// A draft is read, mended and loaded where one stands, and a plan that a script saves leads back there.
func TestDraftsAndPlansKeepThePlace(t *testing.T) {
	h := webtest.New(t)
	status, at := h.Drop("ana", map[string]string{"status.csv": "project,overall\nA1,watch\n"})
	require.Equal(t, 303, status)
	for _, path := range []string{at + "?asof=2026-10-31&scope=A", at + "?show=consequences&asof=2026-10-31&scope=A"} {
		n := 0
		for _, m := range addresses.FindAllStringSubmatch(h.Page("ana", path), -1) {
			if to := html.UnescapeString(m[1]); strings.HasPrefix(to, "/gather/drafts/") {
				n++
				u, err := url.Parse(to)
				require.NoError(t, err)
				assert.NotEmpty(t, u.Query().Get("asof"), "%s on %s", to, path)
				assert.Equal(t, "A", u.Query().Get("scope"), "%s on %s", to, path)
			}
		}
		assert.Greater(t, n, 4, path)
	}
	h = webtest.Linked(t)
	status, out := h.SendJSON("lea", "/projects/A1/plan?asof=2026-10-31&scope=A",
		`{"reason":"why","carry":true,"ops":[{"op":"finish","code":"W","value":"2026-11-10"}]}`)
	require.Equal(t, 200, status)
	assert.Equal(t, "/projects/A1/plan?asof=2026-10-31&scope=A", out["to"])
}
