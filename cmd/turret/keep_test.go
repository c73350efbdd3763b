package main

import (
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"turret/internal/attach"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestMain lets the test's own binary be Turret, so that it can be killed.
func TestMain(m *testing.M) {
	if os.Getenv("TURRET_AS_COMMAND") != "" {
		main()
		return
	}
	os.Exit(m.Run())
}

// A load that is killed at any moment leaves the file as before it or as after it, and the file whole.
func TestKilledLoadsLeaveTheFileBeforeOrAfter(t *testing.T) {
	dir := t.TempDir()
	db := filepath.Join(dir, "x.db")
	_, errs, code := run(t, "init", "--db", db)
	require.Zero(t, code, errs)
	write := func(name, text string) string {
		path := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(path, []byte(text), 0o600))
		return path
	}
	_, errs, code = run(t, "import", "--db", db, write("projects.csv", "code,name\nP,N\nQ,N\n"),
		write("cost_codes.csv", "code,name\nC,N\n"))
	require.Zero(t, code, errs)
	const rows = 30_000
	state := func() (loads, postings int) {
		t.Helper()
		raw, err := sqlx.Open("sqlite", db)
		require.NoError(t, err)
		defer raw.Close()
		var whole string
		require.NoError(t, raw.Get(&whole, `PRAGMA integrity_check`))
		require.Equal(t, "ok", whole)
		require.NoError(t, raw.Get(&loads, `SELECT count(*) FROM loads WHERE kind = 'actuals'`))
		require.NoError(t, raw.Get(&postings, `SELECT count(*) FROM postings`))
		return loads, postings
	}
	finished, killed := 0, 0
	for i := range 12 {
		var b strings.Builder
		b.WriteString("project,cost_code,date,amount,document\n")
		for n := range rows {
			fmt.Fprintf(&b, "%c,C,2026-01-02,%d.50,D%d-%d\n", 'P'+n%2, n, i, n)
		}
		path := write("actuals.csv", b.String())
		c := exec.CommandContext(t.Context(), os.Args[0], "import", "--db", db, path)
		c.Env = append(os.Environ(), "TURRET_AS_COMMAND=1")
		require.NoError(t, c.Start())
		time.AfterFunc(time.Duration(20+i*50)*time.Millisecond, func() { _ = c.Process.Kill() })
		if err := c.Wait(); err == nil {
			finished++
		} else {
			killed++
		}
		loads, postings := state()
		require.Equal(t, loads*rows, postings, "the file is as before the load or as after it")
		require.GreaterOrEqual(t, loads, finished)
	}
	t.Logf("%d killed, %d finished", killed, finished)
	assert.Positive(t, killed)
	out, errs, code := run(t, "verify", "--db", db)
	require.Zero(t, code, errs)
	assert.Contains(t, out, "whole")
	_, errs, code = run(t, "import", "--db", db, write("actuals.csv", "project,cost_code,date,amount\nP,C,2026-01-02,1\n"))
	assert.Zero(t, code, errs)
}

func TestBackupAndRestore(t *testing.T) {
	db := loaded(t)
	dir := t.TempDir()
	copied, again := filepath.Join(dir, "copy.db"), filepath.Join(dir, "again.db")
	digest, _, err := attach.In(db+".files").Put(strings.NewReader("a plan"), 100)
	require.NoError(t, err)
	_, errs, code := run(t, "backup", "--db", db, copied)
	require.Zero(t, code, errs)
	_, errs, code = run(t, "backup", "--db", db, copied)
	assert.Equal(t, 1, code, "a backup is not written over")
	assert.Contains(t, errs, "exist")
	_, errs, code = run(t, "restore", "--db", db, copied)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "is there already")
	_, errs, code = run(t, "restore", "--db", again, copied)
	require.Zero(t, code, errs)
	kept, err := attach.In(again + ".files").Open(digest)
	require.NoError(t, err, "what was attached comes along")
	require.NoError(t, kept.Close())
	one, _, _ := run(t, "measures", "--db", db, "--as-of", "2026-03-18")
	two, _, _ := run(t, "measures", "--db", again, "--as-of", "2026-03-18")
	assert.Equal(t, one, two)
	b, err := os.ReadFile(copied)
	require.NoError(t, err)
	for i := 4096 * 3; i < len(b)-4096; i += 977 {
		b[i] ^= 0x55
	}
	broken := filepath.Join(dir, "broken.db")
	require.NoError(t, os.WriteFile(broken, b, 0o600))
	_, _, code = run(t, "restore", "--db", filepath.Join(dir, "from broken.db"), broken)
	assert.Equal(t, 1, code)
}

// Rows that are written out and taken in again give the same figures.
func TestExportComesBack(t *testing.T) {
	db := loaded(t)
	for _, format := range []string{"csv", "xlsx", "json"} {
		dir := t.TempDir()
		other := filepath.Join(dir, "other.db")
		_, errs, code := run(t, "init", "--db", other)
		require.Zero(t, code, errs)
		for _, kind := range []string{"structure", "calendars", "cost_codes", "rates", "projects", "activities", "links", "budget",
			"forecast", "actuals", "status",
			"commitments", "changes", "funding", "revenue", "people", "labour_rates", "timesheets"} {
			out := filepath.Join(dir, kind+"."+format)
			_, errs, code := run(t, "export", "--db", db, "--kind", kind, "--format", format, "--out", out)
			require.Zero(t, code, errs)
			rows, _, _ := run(t, "export", "--db", db, "--kind", kind, "--format", "json")
			var list []any
			require.NoError(t, json.Unmarshal([]byte(rows), &list))
			if len(list) == 0 {
				continue
			}
			_, errs, code = run(t, "import", "--db", other, "--kind", kind, out)
			require.Zero(t, code, "%s: %s", out, errs)
		}
		one, _, _ := run(t, "measures", "--db", db, "--as-of", "2026-03-18")
		two, _, _ := run(t, "measures", "--db", other, "--as-of", "2026-03-18")
		assert.Equal(t, one, two, format)
	}
	_, _, code := run(t, "export", "--db", db, "--kind", "budget", "--format", "pdf")
	assert.Equal(t, 2, code)
}

// A file that is none of Turret's is neither verified nor restored, and stays as it is.
func TestForeignFilesOnTheCommandLine(t *testing.T) {
	dir := t.TempDir()
	for name, content := range map[string]string{"empty.db": "", "text.db": "code,name\n"} {
		path, to := filepath.Join(dir, name), filepath.Join(dir, "new-"+name)
		require.NoError(t, os.WriteFile(path, []byte(content), 0o600))
		for _, args := range [][]string{{"verify", "--db", path}, {"restore", "--db", to, path},
			{"measures", "--db", path, "--as-of", "2026-03-31"}} {
			_, errs, code := run(t, args...)
			assert.NotZero(t, code, args)
			assert.Contains(t, errs, "no file of Turret's", args)
		}
		b, err := os.ReadFile(path)
		require.NoError(t, err)
		assert.Equal(t, content, string(b))
		assert.NoFileExists(t, to)
	}
}
