package draft_test

import (
	"fmt"
	"maps"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

func TestDropsAreBoundedByRoleAndScope(t *testing.T) {
	h := webtest.New(t)
	status, at := h.Drop("lea", map[string]string{"../../status.csv": "project,overall\nB1,act\n"})
	require.Equal(t, 303, status)
	status, body, _ := h.Ask("lea", http.MethodGet, at+"?show=consequences", nil)
	assert.Equal(t, 403, status, "another lead's project")
	assert.NotContains(t, body, "Beta")
	status, _, _ = h.Ask("exe", http.MethodGet, at, nil)
	assert.Equal(t, 403, status)
	status, at = h.Drop("lea", map[string]string{"../../status.csv": "project,overall\nA1,act\n"})
	require.Equal(t, 303, status)
	_, body, _ = h.Ask("lea", http.MethodGet, at+"?show=consequences", nil)
	assert.Contains(t, body, "Load 1 row<")
	assert.NotContains(t, body, "../", "a name is shown without its path")
	status, at = h.Drop("lea", map[string]string{"budget.csv": "project,cost_code,amount,month\nA1,C,1,2026-10\n"})
	require.Equal(t, 303, status)
	status, _, _ = h.Ask("lea", http.MethodGet, at+"?show=consequences", nil)
	assert.Equal(t, 403, status, "leads are not asked for budgets")
	status, _ = h.Drop("exe", map[string]string{"status.csv": "project,overall\nA1,act\n"})
	assert.Equal(t, 403, status)
	status, _ = h.Drop("lea", map[string]string{})
	assert.Equal(t, 422, status)
	h.Token["lea"] = "stale"
	status, _ = h.Drop("lea", map[string]string{"status.csv": "project,overall\nA1,act\n"})
	assert.Equal(t, 403, status)
}

// The parts of an upload are read in the order in which they come: sender and period stand before the files.
func TestUploadsKeepTheOrderOfTheirParts(t *testing.T) {
	h := webtest.New(t)
	for range 20 {
		status, at := h.Drop("ana", map[string]string{"status.csv": "project,overall\nA1,act\n"})
		require.Equal(t, 303, status)
		require.Contains(t, h.Page("ana", at), `value="somebody"`)
	}
}

// Without scripts, by plain forms alone: drop, map, give values a meaning, see the consequences, load.
func TestLoadingByPlainForms(t *testing.T) {
	h := webtest.New(t)
	status, at := h.Drop("ana", map[string]string{"plan.csv": "Project;Task ID;What;Sort;Baseline end;Forecast " +
		"end\nA1;1;Dig;Task;30.09.2026;15.11.2026\nA1;2;Gate;Stone;30.09.2026;18.12.2026\n"})
	require.Equal(t, 303, status)
	html := h.Page("ana", at+"?show=consequences")
	assert.Contains(t, html, "dates day first")
	assert.Contains(t, html, "What Task means")
	assert.Contains(t, html, "<mark>Stone</mark>")
	_, unknowns, _ := strings.Cut(html, `class="unknowns"`)
	q := webtest.Fields(t, `<form method="post" action="`+at+`"`+unknowns, at)
	for name, v := range q {
		if strings.HasPrefix(name, "was-") {
			means := map[string]string{"kind\x1fTask": "activity", "kind\x1fStone": "milestone"}[v[0]]
			q.Set(strings.Replace(name, "was-", "means-", 1), means)
		}
	}
	status, _, _ = h.Ask("ana", http.MethodPost, at, q)
	require.Equal(t, 303, status)
	html = h.Page("ana", at+"?show=consequences")
	assert.Contains(t, html, "Load 2 rows")
	assert.Contains(t, html, "Schedule</b> of A1")
	status, _, header := h.Ask("ana", http.MethodPost, at+"/load", url.Values{"_csrf": {h.Token["ana"]}})
	require.Equal(t, 303, status)
	require.Eventually(t, func() bool { return strings.Contains(h.Page("ana", header.Get("Location")), "Loaded.") }, time.Minute,
		10*time.Millisecond)
	assert.Contains(t, h.Page("ana", at), "Loaded as")
	project := h.Page("ana", "/projects/A1")
	assert.Contains(t, project, "Gate")
	assert.Contains(t, project, "18 Dec 2026")
}

// Fifty files that one sends at once: some are received, each as its own, the others are told to wait and come in when they are sent
// again. Those that are loaded at once, each twice, are loaded one after another, none of them lost or taken twice.
func TestFiftyFilesAtOnce(t *testing.T) {
	h := webtest.New(t)
	const files = 50
	at := make([]string, files)
	sent := func(i int) int {
		status, to := h.Drop("ana", map[string]string{fmt.Sprintf("status-%02d.csv", i): fmt.Sprintf(
			"project,overall,commentary\nA1,act,Word %d.\n", i)})
		if status == http.StatusSeeOther {
			at[i] = to
		}
		return status
	}
	status := make([]int, files)
	var all sync.WaitGroup
	for i := range files {
		all.Go(func() { status[i] = sent(i) })
	}
	all.Wait()
	assert.Contains(t, status, http.StatusTooManyRequests)
	seen := map[string]bool{}
	for i := range files {
		if status[i] != http.StatusSeeOther {
			require.Equal(t, http.StatusTooManyRequests, status[i], "file %d", i)
			require.Equal(t, http.StatusSeeOther, sent(i), "file %d again", i)
		}
		assert.False(t, seen[at[i]], "two files at %s", at[i])
		seen[at[i]] = true
		assert.Contains(t, h.Page("ana", at[i]), fmt.Sprintf("status-%02d.csv", i))
	}

	before, err := h.Store.Loads(webtest.Ctx())
	require.NoError(t, err)
	for _, to := range at[:10] {
		form := webtest.Fields(t, h.Page("ana", to+"?show=consequences"), to+"/load")
		for range 2 {
			all.Go(func() {
				if status, body, _ := h.Ask("ana", http.MethodPost, to+"/load", maps.Clone(form)); status >= 500 {
					t.Errorf("%d %s", status, body)
				}
			})
		}
	}
	all.Wait()
	names := map[string]int{}
	require.Eventually(t, func() bool {
		clear(names)
		loads, err := h.Store.Loads(webtest.Ctx())
		for i := range loads[:len(loads)-len(before)] {
			names[loads[i].File]++
		}
		return err == nil && len(names) == 10
	}, time.Minute, 50*time.Millisecond)
	h.Server.Settle()
	for name, n := range names {
		assert.Equal(t, 1, n, name)
	}
}
