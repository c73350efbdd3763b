package main

import (
	"context"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// For a quarter of a minute an office reads, loads, writes, reports and closes at once. Nothing fails, nothing that ought to be given back
// is held, and a server that is stopped in the middle of it leaves a file that is whole. No time is held against a bound.
func TestAQuarterOfAMinuteOfAnOffice(t *testing.T) {
	if testing.Short() {
		t.Skip("it takes a quarter of a minute")
	}
	program := filepath.Join(t.TempDir(), "turret")
	b, err := exec.CommandContext(t.Context(), "go", "build", "-o", program, "../../cmd/turret").CombinedOutput()
	require.NoError(t, err, string(b))
	r, err := run(context.Background(), config{Turret: program, Dir: t.TempDir(), For: 15 * time.Second, Every: 500 * time.Millisecond,
		Projects: 40, Activities: 4_000, Ledger: 40_000, Readers: 8, Load: 2 * time.Second, Edit: 1500 * time.Millisecond,
		Report: 4 * time.Second, Close: 3 * time.Second})
	require.NoError(t, err)
	t.Log("\n" + r.String())
	assert.Empty(t, r.Failed)
	for _, what := range []string{"load", "edit", "report", "close"} {
		assert.Positive(t, r.Done[what], what)
	}
	assert.Greater(t, r.Pages, 20)
	of := func(name string) (first, last float64) {
		for _, f := range figures {
			if f.name == name {
				return r.quarter(f, 0), r.quarter(f, 3)
			}
		}
		t.Fatal(name)
		return 0, 0
	}
	first, last := of("goroutines")
	assert.Less(t, last, first+40, "goroutines")
	first, last = of("open files")
	assert.Less(t, last, first+30, "open files")
	_, last = of("log of the file, MB")
	assert.Less(t, last, 100.0, "the log of the file is written back")
	assert.Contains(t, r.Verified, "is whole, and what it tells of stands as it was made")
}

// The figures of a report are the medians of its quarters.
func TestQuartersOfAReport(t *testing.T) {
	r := &report{}
	for _, n := range []int{1, 2, 3, 10, 10, 10, 5, 50, 6, 7, 7, 9} {
		r.Samples = append(r.Samples, sample{Files: n, Routines: 1})
	}
	files := figures[1]
	assert.Equal(t, []float64{2, 10, 6, 7}, []float64{r.quarter(files, 0), r.quarter(files, 1), r.quarter(files, 2), r.quarter(files, 3)})
	assert.Zero(t, (&report{}).quarter(files, 0))
	r.config.For = 10 * time.Second
	for _, x := range []int{1, 2, 9, 6, 20, 30} { // the first half ends with the fifth second
		r.visits = append(r.visits, visit{"/a", time.Duration(x) * time.Second, time.Duration(x) * time.Second}, visit{"/b", time.Second,
			time.Minute})
	}
	assert.Equal(t, []halves{{"/a", 2 * time.Second, 20 * time.Second}, {"/b", time.Minute, 0}}, r.slowest(2))
	assert.Len(t, r.slowest(1), 1)
	svg := r.draw().SVG()
	for _, f := range figures {
		assert.Contains(t, svg, f.name)
	}
	assert.Equal(t, map[string]string{"_csrf": "x", "what": "a", "reason": ""}, flat(fields(
		`<form method="post" action="/other"><input name="what" value="b"></form><form method="post" action="/publish/waive?asof=1">`+
			`<input type="hidden" name="_csrf" value="x"><input name="what" value="a"><input class="c" name="reason" required></form>`,
		"/publish/waive")))
}

func flat(v map[string][]string) map[string]string {
	m := map[string]string{}
	for k := range v {
		m[k] = v[k][0]
	}
	return m
}
