package main

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// in makes a file with periods of a kind that holds the examples, sent for one of them.
func in(t *testing.T, period string, flags ...string) string {
	t.Helper()
	db := filepath.Join(t.TempDir(), "three.db")
	_, errs, code := run(t, append([]string{"init", "--db", db}, flags...)...)
	require.Zero(t, code, errs)
	_, errs, code = run(t, "import", "--db", db, "--period", period, example)
	require.Zero(t, code, errs)
	return db
}

// Money and dates know nothing of reporting periods: on a day they are the same whatever those are.
func TestFiguresOfADayAreTheSameInEveryCycle(t *testing.T) {
	want, _, code := run(t, "measures", "--db", loaded(t), "--as-of", "2026-03-29")
	require.Zero(t, code)
	require.Contains(t, want, "BR-1")
	for period, flags := range map[string][]string{"2026-W13": {"--periods", "week"}, "2026-W10-13": {"--periods", "four-weeks",
		"--periods-from", "2026-03-02"}} {
		got, errs, code := run(t, "measures", "--db", in(t, period, flags...), "--as-of", "2026-03-29")
		require.Zero(t, code, errs)
		assert.Equal(t, want, got, period)
	}
}

// Four weeks are closed, packed and computed again like a month; the next ones follow, and no month between.
func TestFourWeeksArePublished(t *testing.T) {
	db := in(t, "2026-W10-13", "--periods", "four-weeks", "--periods-from", "2026-03-02")
	dir := t.TempDir()
	out, errs, code := run(t, "publish", "--db", db, "--period", "2026-W10-13", "--waive", "an example", "--out", dir)
	require.Zero(t, code, errs)
	assert.Contains(t, out, "weeks 10 to 13 of 2026 is closed")
	out, errs, code = run(t, "verify", "--db", db, "--pack", filepath.Join(dir, "pack-2026-W10-13-1.pdf"))
	require.Zero(t, code, out+errs)
	for period, says := range map[string]string{"2026-W18-21": "weeks 14 to 17 of 2026 comes first", "2026-04": "such as 2026-W18-21",
		"2026-W14": "such as 2026-W14-17", "April": "expected a month as YYYY-MM, a week as YYYY-Www"} {
		_, errs, code = run(t, "publish", "--db", db, "--period", period)
		assert.NotZero(t, code, period)
		assert.Contains(t, errs, says, period)
	}
	_, errs, code = run(t, "import", "--db", db, "--period", "2026-03", example)
	assert.NotZero(t, code)
	assert.Contains(t, errs, "such as 2026-W14-17")
}

func TestPeriodsThatCannotBeAreNotMade(t *testing.T) {
	for _, flags := range [][]string{{"--periods", "fortnight"}, {"--periods", "four-weeks"},
		{"--periods", "four-weeks", "--periods-from", "2026-03-03"}} {
		db := filepath.Join(t.TempDir(), "x.db")
		_, errs, code := run(t, append([]string{"init", "--db", db}, flags...)...)
		assert.Equal(t, 2, code, errs)
		assert.NoFileExists(t, db)
	}
}

// A file whose name is no kind is refused, also where its heads are those of one, unless --kind says what it is.
func TestAFileIsNamedAfterItsKind(t *testing.T) {
	db, dir := loaded(t), t.TempDir()
	path := filepath.Join(dir, "sprints.csv")
	require.NoError(t, os.WriteFile(path, []byte("project,code,from,to\nBR-1,I1,P,D\n"), 0o600))
	_, errs, code := run(t, "import", "--db", db, path)
	assert.NotZero(t, code)
	assert.Contains(t, errs, "sprints.csv: expected a name that tells the kind")
	_, errs, code = run(t, "import", "--db", db, "--kind", "links", path)
	assert.Zero(t, code, errs)
}
