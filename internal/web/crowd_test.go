package web_test

import (
	"fmt"
	"maps"
	"net/http"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/web/webtest"
)

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
