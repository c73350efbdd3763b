package feed_test

import (
	"crypto/sha256"
	"fmt"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/feed"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/record"
)

// standing is what stands of every kind that a feed may bring, in short.
func standing(c *apptest.Connected) map[record.Kind]string {
	c.T.Helper()
	n := map[record.Kind]string{}
	for _, k := range []record.Kind{record.Actuals, record.Activities, record.Links, record.Timesheets, record.Backlog} {
		f, err := c.Store.Rows(c.Ctx, k, kept.Selection{})
		require.NoError(c.T, err)
		n[k] = fmt.Sprintf("%d rows, %x", f.Len(), sha256.Sum256(fmt.Append(nil, f.Postings, f.Activities, f.Links, f.Records)))
	}
	return n
}

// loadsOf are the loads of a file, which rows stand or fall with.
func loadsOf(c *apptest.Connected) []kept.Load {
	c.T.Helper()
	list, err := c.Store.Loads(c.Ctx)
	require.NoError(c.T, err)
	return list
}

// A feed of any kind brings the same whether its system answers at once or every other time fails, brings nothing a second time, and
// leaves everything as it was, its place included, where the system never answers, answers nonsense, or hangs up.
func TestFeedsConform(t *testing.T) {
	for _, kind := range feed.Kinds() {
		t.Run(kind, func(t *testing.T) {
			calm, shaky := apptest.Connect(t), apptest.Connect(t)
			before := standing(calm)
			first, err := calm.Run(kind, "")
			require.NoError(t, err)
			require.Equal(t, "done", first.State)
			require.False(t, first.EndedAt.IsZero())
			came := standing(calm)
			assert.NotEqual(t, before, came, "it brings something")
			again, err := calm.Run(kind, "")
			require.NoError(t, err)
			assert.Zero(t, again.Load)
			assert.Equal(t, came, standing(calm))
			assert.Equal(t, first.Cursor, again.Cursor)

			_, err = shaky.Run(kind, "?fail=2")
			require.NoError(t, err)
			assert.Equal(t, came, standing(shaky), "every other answer fails, and is asked for again")

			loads := loadsOf(calm)
			for name, answer := range map[string]http.HandlerFunc{
				"never":    func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(http.StatusServiceUnavailable) },
				"nonsense": func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write([]byte("<html>welcome</html>")) },
				"cut": func(w http.ResponseWriter, _ *http.Request) {
					w.Header().Set("Content-Length", "1000")
					_, _ = w.Write([]byte(`{"postings": [`))
					panic(http.ErrAbortHandler)
				},
				"away": func(w http.ResponseWriter, r *http.Request) {
					http.Redirect(w, r, "/away", http.StatusFound)
				},
			} {
				server := httptest.NewServer(answer)
				require.NoError(t, calm.Office.Feed.Save(calm.Ctx, setting.FeedSetting{Name: kind, Kind: kind, Address: server.URL}, false))
				run, err := calm.Office.Feed.Run(calm.Ctx, calm.Client, kind)
				server.Close()
				require.Error(t, err, name)
				assert.Equal(t, "failed", run.State, name)
				assert.Contains(t, run.Log, "nothing was changed", name)
				assert.Equal(t, first.Cursor, run.Cursor, name)
				assert.Equal(t, loads, loadsOf(calm), name)
			}
			assert.Equal(t, came, standing(calm), "after all that failed")
			last, err := calm.Run(kind, "")
			require.NoError(t, err)
			assert.Zero(t, last.Load, "it goes on where it was")
		})
	}
}
