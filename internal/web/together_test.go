package web_test

import (
	"html"
	"maps"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/record"
	"turret/internal/web/webtest"
)

var (
	filled = regexp.MustCompile(`(?s)<textarea\b[^>]*>\s*[^<\s]|` +
		`<option\b[^>]*value="[^"]+"[^>]* selected|<option\b[^>]* selected[^>]*value="[^"]+"`)
	inputs   = regexp.MustCompile(`<input\b[^>]*>`)
	control  = regexp.MustCompile(`type="(hidden|submit|button|file|search|checkbox|radio)"`)
	holds    = regexp.MustCompile(`\svalue="[^"]+"`)
	tells    = regexp.MustCompile(`name="(was|was-0|version|seen|made|head|revision|former|[a-z]+-id)"`)
	ofOne    = regexp.MustCompile(`/(?:[AB]\d|K)\b`)
	actionOf = regexp.MustCompile(`action="([^"?]*)`)
)

// edits reports whether a form shows something that can be changed: what it begins with is there to be edited.
func edits(form string) bool {
	if filled.MatchString(form) {
		return true
	}
	return slices.ContainsFunc(inputs.FindAllString(form, -1), func(input string) bool {
		return !control.MatchString(input) && holds.MatchString(input)
	})
}

// begins are forms that show something to start with, and make something new of it: nothing of anybody's is changed by them.
var begins = []string{"/check/accept", "/gather/drafts", "/gather/expect", "/pipeline/proposals", "/pipeline/new",
	"/registers/decisions/decide",
	"/registers/meetings/agenda", "/registers/meetings/save", "/registers/risks/add", "/registers/issues/add", "/registers/actions/add",
	"/projects/#/gates/decide", "/projects/#/gates", "/hours/remind", "/me/keys"}

// later are forms of which that is still to be done; what is on this list must not grow.
var later = []string{"/check/rules/own", "/feeds", "/lookout/arrange", "/people/of/#", "/people/plan/#", "/projects/#/assess/set",
	"/reports", "/reports/sending", "/timeline/dependencies"}

// Every form that shows what exists, to be changed, carries what it was made from, so that the second of two people is told and nothing is
// overwritten without a word.
func TestEveryFormThatEditsTellsWhatItWasMadeFrom(t *testing.T) {
	h := webtest.New(t)
	h.Take(record.Risks, "project,code,title,likelihood,consequence\nA1,R1,Flood,3,4\n")
	h.Take(record.Meetings, "project,node,code,date,title\nA1,,M1,2026-10-20,Site\n")
	h.Take(record.Criteria, "model,code,name,weight\nM,use,Use,1\n")
	h.Take(record.Ratings, "project,model,criterion,rating\nA1,M,use,4\n")
	lacking, carry := map[string]string{}, map[string]bool{}
	look := func(at, body string) {
		for _, f := range forms.FindAllStringSubmatch(body, -1) {
			if !strings.Contains(f[1], `method="post"`) || !edits(f[2]) {
				continue
			}
			action := ofOne.ReplaceAllString(actionOf.FindStringSubmatch(f[1])[1], "/#")
			if tells.MatchString(f[2]) {
				carry[action] = true
			} else if !slices.Contains(begins, action) && !slices.Contains(later, action) {
				lacking[action] = at
			}
		}
	}
	seen := map[string]bool{}
	queue := []string{"/", "/registers/risks?record=A1:R1&edit=1", "/registers/meetings/A1/M1", "/pipeline/ranking", "/pipeline/form",
		"/check/rules",
		"/lookout/arrange", "/setup/settings", "/hours?person=K", "/edit/activities?project=A1"}
	for len(queue) > 0 && len(seen) < 1500 {
		at := queue[0]
		queue = queue[1:]
		path, _, _ := strings.Cut(at, "?")
		if shown := seen[path]; shown && path == at {
			continue
		}
		seen[path] = true
		status, body, head := h.Ask("ana", http.MethodGet, at, nil)
		if status != 200 || !strings.HasPrefix(head.Get("Content-Type"), "text/html") {
			continue
		}
		look(at, body)
		for _, m := range addresses.FindAllStringSubmatch(body, -1) {
			to, _, _ := strings.Cut(html.UnescapeString(m[1]), "?")
			if !placeless(to) && !seen[to] && strings.HasPrefix(to, "/") {
				queue = append(queue, to)
			}
		}
	}
	for _, action := range slices.Sorted(maps.Keys(lacking)) {
		assert.Fail(t, "a form that edits tells nothing of what it was made from", "%s, on %s", action, lacking[action])
	}
	for _, action := range []string{"/registers/risks/set", "/registers/meetings/save", "/pipeline/ranking", "/pipeline/form",
		"/check/rules/set",
		"/setup/settings", "/edit/activities"} {
		assert.True(t, carry[action], "%s carries it: %v", action, slices.Sorted(maps.Keys(carry)))
	}
}
