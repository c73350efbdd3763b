package backup_test

import (
	"context"
	"errors"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/backup"
)

// kept is a schedule into a folder, a day between two and three kept, on a clock that is put by hand.
type kept struct {
	*backup.Schedule
	now  time.Time
	full error // what copying fails with
}

func schedule(t *testing.T) *kept {
	t.Helper()
	k := &kept{now: time.Date(2026, 11, 3, 8, 0, 0, 0, time.FixedZone("east", 3600))}
	k.Schedule = &backup.Schedule{Dir: filepath.Join(t.TempDir(), "made"), Name: "office", Every: 24 * time.Hour, Keep: 3,
		Now: func() time.Time { return k.now },
		Copy: func(_ context.Context, to string) error {
			if k.full != nil {
				return k.full
			}
			return os.WriteFile(to, []byte(k.now.String()), 0o600)
		},
		Files: func(_ context.Context, dir string) error {
			at := filepath.Join(dir, "ab", "abcd")
			if _, err := os.Stat(at); err == nil {
				return nil
			}
			if err := os.MkdirAll(filepath.Dir(at), 0o700); err != nil {
				return err
			}
			return os.WriteFile(at, []byte("note"), 0o600)
		}}
	require.NoError(t, k.Check())
	return k
}

func (k *kept) names(t *testing.T) (list []string) {
	t.Helper()
	entries, err := os.ReadDir(k.Dir)
	require.NoError(t, err)
	for _, e := range entries {
		list = append(list, e.Name())
	}
	return list
}

func TestTheLastCopiesAreKept(t *testing.T) {
	k := schedule(t)
	for _, other := range []string{"office-of-mine.db", "other-2026-11-01T070000Z.db"} {
		require.NoError(t, os.WriteFile(filepath.Join(k.Dir, other), nil, 0o600))
	}
	for range 5 {
		_, err := k.Once(t.Context())
		require.NoError(t, err)
		k.now = k.now.Add(24 * time.Hour)
	}
	assert.Equal(t, []string{"office-2026-11-05T070000Z.db", "office-2026-11-05T070000Z.db.files", "office-2026-11-06T070000Z.db",
		"office-2026-11-06T070000Z.db.files", "office-2026-11-07T070000Z.db", "office-2026-11-07T070000Z.db.files", "office-of-mine.db",
		"other-2026-11-01T070000Z.db"}, k.names(t), "three, by the time of Greenwich, and what is not ours")
	first, err := os.Stat(filepath.Join(k.Dir, "office-2026-11-05T070000Z.db.files/ab/abcd"))
	require.NoError(t, err)
	last, err := os.Stat(filepath.Join(k.Dir, "office-2026-11-07T070000Z.db.files/ab/abcd"))
	require.NoError(t, err)
	assert.True(t, os.SameFile(first, last), "what is attached takes its room once")
}

// What cannot be written takes nothing away and leaves nothing behind, and is told until one is made.
func TestACopyThatFails(t *testing.T) {
	k := schedule(t)
	last, failed, why := k.State()
	assert.True(t, last.IsZero())
	assert.Zero(t, failed)
	assert.NoError(t, why)
	first, err := k.Once(t.Context())
	require.NoError(t, err)
	made := k.now
	k.full, k.Keep, k.now = errors.New("no space left on device"), 1, k.now.Add(time.Hour)
	for range 2 {
		_, err = k.Once(t.Context())
		require.ErrorIs(t, err, k.full)
	}
	assert.FileExists(t, first)
	last, failed, why = k.State()
	assert.True(t, made.Equal(last))
	assert.Equal(t, 2, failed)
	assert.ErrorIs(t, why, k.full)
	k.full = nil
	_, err = k.Once(t.Context())
	require.NoError(t, err)
	assert.NoFileExists(t, first)
	_, failed, why = k.State()
	assert.Zero(t, failed)
	assert.NoError(t, why)
}

// A copy without what is attached is none: nothing of it is left, and it is due as before. One that was cut short is written anew.
func TestACopyWithoutWhatIsAttached(t *testing.T) {
	k := schedule(t)
	files := k.Files
	k.Files = func(_ context.Context, dir string) error {
		return errors.Join(os.MkdirAll(filepath.Join(dir, "ab"), 0o700), errors.New("damaged"))
	}
	_, err := k.Once(t.Context())
	require.ErrorContains(t, err, "damaged")
	assert.Empty(t, k.names(t))
	_, failed, _ := k.State()
	assert.Equal(t, 1, failed)

	k.Files = files
	require.NoError(t, os.WriteFile(filepath.Join(k.Dir, "office-2026-11-03T070000Z.db.part"), []byte("cut sh"), 0o600))
	path, err := k.Once(t.Context())
	require.NoError(t, err)
	assert.Equal(t, []string{"office-2026-11-03T070000Z.db", "office-2026-11-03T070000Z.db.files"}, k.names(t))
	_, err = k.Once(t.Context())
	require.ErrorIs(t, err, os.ErrExist, "nothing is written over")
	assert.FileExists(t, path)
	assert.DirExists(t, path+".files")
}

// A server that starts again goes on where the one before it was; a clock that jumps back stops nothing.
func TestWhenACopyIsDue(t *testing.T) {
	k := schedule(t)
	runs := func() int {
		before := len(k.names(t))
		ctx, cancel := context.WithTimeout(t.Context(), 50*time.Millisecond)
		defer cancel()
		k.Run(ctx)
		return len(k.names(t)) - before
	}
	assert.Equal(t, 2, runs(), "the first at once")
	assert.Zero(t, runs(), "not twice a day")
	k.now = k.now.Add(24*time.Hour - time.Second)
	assert.Zero(t, runs())
	k.now = k.now.Add(time.Second)
	assert.Equal(t, 2, runs())
	k.now = k.now.AddDate(0, -1, 0)
	assert.Equal(t, 2, runs(), "what was made in the future is none of today")
	again := &backup.Schedule{Dir: k.Dir, Name: "office", Now: k.Now}
	last, _, _ := again.State()
	assert.Equal(t, 4, last.Day(), "the last one there is")
}

func TestSchedulesThatCannotBeKept(t *testing.T) {
	k := schedule(t)
	k.Every = time.Minute - 1
	assert.ErrorContains(t, k.Check(), "expected a minute at least")
	k.Every, k.Keep = time.Minute, 0
	assert.ErrorContains(t, k.Check(), "expected 1 at least")
	k.Keep, k.Dir = 1, filepath.Join(k.Dir, "file")
	require.NoError(t, os.WriteFile(k.Dir, nil, 0o600))
	assert.Error(t, k.Check(), "a file is no folder")
}
