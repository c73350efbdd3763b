package main

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var digestIn = regexp.MustCompile(`digest ([0-9a-f]{64})`)

// A period is closed once nothing stands in its way, keeps its figures whatever comes later, and can be reopened: closed again without a
// change it has the same digest, with a correction another, and every issue computes again to what it was.
func TestAClosedPeriodStays(t *testing.T) {
	dir := t.TempDir()
	db := filepath.Join(dir, "three.db")
	ok := func(args ...string) string {
		t.Helper()
		out, errs, code := run(t, args...)
		require.Zero(t, code, errs)
		return out
	}
	refused := func(says string, args ...string) {
		t.Helper()
		_, errs, code := run(t, args...)
		assert.NotZero(t, code)
		assert.Contains(t, errs, says)
	}
	ok("init", "--db", db)
	refused("nothing was sent for it", "publish", "--db", db, "--period", "2026-03", "--waive", "an empty office")
	ok("import", "--db", db, "--period", "2026-03", example)
	refused("error BR-3: ", "publish", "--db", db, "--period", "2026-03")
	refused("stand in the way of closing March 2026", "publish", "--db", db, "--period", "2026-03")
	first := digestIn.FindString(ok("publish", "--db", db, "--period", "2026-03", "--waive", "the lead is on leave", "--out", dir))
	pack, err := os.ReadFile(filepath.Join(dir, "pack-2026-03-1.pdf"))
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(pack, []byte("%PDF")))
	refused("March 2026 is closed already", "publish", "--db", db, "--period", "2026-03")
	refused("March 2026 is closed already", "publish", "--db", db, "--period", "2026-02")

	refused("April 2026 comes first", "publish", "--db", db, "--period", "2026-05")

	figures := func() string {
		return ok("measures", "--db", db, "--as-of", "2026-03-31", "--keys", "ac,eac,overall_health", "--format", "csv")
	}
	was := figures()
	send := func(period, rows string) {
		f := filepath.Join(t.TempDir(), "actuals.csv")
		require.NoError(t, os.WriteFile(f, []byte("project,cost_code,date,amount,document\n"+rows), 0o600))
		ok("import", "--db", db, "--period", period, filepath.Dir(f))
	}
	send("2026-04", "BR-1,1,2026-03-20,700.00,D-90\n")
	assert.Equal(t, was, figures(), "what came for April counts from April on")

	again := digestIn.FindString(ok("publish", "--db", db, "--period", "2026-03", "--reopen", "asked to look again"))
	assert.Equal(t, first, again)
	assert.Equal(t, was, figures())
	send("2026-03", "BR-1,1,2026-03-20,250.00,D-91\n")
	assert.Equal(t, was, figures(), "sent for a period that is closed")
	third := ok("publish", "--db", db, "--period", "2026-03", "--reopen", "a posting was missing")
	assert.Contains(t, third, "March 2026, issue 3 is closed")
	assert.NotEqual(t, first, digestIn.FindString(third))
	before, after := costOf(t, was), costOf(t, figures())
	assert.Equal(t, "250.00", difference(t, before, after))

	out := ok("verify", "--db", db)
	assert.Equal(t, 3, strings.Count(out, "computes to the same figures"))

	// One byte in the text of a posting, which no figure depends on.
	b, err := os.ReadFile(db)
	require.NoError(t, err)
	at := bytes.Index(b, []byte("D-3"))
	require.Positive(t, at)
	b[at] = 'E'
	copied := filepath.Join(dir, "copied.db")
	require.NoError(t, os.WriteFile(copied, b, 0o600))
	refused("brought was changed", "verify", "--db", copied)
}

func costOf(t *testing.T, csv string) string {
	t.Helper()
	for _, line := range strings.Split(csv, "\n") {
		if strings.HasPrefix(line, "BR-1,") {
			return strings.Split(line, ",")[3]
		}
	}
	t.Fatal("no BR-1")
	return ""
}

// difference takes two amounts with two decimals from each other.
func difference(t *testing.T, a, b string) string {
	t.Helper()
	cents := func(s string) (n int) {
		for _, r := range s {
			if r != '.' {
				require.True(t, '0' <= r && r <= '9', s)
				n = 10*n + int(r-'0')
			}
		}
		return n
	}
	n := cents(b) - cents(a)
	return fmt.Sprintf("%d.%02d", n/100, n%100)
}

// The pages made from the code are those of the code.
func TestReferencesAreCurrent(t *testing.T) {
	dir := t.TempDir()
	_, errs, code := run(t, "reference", dir)
	require.Zero(t, code, errs)
	for name := range references {
		want, err := os.ReadFile(filepath.Join(dir, name))
		require.NoError(t, err)
		got, err := os.ReadFile(filepath.Join("../../docs", name))
		require.NoError(t, err)
		assert.True(t, bytes.Equal(want, got), "docs/%s is not current; bin/turret reference docs makes it", name)
	}
}
