package attach_test

import (
	"crypto/sha256"
	"encoding/hex"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/fault"
	"turret/internal/attach"
)

func put(t *testing.T, f attach.Folder, text string) string {
	t.Helper()
	digest, size, err := f.Put(strings.NewReader(text), 100)
	require.NoError(t, err)
	want := sha256.Sum256([]byte(text))
	assert.Equal(t, hex.EncodeToString(want[:]), digest)
	assert.EqualValues(t, len(text), size)
	return digest
}

func read(t *testing.T, f attach.Folder, digest string) string {
	t.Helper()
	r, err := f.Open(digest)
	require.NoError(t, err)
	defer r.Close()
	b, err := io.ReadAll(r)
	require.NoError(t, err)
	return string(b)
}

// What is too large leaves nothing behind, and a digest never leads out of the folder.
func TestWhatIsKeptAndWhatIsNot(t *testing.T) {
	f := attach.In(filepath.Join(t.TempDir(), "files"))
	digest := put(t, f, "a plan")
	assert.Equal(t, digest, put(t, f, "a plan"), "once")
	assert.Equal(t, "a plan", read(t, f, digest))
	_, _, err := f.Put(strings.NewReader(strings.Repeat("x", 101)), 100)
	require.ErrorIs(t, err, fault.ErrTooLarge)
	left, err := filepath.Glob(filepath.Join(string(f), "coming-*"))
	require.NoError(t, err)
	assert.Empty(t, left)
	for _, name := range []string{"", "../../etc/passwd", strings.Repeat("0", 64), strings.ToUpper(digest)} {
		_, err := f.Open(name)
		require.ErrorIs(t, err, fault.ErrNotFound, name)
	}
}

// A copy holds what was kept; what was changed on the disk is named and left out, and the rest is there.
func TestCopyingAFolder(t *testing.T) {
	dir := t.TempDir()
	f, to := attach.In(filepath.Join(dir, "a")), attach.In(filepath.Join(dir, "b"))
	n, err := f.CopyTo(to)
	require.NoError(t, err, "nothing was ever attached")
	assert.Zero(t, n)
	whole, broken := put(t, f, "whole"), put(t, f, "broken")
	require.NoError(t, os.WriteFile(filepath.Join(string(f), broken[:2], broken), []byte("other"), 0o600))
	n, err = f.CopyTo(to)
	require.ErrorContains(t, err, broken[:12])
	assert.Equal(t, 1, n)
	assert.Equal(t, "whole", read(t, to, whole))
	_, err = to.Open(broken)
	require.ErrorIs(t, err, fault.ErrNotFound)
	n, _ = f.CopyTo(to)
	assert.Zero(t, n, "it is there already")
}
