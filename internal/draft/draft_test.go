package draft

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"turret/internal/app/fault"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Names that came from outside are shown, cleaned, and never become a path.
func TestNamesAreNeverPaths(t *testing.T) {
	dir := t.TempDir()
	f := In(filepath.Join(dir, "drafts"), time.Time{})
	d, err := f.New()
	require.NoError(t, err)
	for given, want := range map[string]string{"../../etc/passwd": "passwd", `C:\Users\x\plan.xlsx`: "plan.xlsx", "..": "file",
		"": "file", "a\x00b\n.csv": "ab.csv",
		"/": "file", strings.Repeat("ä", 400): strings.Repeat("ä", 150) + "…", "plan.csv": "plan.csv"} {
		require.NoError(t, f.Add(d, given, strings.NewReader("x")))
		assert.Equal(t, want, strings.TrimPrefix(strings.TrimPrefix(strings.TrimPrefix(d.Files[len(d.Files)-1].Name, "again "), "again "),
			"again "), given)
	}
	require.NoError(t, f.Add(d, "plan.csv", strings.NewReader("y")))
	assert.Equal(t, "again plan.csv", d.Files[len(d.Files)-1].Name, "two files of a name stay two")
	entries, err := os.ReadDir(filepath.Join(dir, "drafts", d.ID))
	require.NoError(t, err)
	for _, e := range entries {
		assert.Regexp(t, `^\d{3}$`, e.Name())
	}
	outside, err := os.ReadDir(dir)
	require.NoError(t, err)
	assert.Len(t, outside, 1)
}

func TestDraftsAreKeptListedAndThrownAway(t *testing.T) {
	dir := t.TempDir()
	f := In(dir, time.Time{})
	list, err := In(filepath.Join(dir, "nothing yet"), time.Time{}).List()
	require.NoError(t, err)
	assert.Empty(t, list)
	d, err := f.New()
	require.NoError(t, err)
	d.Source = "Somebody"
	require.NoError(t, f.Save(d))
	again, err := In(dir, time.Time{}).Get(d.ID)
	require.NoError(t, err, "a draft outlives the program")
	assert.Equal(t, "Somebody", again.Source)
	for _, bad := range []string{"", "..", "../" + d.ID, strings.ToUpper(d.ID), d.ID + "0"} {
		_, err := f.Get(bad)
		assert.ErrorIs(t, err, fault.ErrNotFound, bad)
		assert.ErrorIs(t, f.Discard(bad), fault.ErrNotFound, bad)
	}
	old := In(dir, time.Now().Add(time.Hour))
	list, err = old.List()
	require.NoError(t, err)
	assert.Empty(t, list, "those untouched for long are thrown away")
}
