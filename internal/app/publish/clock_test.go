package publish_test

import (
	"context"
	"fmt"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/apptest"
	"turret/internal/app/kept"
	"turret/internal/app/publish"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/demotest"
	"turret/internal/ingest"
	"turret/internal/record"
	"turret/internal/store"
)

// The machine's clock is put back by an hour just when October is closed. A status that somebody sets afterwards, earlier by that clock, is
// not of the closed period: its figures stay, and its issue recomputes to the same bits.
func TestAClockPutBackWhileAPeriodIsClosed(t *testing.T) {
	for name, back := range map[string]time.Duration{"an hour": time.Hour, "nothing, it stands still": 0, "a second": time.Second} {
		t.Run(name, func(t *testing.T) {
			at := apptest.At
			s, err := demotest.Create(apptest.Ctx, filepath.Join(t.TempDir(), "h.db"))
			require.NoError(t, err)
			t.Cleanup(func() { _ = s.Close() })
			o := app.NewOffice(s, func() time.Time { return at }, app.Parts{Reader: ingest.Reader{}})
			apptest.Send(t, o, apptest.Sent{Kind: record.Structure, Period: apptest.October,
				Text: "code,name,level\nPF,Portfolio,portfolio\n"},
				apptest.Sent{Kind: record.Projects, Period: apptest.October, Text: "code,name,parent,lead\nA,First,PF,Ann\n"},
				apptest.Sent{Kind: record.Activities, Period: apptest.October, Text: "project,code,name,baseline_finish,finish\n" +
					"A,1,Dig,2026-11-06,2026-11-06\n"})
			_, err = o.Publish.Close(apptest.Ctx, apptest.October)
			require.NoError(t, err)
			at = at.Add(-back)
			a := apptest.Assessed(t, o, calendar.On(2026, 11, 4))
			require.NoError(t, o.Judge.SetStatus(apptest.Ctx, a, "A", health.Override{On: health.Overall, Status: health.Act,
				Reason: "the lock keeper says so", Until: calendar.On(2026, 12, 31)}))
			a = apptest.Assessed(t, o, apptest.Last)
			assert.Empty(t, a.Projects[0].Overrides, "October stays as it was closed")
			require.NoError(t, o.Publish.Recompute(apptest.Ctx, func(x publish.Recomputed) { assert.Empty(t, x.Differs, x.Name()) }))
			a = apptest.Assessed(t, o, calendar.On(2026, 11, 4))
			assert.Len(t, a.Projects[0].Overrides, 1, "what is set counts from then on")
		})
	}
}

// moving is a store in which somebody decides something just after a period was begun to be computed.
type moving struct {
	*store.Store
	meanwhile func()
	times     int // that it still happens
}

// Loads are read once the settings are.
func (m *moving) Loads(ctx context.Context) ([]kept.Load, error) {
	if m.times > 0 {
		m.times--
		m.meanwhile()
	}
	return m.Store.Loads(ctx)
}

// Settings that are saved while a period is computed are those of the period, and of its figures: never of one of the two. Where they are
// saved again and again the last try keeps others from it.
func TestSettingsSavedWhileAPeriodIsClosed(t *testing.T) {
	for _, times := range []int{1, 2} {
		s, o := apptest.Stored(t)
		n := 0
		m := &moving{Store: s, times: times}
		busy := app.NewOffice(m, demotest.Now, app.Parts{Reader: ingest.Reader{}})
		m.meanwhile = func() {
			set, err := o.Setting.Get(apptest.Ctx)
			require.NoError(t, err)
			n++
			set.LookAhead = 10 + n
			require.NoError(t, o.Setting.Save(apptest.Ctx, set))
		}
		p, err := busy.Publish.Close(apptest.Ctx, apptest.October)
		require.NoError(t, err)
		assert.Equal(t, times, n)
		assert.Contains(t, p.Settings, fmt.Sprintf(`"look_ahead_days":%d`, 10+n), "what was saved last")
		require.NoError(t, o.Publish.Recompute(apptest.Ctx, func(x publish.Recomputed) { assert.Empty(t, x.Differs, x.Name()) }))
	}
}
