package disk

import (
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Of three folders beside a new one, that which is a second older than a day goes; one of exactly a day, and another name, stay.
func TestWhatIsForgotten(t *testing.T) {
	dir := t.TempDir()
	made := filepath.Join(dir, "try-new")
	require.NoError(t, os.Mkdir(made, 0o700))
	now, err := os.Stat(made)
	require.NoError(t, err)
	for name, age := range map[string]time.Duration{"try-old": 24*time.Hour + time.Second, "try-day": 24 * time.Hour,
		"kept-old": 48 * time.Hour} {
		path := filepath.Join(dir, name)
		require.NoError(t, os.Mkdir(path, 0o700))
		at := now.ModTime().Add(-age)
		require.NoError(t, os.Chtimes(path, at, at))
	}
	Forget(made, "try-", 24*time.Hour)
	assert.NoDirExists(t, filepath.Join(dir, "try-old"))
	for _, name := range []string{"try-day", "kept-old", "try-new"} {
		assert.DirExists(t, filepath.Join(dir, name))
	}
}
