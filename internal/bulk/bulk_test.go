package bulk_test

import (
	"context"
	"fmt"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "modernc.org/sqlite"
	"pgregory.net/rapid"

	"turret/internal/bulk"
)

var ctx = context.Background()

type row struct {
	A int64
	B string
	C any
}

func table(t require.TestingT) *sqlx.Tx {
	db, err := sqlx.Open("sqlite", ":memory:")
	require.NoError(t, err)
	tx, err := db.Beginx()
	require.NoError(t, err)
	_, err = tx.Exec(`CREATE TABLE t (a INTEGER, b TEXT, c, CHECK (b <> 'never'))`)
	require.NoError(t, err)
	return tx
}

func kept(t require.TestingT, tx *sqlx.Tx) (list []row) {
	rows, err := tx.Query(`SELECT a, b, c FROM t ORDER BY rowid`)
	require.NoError(t, err)
	defer rows.Close()
	for rows.Next() {
		var r row
		require.NoError(t, rows.Scan(&r.A, &r.B, &r.C))
		list = append(list, r)
	}
	require.NoError(t, rows.Err())
	return list
}

// Whatever rows share, each is kept with its own values, in the order it was added, and counted.
func TestEveryRowIsKeptAsItWasAdded(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		tx := table(rt)
		defer func() { _ = tx.Rollback() }()
		counted := 0
		in := bulk.Into(ctx, tx, "t", "a, b, c")
		in.Wrote = func(rows int) { counted += rows }
		var want []row
		for range rapid.IntRange(0, 4).Draw(rt, "runs") { // of rows that share what is the same in a run
			a, b, c := rapid.Int64().Draw(rt, "a"), rapid.SampledFrom([]string{"", "EUR", "1"}).Draw(rt, "b"), rapid.Bool().Draw(rt, "c")
			for i := range rapid.IntRange(1, 250).Draw(rt, "rows") {
				r := row{a, b, nil}
				if c {
					r = row{a, b + fmt.Sprint(i), int64(i)}
				}
				want = append(want, r)
				in.Add(r.A, r.B, r.C)
			}
		}
		require.NoError(rt, in.Done())
		assert.Equal(rt, want, kept(rt, tx))
		assert.Equal(rt, len(want), counted)
	})
}

// More shapes than statements are kept for: each column alone is shared, or not.
func TestAnyNumberOfShapes(t *testing.T) {
	tx := table(t)
	_, err := tx.Exec(`CREATE TABLE wide (a, b, c, d, e)`)
	require.NoError(t, err)
	in := bulk.Into(ctx, tx, "wide", "a, b, c, d, e")
	want := make([]int64, 5)
	for shape := range int64(32) {
		for i := range int64(100) {
			values := make([]any, 5)
			for c := range values {
				n := i * (shape >> c & 1)
				values[c] = n
				want[c] += n
			}
			in.Add(values...)
		}
	}
	require.NoError(t, in.Done())
	got := make([]int64, 5)
	require.NoError(t, tx.QueryRow(`SELECT sum(a), sum(b), sum(c), sum(d), sum(e) FROM wide`).Scan(&got[0], &got[1], &got[2], &got[3],
		&got[4]))
	assert.Equal(t, want, got)
}

func TestTheFirstErrorSticks(t *testing.T) {
	tx := table(t)
	in := bulk.Into(ctx, tx, "t", "a, b, c")
	written := 0
	in.Wrote = func(rows int) { written += rows }
	for i := range int64(100) {
		in.Add(i, "never", nil)
	}
	for i := range int64(300) {
		in.Add(i, "good", nil)
	}
	assert.ErrorContains(t, in.Done(), "CHECK")
	assert.Zero(t, written)
	assert.Empty(t, kept(t, tx), "nothing is written after an error")
}
