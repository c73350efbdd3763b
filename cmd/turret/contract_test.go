package main

import (
	"math/big"
	"math/rand/v2"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// second computes measures from the rows of files by the words of the contract: fractions, days asked one by one, one project after
// another. It shares nothing with the program, and was written without looking at it.
type second struct {
	*plain
}

func money2(a *big.Rat) string {
	if a == nil {
		return ""
	}
	return new(big.Rat).Quo(a, num(100)).FloatString(2)
}

func ratio6(a *big.Rat) string {
	if a == nil {
		return ""
	}
	if s := a.FloatString(6); s != "-0.000000" {
		return s
	}
	return "0.000000"
}

// Odd projects come to the figures that the contract's words give, one by one and together, at the end of a month and within one.
func TestMeasuresAgreeWithTheContract(t *testing.T) {
	for i, day := range []time.Time{time.Date(2026, 5, 31, 0, 0, 0, 0, time.UTC), time.Date(2026, 5, 12, 0, 0, 0, 0, time.UTC)} {
		t.Run(day.Format(time.DateOnly), func(t *testing.T) { agree(t, day, odd(rand.New(rand.NewPCG(20, uint64(26+i))), 300)) })
	}
}

// agree compares every figure that the program prints for the files with the second calculation.
func agree(t *testing.T, asOf time.Time, files map[string]string) {
	dir := t.TempDir()
	db, in := filepath.Join(dir, "odd.db"), filepath.Join(dir, "in")
	require.NoError(t, os.Mkdir(in, 0o755))
	for kind, text := range files {
		require.NoError(t, os.WriteFile(filepath.Join(in, kind+".csv"), []byte(text), 0o600))
	}
	for _, args := range [][]string{{"init", "--db", db}, {"import", "--db", db, "--period", "2026-05", in}} {
		_, errs, code := run(t, args...)
		require.Zero(t, code, errs)
	}
	c := &second{plain: &plain{t: t, asOf: asOf, off: map[string]bool{"2026-04-03": true, "2026-05-01": true, "2026-05-09": false},
		files: map[string][]map[string]string{}}}
	for kind := range files {
		c.files[kind] = table(t, filepath.Join(in, kind+".csv"))
	}
	printed, errs, code := run(t, "measures", "--db", db, "--as-of", asOf.Format(time.DateOnly), "--format", "csv")
	require.Zero(t, code, errs)
	file := filepath.Join(dir, "measures.csv")
	require.NoError(t, os.WriteFile(file, []byte(printed), 0o600))
	got := map[string]map[string]string{}
	for _, row := range table(t, file) {
		got[row["project"]] = row
	}
	c.compare(t, got)
}

// compare holds the program's figures against those of the second calculation.
func (c *second) compare(t *testing.T, got map[string]map[string]string) {
	var all []*sums
	known := map[string]int{}
	for _, row := range c.files["projects"] {
		p, want := row["code"], map[string]string{}
		s := c.sumsOf(p, row["earned_value"] == "yes")
		if row["earned_value"] == "yes" {
			all = append(all, s)
		} else {
			s.pv = undefined
		}
		end := c.asOf
		if !s.finished.IsZero() {
			end = s.finished
		}
		c.figures(want, s, end)
		c.schedule(want, c.rowsOf("activities", p))
		c.labour(want, p)
		for key, w := range want {
			if row["earned_value"] == "no" && key == "percent_planned" {
				continue
			}
			if w != "" {
				known[key]++
			}
			require.Equal(t, w, got[p][key], "%s of %s", key, p)
		}
	}
	for key, n := range known {
		assert.Greater(t, n, 20, "%s was hardly ever known", key)
	}
	c.totals(t, all, got["*"])
}

// totals are the group's measures of earned value, each over the projects that have its basic inputs.
func (c *second) totals(t *testing.T, all []*sums, got map[string]string) {
	earns := group(all, func(s *sums) bool { return s.ev != nil && s.ac != nil && s.bac != nil })
	whole := group(all, func(s *sums) bool { return s.ev != nil && s.ac != nil && s.bac != nil && s.eac() != nil })
	es, at := c.earnedTime(group(all, func(s *sums) bool { return s.ev != nil }).months,
		group(all, func(s *sums) bool { return s.ev != nil }).ev, c.asOf)
	gap := minus(over(minus(whole.bac, whole.ev), minus(plus(whole.ac, whole.toGo), whole.ac)), over(whole.ev, whole.ac))
	for key, want := range map[string]string{"cpi": ratio6(over(earns.ev, earns.ac)),
		"eac_cpi":  money2(even(over(times(earns.bac, earns.ac), earns.ev))),
		"tcpi_bac": ratio6(over(minus(earns.bac, earns.ev), minus(earns.bac, earns.ac))),
		"tcpi_eac": ratio6(over(minus(whole.bac, whole.ev), whole.toGo)), "tcpi_gap": ratio6(gap),
		"es": ratio6(es), "at": ratio6(at), "spi_t": ratio6(over(es, at))} {
		assert.Equal(t, want, got[key], "%s of all", key)
	}
}
