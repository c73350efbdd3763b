package main

import (
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/store"
)

// A day that is staged begins at nine and goes on as time does; it is that day whatever the machine's clock says.
func TestAStagedDay(t *testing.T) {
	for _, day := range []calendar.Date{calendar.On(2026, 11, 3), calendar.On(2028, 2, 29), calendar.On(2030, 1, 1)} {
		now := staged(day)
		first := now()
		assert.Equal(t, day, now.today())
		assert.Equal(t, morning, first.Hour(), "%s", first)
		assert.False(t, now().Before(first), "it does not run backwards")
	}
}

// From nine to the last second of a day, and then no further: fifteen hours on it is still that day.
func TestAStagedDayDoesNotEnd(t *testing.T) {
	day := calendar.On(2026, 12, 31)
	for _, x := range []struct {
		after time.Duration
		want  string
	}{{0, "2026-12-31 09:00:00"}, {time.Minute, "2026-12-31 09:01:00"}, {15*time.Hour - 2*time.Second, "2026-12-31 23:59:58"},
		{15 * time.Hour, "2026-12-31 23:59:59"}, {400 * time.Hour, "2026-12-31 23:59:59"}} {
		got := stagedAt(day, x.after)
		assert.Equal(t, x.want, got.Format(time.DateTime), "%s after the start", x.after)
	}
}

// What is stamped in a file follows --today, and a file without a period is for the last period that was whole by then.
func TestTodayIsTold(t *testing.T) {
	for day, period := range map[string]string{"2026-11-03": "October 2026", "2026-12-31": "November 2026", "2028-02-29": "January 2028",
		"2030-01-01": "December 2029"} {
		db := filepath.Join(t.TempDir(), "x.db")
		_, errs, code := run(t, "init", "--db", db)
		require.Zero(t, code, errs)
		_, errs, code = run(t, "--today", day, "import", "--db", db, example)
		require.Zero(t, code, errs)
		s, err := store.Open(t.Context(), db)
		require.NoError(t, err)
		list, err := s.Loads(t.Context())
		require.NoError(t, err)
		require.NotEmpty(t, list)
		for _, l := range list {
			assert.Equal(t, period, l.Period.Name(), day)
			assert.Equal(t, day, l.ReceivedAt.Local().Format(time.DateOnly))
		}
		require.NoError(t, s.Close())
	}
}

func TestATodayThatIsNoDayIsRefused(t *testing.T) {
	db := filepath.Join(t.TempDir(), "x.db")
	for _, wrong := range []string{"2026-02-30", "3 November", "2026-13-01", "0"} {
		_, errs, code := run(t, "init", "--today", wrong, "--db", db)
		assert.Equal(t, 2, code, wrong)
		assert.Contains(t, errs, "--today: ")
		assert.Contains(t, errs, "expected YYYY-MM-DD")
		assert.NoFileExists(t, db, "nothing is done")
	}
}
