package session

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A page comes back as it was for whom it was shown, at its address and in its state alone, also after the file was opened again.
func TestPagesAreKeptAsTheyWereShown(t *testing.T) {
	ctx, path := context.Background(), filepath.Join(t.TempDir(), "s.db")
	now := time.Date(2026, 11, 3, 8, 0, 0, 0, time.UTC)
	clock := func() time.Time { now = now.Add(time.Second); return now }
	s, err := Open(ctx, path, clock)
	require.NoError(t, err)
	require.NoError(t, s.KeepShown(ctx, Shown{1, "/", "head 5", []byte("<p>five</p>")}))
	require.NoError(t, s.KeepShown(ctx, Shown{1, "/", "head 6", []byte("<p>six</p>")}))
	require.NoError(t, s.Close())
	require.NoError(t, os.Chmod(path, 0o644), "of an earlier version")
	s, err = Open(ctx, path, clock)
	require.NoError(t, err)
	info, err := os.Stat(path)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm(), "figures are in it")
	defer s.Close()
	last := func(account int64, address, state string) string {
		b, err := s.LastShown(ctx, account, address, state)
		require.NoError(t, err)
		return string(b)
	}
	assert.Equal(t, "<p>six</p>", last(1, "/", "head 6"))
	assert.Empty(t, last(1, "/", "head 5"), "of what was before")
	assert.Empty(t, last(2, "/", "head 6"), "of another")
	assert.Empty(t, last(1, "/?scope=LW", "head 6"), "of another address")
	for i := range MostShown {
		require.NoError(t, s.KeepShown(ctx, Shown{1, fmt.Sprint("/?scope=", i), "head 6", []byte("x")}))
	}
	assert.Empty(t, last(1, "/", "head 6"), "the oldest goes")
	assert.Equal(t, "x", last(1, "/?scope=0", "head 6"))
}
