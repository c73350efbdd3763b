package unit_test

import (
	"context"
	"errors"
	"path/filepath"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "modernc.org/sqlite"

	"turret/internal/unit"
)

var errNo = errors.New("no")

// book is a file with one writer and an empty table.
func book(t *testing.T) *sqlx.DB {
	t.Helper()
	db, err := sqlx.Open("sqlite", "file:"+filepath.Join(t.TempDir(), "u.db")+"?_txlock=immediate")
	require.NoError(t, err)
	t.Cleanup(func() { _ = db.Close() })
	db.SetMaxOpenConns(1)
	db.MustExec(`CREATE TABLE t (n INTEGER PRIMARY KEY)`)
	return db
}

func write(ctx context.Context, db *sqlx.DB, n int) error {
	_, err := unit.Exec(ctx, db, `INSERT INTO t (n) VALUES (?)`, n)
	return err
}

func rows(t *testing.T, db *sqlx.DB) (list []int) {
	t.Helper()
	require.NoError(t, db.Select(&list, `SELECT n FROM t ORDER BY n`))
	return list
}

// What becomes of the writes 1 and 2 of a unit.
func TestAUnitIsWholeOrNotAtAll(t *testing.T) {
	ctx := context.Background()
	for _, x := range []struct {
		name string
		act  func(ctx context.Context, db *sqlx.DB) error
		fail bool
		want []int
	}{
		{"both", func(ctx context.Context, db *sqlx.DB) error { return errors.Join(write(ctx, db, 1), write(ctx, db, 2)) }, false,
			[]int{1, 2}},
		{"it ends badly", func(ctx context.Context, db *sqlx.DB) error { return errors.Join(write(ctx, db, 1), errNo) }, true, nil},
		{"a write fails", func(ctx context.Context, db *sqlx.DB) error { return errors.Join(write(ctx, db, 1), write(ctx, db, 1)) }, true,
			nil},
		{"a write fails, and nobody looks", func(ctx context.Context, db *sqlx.DB) error {
			_ = write(ctx, db, 1)
			_ = write(ctx, db, 1)
			return nil
		}, true, nil},
		{"a unit within a unit", func(ctx context.Context, db *sqlx.DB) error {
			return errors.Join(write(ctx, db, 1), unit.Of(db).Do(ctx, func(ctx context.Context) error { return write(ctx, db, 2) }))
		}, false, []int{1, 2}},
		{"a unit within a unit fails", func(ctx context.Context, db *sqlx.DB) error {
			_ = unit.Of(db).Do(ctx, func(ctx context.Context) error { return errors.Join(write(ctx, db, 2), errNo) })
			return write(ctx, db, 1)
		}, true, nil},
	} {
		t.Run(x.name, func(t *testing.T) {
			db := book(t)
			err := unit.Of(db).Do(ctx, func(ctx context.Context) error { return x.act(ctx, db) })
			assert.Equal(t, x.fail, err != nil, "%v", err)
			assert.Equal(t, x.want, rows(t, db))
			require.NoError(t, write(ctx, db, 9), "the writer is free again")
		})
	}
}

// A unit at one file does not take in what is written to another.
func TestUnitsAreOfOneFile(t *testing.T) {
	a, b := book(t), book(t)
	err := unit.Of(a).Do(context.Background(), func(ctx context.Context) error {
		return errors.Join(write(ctx, a, 1), write(ctx, b, 2), errNo)
	})
	require.ErrorIs(t, err, errNo)
	assert.Empty(t, rows(t, a))
	assert.Equal(t, []int{2}, rows(t, b))
}
