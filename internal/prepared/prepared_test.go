package prepared_test

import (
	"context"
	"fmt"
	"path/filepath"
	"sync"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/prepared"
)

func opened(t *testing.T) *sqlx.DB {
	t.Helper()
	db, err := prepared.Open("file:" + filepath.Join(t.TempDir(), "p.db") + "?_pragma=journal_mode(WAL)&_txlock=immediate")
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, db.Close()) })
	_, err = db.Exec(`CREATE TABLE n (v INTEGER PRIMARY KEY); INSERT INTO n VALUES (1), (2), (3)`)
	require.NoError(t, err)
	return db
}

// The same text asked for within its own rows, left half read, with other arguments, and after a refusal, answers as if it were the first.
func TestAStatementAnswersAnewEachTime(t *testing.T) {
	db := opened(t)
	db.SetMaxOpenConns(1)
	tx := db.MustBegin()
	const above = `SELECT v FROM n WHERE v > ? ORDER BY v`
	outer, err := tx.Query(above, 0)
	require.NoError(t, err)
	var seen []int
	for outer.Next() {
		var v, first int
		require.NoError(t, outer.Scan(&v))
		if err := tx.Get(&first, above, v); err == nil {
			seen = append(seen, 10*v+first)
		}
	}
	require.NoError(t, outer.Err())
	assert.Equal(t, []int{12, 23}, seen)

	half, err := tx.Query(above, 0)
	require.NoError(t, err)
	require.True(t, half.Next())
	require.NoError(t, half.Close())
	var all []int
	require.NoError(t, tx.Select(&all, above, 1))
	assert.Equal(t, []int{2, 3}, all)

	const put = `INSERT INTO n VALUES (?)`
	_, err = tx.Exec(put, 3)
	assert.ErrorContains(t, err, "UNIQUE")
	_, err = tx.Exec(put, 4)
	require.NoError(t, err)
	require.NoError(t, tx.Rollback())
	require.NoError(t, db.Select(&all, above, 0))
	assert.Equal(t, []int{1, 2, 3}, all)
}

func TestAStatementFollowsAChangedTable(t *testing.T) {
	db := opened(t)
	db.SetMaxOpenConns(1)
	row := map[string]any{}
	require.NoError(t, db.QueryRowx(`SELECT * FROM n`).MapScan(row))
	db.MustExec(`ALTER TABLE n ADD COLUMN w TEXT DEFAULT 'more'`)
	require.NoError(t, db.QueryRowx(`SELECT * FROM n`).MapScan(row))
	assert.Equal(t, "more", row["w"])
}

func TestMoreStatementsThanAreKept(t *testing.T) {
	db := opened(t)
	db.SetMaxOpenConns(1)
	for range 2 {
		for i := range prepared.MaxKept + 10 {
			var got int
			require.NoError(t, db.Get(&got, fmt.Sprintf(`SELECT %d + count(*) FROM n`, i)))
			require.Equal(t, i+3, got)
		}
	}
}

func TestWhatIsBrokenOffIsNotKeptBroken(t *testing.T) {
	db := opened(t)
	const long = `WITH RECURSIVE c (x) AS (SELECT 1 UNION ALL SELECT x + 1 FROM c WHERE x < ?) SELECT count(*) FROM c`
	ctx, cancel := context.WithCancel(t.Context())
	var wait sync.WaitGroup
	for range 4 {
		wait.Go(func() {
			var n int64
			assert.ErrorIs(t, db.GetContext(ctx, &n, long, int64(1)<<40), context.Canceled)
		})
	}
	cancel()
	wait.Wait()
	for range 8 {
		var n int64
		require.NoError(t, db.GetContext(t.Context(), &n, long, 1000))
		assert.EqualValues(t, 1000, n)
	}
}
