package store_test

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/disk"
	"turret/internal/store"
)

func bytesOf(t *testing.T, path string) []byte {
	t.Helper()
	b, err := os.ReadFile(path)
	require.NoError(t, err)
	return b
}

// strange makes files that are none of Turret's.
func strange(t *testing.T) map[string]string {
	t.Helper()
	dir := t.TempDir()
	files := map[string]string{}
	for name, content := range map[string]string{"empty": "", "text": "code,name\nA,B\n", "begun": "SQLite format 3\x00",
		"garbage": "SQLite format 3\x00" + string(make([]byte, 5000))} {
		files[name] = filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(files[name], []byte(content), 0o600))
	}
	files["another's"] = filepath.Join(dir, "other.db")
	db := sqlx.MustOpen("sqlite", files["another's"])
	db.MustExec(
		`CREATE TABLE settings (key TEXT); CREATE TABLE goose_db_version (id INTEGER, version_id INTEGER); INSERT INTO goose_db_version VALUES (1, 3)`)
	require.NoError(t, db.Close())
	files["another's, bare"] = filepath.Join(dir, "bare.db")
	db = sqlx.MustOpen("sqlite", files["another's, bare"])
	db.MustExec(`CREATE TABLE notes (text TEXT)`)
	require.NoError(t, db.Close())
	return files
}

// A file that is none of Turret's is neither opened nor restored, and nothing is written into it.
func TestForeignFilesStayAsTheyAre(t *testing.T) {
	for name, path := range strange(t) {
		before := bytesOf(t, path)
		_, err := store.Open(ctx, path)
		assert.ErrorIs(t, err, disk.ErrForeign, name)
		to := filepath.Join(t.TempDir(), "new.db")
		err = store.Restore(ctx, path, to, func(*store.Store) error { return nil })
		assert.ErrorIs(t, err, disk.ErrForeign, name)
		assert.NoFileExists(t, to, name)
		assert.Equal(t, before, bytesOf(t, path), name)
	}
}

func TestALaterFileIsNotServed(t *testing.T) {
	path := filepath.Join(t.TempDir(), "later.db")
	s, err := store.Create(ctx, path, "EUR")
	require.NoError(t, err)
	require.NoError(t, s.Close())
	db := sqlx.MustOpen("sqlite", path)
	db.MustExec(`INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)`)
	require.NoError(t, db.Close())
	before := bytesOf(t, path)
	_, err = store.Open(ctx, path)
	assert.ErrorIs(t, err, disk.ErrLater)
	assert.Equal(t, before, bytesOf(t, path))
}

// A backup that breaks off leaves nothing that could be taken for one, and a cut one is not restored.
func TestABackupIsWholeOrNotThere(t *testing.T) {
	s, o := apptest.Opened(t)
	dir := t.TempDir()
	path := filepath.Join(dir, "backup.db")
	stopped, stop := context.WithCancel(ctx)
	stop()
	require.Error(t, s.Backup(stopped, path))
	left, err := os.ReadDir(dir)
	require.NoError(t, err)
	assert.Empty(t, left)

	require.NoError(t, s.Backup(ctx, path))
	left, err = os.ReadDir(dir)
	require.NoError(t, err)
	assert.Len(t, left, 1, "nothing beside it")
	whole := bytesOf(t, path)
	for _, n := range []int{1, 4096, len(whole) / 3, len(whole) / 2, len(whole) - 4096, len(whole) - 1} {
		cut, to := filepath.Join(dir, "cut.db"), filepath.Join(dir, "new.db")
		require.NoError(t, os.WriteFile(cut, whole[:n], 0o600))
		assert.Error(t, store.Restore(ctx, cut, to, func(*store.Store) error { return nil }), "the first %d bytes of %d", n, len(whole))
		assert.NoFileExists(t, to)
	}
	to := filepath.Join(dir, "new.db")
	assert.ErrorIs(t, store.Restore(ctx, path, to, func(*store.Store) error { return assert.AnError }), assert.AnError)
	assert.NoFileExists(t, to, "what does not verify is not put there")
	require.NoError(t, store.Restore(ctx, path, to, func(*store.Store) error { return nil }))
	assert.Equal(t, whole, bytesOf(t, path), "the backup stays as it is")
	assert.ErrorIs(t, store.Restore(ctx, path, to, func(*store.Store) error { return nil }), os.ErrExist)
	back, err := store.Open(ctx, to)
	require.NoError(t, err)
	assert.Equal(t, loadsOf(t, s), loadsOf(t, back))
	require.NoError(t, back.Close())
	_ = o
}

// A copy of a file that is being served lacks what is not written back into it yet.
func TestAFileInUseIsNotRestored(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, "live.db")
	s, err := store.Create(ctx, path, "EUR")
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t, os.WriteFile(path+"-wal", []byte("x"), 0o600))
	assert.ErrorIs(t, store.Restore(ctx, path, filepath.Join(dir, "new.db"), func(*store.Store) error { return nil }), disk.ErrBusy)
}
