package main

import (
	"context"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// served starts a server in the background, and ends it with the test. It answers at the address that a pattern finds in what it says.
func served(t *testing.T, args ...string) *waiter {
	t.Helper()
	ctx, stop := context.WithCancel(context.Background())
	out, done := &waiter{}, make(chan error, 1)
	c := root()
	c.SetOut(out)
	c.SetArgs(append([]string{"serve", "--addr", ":0"}, args...))
	go func() { done <- c.ExecuteContext(ctx) }()
	t.Cleanup(func() {
		stop()
		assert.NoError(t, <-done)
	})
	require.Eventually(t, func() bool { return out.find(`Turret is at https?://\S+`) != "" }, time.Minute, 20*time.Millisecond)
	return out
}

func got(t *testing.T, address string) (int, string) {
	t.Helper()
	r, err := http.NewRequestWithContext(t.Context(), http.MethodGet, address, nil)
	require.NoError(t, err)
	resp, err := http.DefaultClient.Do(r)
	require.NoError(t, err)
	defer resp.Body.Close()
	b, err := io.ReadAll(resp.Body)
	require.NoError(t, err)
	return resp.StatusCode, string(b)
}

// A server makes a backup as it starts. It is restored to a new place, verified, and tells what the file told, with what is attached.
func TestBackupsAreMadeWhileServingAndCanBeRestored(t *testing.T) {
	db := loaded(t)
	note := filepath.Join(filesOf(db), "2d", "2d711642b726b04401627ca9fbac32f5c8530fb1903cc4db02258717921a4881")
	require.NoError(t, os.MkdirAll(filepath.Dir(note), 0o700))
	require.NoError(t, os.WriteFile(note, []byte("x"), 0o600))
	to := filepath.Join(t.TempDir(), "copies")
	served(t, "--db", db, "--backup-to", to, "--backup-keep", "2")
	var made []string
	require.Eventually(t, func() bool {
		made, _ = filepath.Glob(to + "/*-*.db")
		folders, _ := filepath.Glob(to + "/*-*.db.files/2d/*")
		return len(made) == 1 && len(folders) == 1
	}, time.Minute, 20*time.Millisecond)

	again := filepath.Join(t.TempDir(), "again.db")
	out, errs, code := run(t, "restore", "--db", again, made[0])
	require.Zero(t, code, errs)
	assert.Contains(t, out, "is whole, and what it tells of stands as it was made")
	assert.FileExists(t, filepath.Join(filesOf(again), "2d", filepath.Base(note)))
	figures := func(db string) string {
		out, errs, code := run(t, "measures", "--db", db, "--as-of", "2026-03-18", "--format", "csv")
		require.Zero(t, code, errs)
		return out
	}
	assert.Equal(t, figures(db), figures(again))
}

func TestAServerTellsHowItIs(t *testing.T) {
	out := served(t, "--db", loaded(t), "--metrics", ":0", "--backup-to", t.TempDir())
	base := strings.TrimPrefix(out.find(`Turret is at http://\S+`), "Turret is at ")
	for _, path := range []string{"/healthz", "/readyz", "/no-such-thing", "/projects/BR-1"} {
		got(t, base+path)
	}
	status, text := got(t, out.find(`http://127\.0\.0\.1:\d+/metrics`))
	assert.Equal(t, http.StatusOK, status)
	for _, line := range []string{`turret_request_seconds_count{method="GET",route="/readyz",status="200"} 1`, `route="none"`,
		"turret_requests_under_way 0", "\nturret_file_bytes ", "\nturret_file_log_bytes ", "\nturret_backup_failed 0", "\nprocess_open_fds ",
		"\ngo_goroutines "} {
		assert.Contains(t, text, line)
	}
	assert.NotContains(t, text, "BR-1", "no address of a project is a label")
}

// Two servers on one file would send every letter twice. Whoever comes second is told, and may serve once the first has ended.
func TestOneServerToAFile(t *testing.T) {
	db := loaded(t)
	t.Run("while it is served", func(t *testing.T) {
		served(t, "--db", db)
		_, errs, code := run(t, "serve", "--db", db, "--addr", ":0")
		assert.Equal(t, 1, code)
		assert.Contains(t, errs, db+" is served already; stop the other server first")
		_, errs, code = run(t, "measures", "--db", db, "--as-of", "2026-03-18")
		assert.Zero(t, code, errs)
	})
	served(t, "--db", db)
}

func TestWhatAServerCannotDoIsRefused(t *testing.T) {
	db := loaded(t)
	for _, x := range [][]string{{"--backup-to", t.TempDir(), "--backup-every", "3s"}, {"--backup-to", t.TempDir(), "--backup-keep", "0"},
		{"--backup-to", db}, {"--metrics", "nowhere"}} {
		_, errs, code := run(t, append([]string{"serve", "--db", db, "--addr", ":0"}, x...)...)
		assert.Equal(t, 2, code, x)
		assert.Contains(t, errs, x[0], "it says which")
	}
}
