package disk_test

import (
	"context"
	"errors"
	"os"
	"path/filepath"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "modernc.org/sqlite"

	"turret/internal/disk"
)

// made is a database with some tables, one of which tells the number of its layout.
func made(t *testing.T, layout int, tables ...string) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "a file.db")
	db, err := sqlx.Open("sqlite", path)
	require.NoError(t, err)
	for _, name := range tables {
		db.MustExec("CREATE TABLE " + name + " (version_id INTEGER)")
	}
	db.MustExec("INSERT INTO goose_db_version VALUES (1), (?)", layout)
	require.NoError(t, db.Close())
	return path
}

// A file of the office has its four tables and a layout that is known; any other is left as it is, and the error says why.
func TestWhatIsAFileOfTheOffice(t *testing.T) {
	ctx := context.Background()
	ours := []string{"goose_db_version", "loads", "revisions", "settings"}
	require.NoError(t, disk.Known(ctx, made(t, 7, ours...), 7))
	require.ErrorIs(t, disk.Known(ctx, made(t, 8, ours...), 7), disk.ErrLater)
	require.ErrorIs(t, disk.Known(ctx, made(t, 7, ours[:3]...), 7), disk.ErrForeign)
	text := filepath.Join(t.TempDir(), "text.db")
	require.NoError(t, os.WriteFile(text, []byte("SQLite format of sorts, but text"), 0o600))
	require.ErrorIs(t, disk.Known(ctx, text, 7), disk.ErrForeign)
	require.ErrorIs(t, disk.Known(ctx, text+" not there", 7), os.ErrNotExist)
}

// A file that was cut off is not taken for a whole one.
func TestACutFile(t *testing.T) {
	path := made(t, 1, "goose_db_version")
	require.NoError(t, disk.Uncut(path))
	s, err := os.Stat(path)
	require.NoError(t, err)
	require.NoError(t, os.Truncate(path, s.Size()-1))
	require.ErrorContains(t, disk.Uncut(path), "cut off")
	require.NoError(t, os.Truncate(path, 50))
	require.ErrorIs(t, disk.Uncut(path), disk.ErrForeign)
}

// What is written beside stands in its place once it is whole, or not at all; nothing of the try is left, and nothing is written over.
func TestWritingBeside(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, "new.db")
	broke := errors.New("broke")
	require.ErrorIs(t, disk.Aside(path, func(part string) error {
		require.NoError(t, os.WriteFile(part, []byte("half"), 0o600))
		return broke
	}), broke)
	left, err := os.ReadDir(dir)
	require.NoError(t, err)
	assert.Empty(t, left)
	require.NoError(t, disk.Aside(path, func(part string) error { return os.WriteFile(part, []byte("whole"), 0o600) }))
	require.ErrorIs(t, disk.Aside(path, func(string) error { return nil }), os.ErrExist)
	b, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, "whole", string(b))
	left, err = os.ReadDir(dir)
	require.NoError(t, err)
	assert.Len(t, left, 1)
}
