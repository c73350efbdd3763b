package main

import (
	"encoding/csv"
	"encoding/json"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// written is a folder of CSV files whose rows can be changed before they are written.
type written struct {
	t     *testing.T
	heads map[string][]string
	rows  map[string][][]string
}

func readFolder(t *testing.T, dir string) *written {
	t.Helper()
	w := &written{t, map[string][]string{}, map[string][][]string{}}
	files, err := filepath.Glob(filepath.Join(dir, "*.csv"))
	require.NoError(t, err)
	for _, name := range files {
		f, err := os.Open(name)
		require.NoError(t, err)
		rows, err := csv.NewReader(f).ReadAll()
		require.NoError(t, err)
		require.NoError(t, f.Close())
		kind := filepath.Base(name[:len(name)-len(".csv")])
		w.heads[kind], w.rows[kind] = rows[0], rows[1:]
	}
	return w
}

func (w *written) cell(kind string, row []string, column string) *string {
	return &row[slices.Index(w.heads[kind], column)]
}

// set changes cells, in pairs of column and value, of the first row of a project for which the keys hold, in pairs as well.
func (w *written) set(kind, project string, keys []string, pairs ...string) []string {
	w.t.Helper()
	for _, row := range w.rows[kind] {
		fits := *w.cell(kind, row, "project") == project
		for i := 0; i < len(keys); i += 2 {
			fits = fits && *w.cell(kind, row, keys[i]) == keys[i+1]
		}
		if !fits {
			continue
		}
		for i := 0; i < len(pairs); i += 2 {
			*w.cell(kind, row, pairs[i]) = pairs[i+1]
		}
		return row
	}
	w.t.Fatalf("no row of %s in %s with %v", project, kind, keys)
	return nil
}

// add puts in a row, in pairs of column and value; a kind that has no rows yet has the columns of the first.
func (w *written) add(kind string, pairs ...string) {
	if w.heads[kind] == nil {
		for i := 0; i < len(pairs); i += 2 {
			w.heads[kind] = append(w.heads[kind], pairs[i])
		}
	}
	row := make([]string, len(w.heads[kind]))
	for i := 0; i < len(pairs); i += 2 {
		row[slices.Index(w.heads[kind], pairs[i])] = pairs[i+1]
	}
	w.rows[kind] = append(w.rows[kind], row)
}

// found writes the files, takes them in and lists what the checks find, as check, project and record.
func (w *written) found() map[string]bool {
	w.t.Helper()
	dir := w.t.TempDir()
	out, db := filepath.Join(dir, "out"), filepath.Join(dir, "f.db")
	require.NoError(w.t, os.Mkdir(out, 0o755))
	for kind, rows := range w.rows {
		f, err := os.Create(filepath.Join(out, kind+".csv"))
		require.NoError(w.t, err)
		require.NoError(w.t, csv.NewWriter(f).WriteAll(append([][]string{w.heads[kind]}, rows...)))
		require.NoError(w.t, f.Close())
	}
	for _, args := range [][]string{{"init", "--db", db}, {"import", "--db", db, "--period", "2026-10", out}} {
		_, errs, code := run(w.t, args...)
		require.Zero(w.t, code, errs)
	}
	printed, errs, code := run(w.t, "check", "--db", db, "--as-of", "2026-10-31", "--format", "json")
	require.Zero(w.t, code, errs)
	var list []struct{ Check, Project, Record, Says string }
	require.NoError(w.t, json.Unmarshal([]byte(printed), &list))
	all := map[string]bool{}
	for _, f := range list {
		assert.NotEmpty(w.t, f.Says)
		all[f.Check+" "+f.Project+" "+f.Record] = true
	}
	return all
}

// Faults that are planted in a generated portfolio, one in each project, are found, and nothing else is that was not there before.
func TestExactlyThePlantedFaultsAreFound(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "out")
	_, errs, code := run(t, "generate", "--projects", "30", "--activities", "600", "--ledger", "1500", "--seed", "5", dir)
	require.Zero(t, code, errs)
	w := readFolder(t, dir)
	before := w.found()

	codeOf := func(i int) string { return *w.cell("projects", w.rows["projects"][i], "code") }
	want := map[string]bool{}
	plant := func(i int, f func(p string), found ...string) {
		p := codeOf(i)
		f(p)
		for k := 0; k < len(found); k += 2 {
			want[found[k]+" "+p+" "+found[k+1]] = true
		}
	}
	activity := func(code string, pairs ...string) func(string) {
		return func(p string) { w.set("activities", p, []string{"code", code}, pairs...) }
	}
	link := func(from, to, lag string) func(string) {
		return func(p string) { w.set("links", p, []string{"from", from, "to", to}, "lag", lag) }
	}
	plant(0, activity("M4", "percent_complete", "100"), "finish_missing", "M4")
	plant(1, activity("P4.3", "baseline_start", "2030-01-01"), "finish_before_start", "P4.3")
	plant(2, activity("P4.1", "actual_start", "2026-12-01"), "actual_ahead", "P4.1")
	plant(3, activity("P4.1", "start", "2026-10-30"), "date_passed", "P4.1")
	plant(4, func(p string) {
		w.add("cost_codes", "code", "99", "name", "Old works", "closed", "yes")
		w.add("actuals", "project", p, "cost_code", "99", "date", "2026-09-01", "amount", "1.00")
	}, "closed_code", "99 Old works")
	plant(5, func(p string) {
		w.add("changes", "project", p, "change", "C-1", "title", "Longer wall", "state", "approved", "amount", "100.00")
	}, "budget_sum", "C-1")
	plant(6, func(p string) {
		for _, row := range w.rows["activities"] {
			if *w.cell("activities", row, "project") == p {
				*w.cell("activities", row, "baseline_start"), *w.cell("activities", row, "baseline_finish") = "", ""
			}
		}
	}, "no_baseline", "")
	plant(7, func(p string) {
		w.add("actuals", "project", p, "cost_code", "11", "date", "2026-09-01", "amount", "5", "currency", "JPY")
	}, "missing_rate", "no month rate for JPY in 2026-09")
	plant(8, func(p string) {
		row := w.set("actuals", p, nil)
		w.rows["actuals"] = append(w.rows["actuals"], slices.Clone(row))
		want["posted_twice "+p+" "+*w.cell("actuals", row, "document")] = true
	})
	plant(9, func(p string) {
		w.rows["links"] = slices.DeleteFunc(w.rows["links"], func(row []string) bool {
			return *w.cell("links", row, "project") == p && *w.cell("links", row, "to") == "P4.3"
		})
	}, "loose_end", "P4.3", "loose_end", "M4", "high_float", "P4.3", "high_float", "M4") // now early, and far from the last finish
	plant(10, link("P4.1", "P4.2", "-1"), "lead", "P4.1 → P4.2")
	plant(11, link("P4.1", "P4.2", "11"), "long_lag", "P4.1 → P4.2")
	plant(12, activity("P4.3", "not_after", "2031-12-31"), "hard_date", "P4.3")
	plant(13, activity("M4", "owner", ""), "no_owner", "M4")
	risk := func(review, owner, impact string) func(string) {
		return func(p string) {
			w.add("risks", "project", p, "code", "R-1", "title", "Flood", "review", review, "owner", owner, "cost_impact", impact,
				"probability", "50", "likelihood", "2", "consequence", "3", "state", "open")
		}
	}
	plant(14, risk("2026-10-31", "I. Berg", ""), "risk_review", "R-1")
	plant(15, risk("2026-12-01", "", ""), "no_owner", "risk R-1")
	plant(16, risk("2026-12-01", "I. Berg", "1000"), "no_contingency", "")

	after := w.found()
	got := map[string]bool{}
	for f := range after {
		if !before[f] {
			got[f] = true
		}
	}
	assert.Equal(t, want, got)
}
