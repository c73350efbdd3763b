// Package unit makes what a person does one transaction: all that is written for it is kept, or nothing is.
//
// The transaction travels in the context, so that writes which know nothing of each other join it. A file has one writer: while a unit is
// under way others wait to write, none waits to read, and what the unit itself reads outside its transaction is as it was before.
package unit

import (
	"context"
	"database/sql"
	"fmt"

	"github.com/jmoiron/sqlx"
)

// work is a unit under way.
type work struct {
	tx     *sqlx.Tx
	failed error // of a write within it; nothing of a unit is kept then, also where the error was passed over
}

// key is where a context holds the unit under way at a database.
type key struct{ db *sqlx.DB }

// Do runs f as one unit of work at a database: what f writes by the context it is given is kept if f and each of these writes succeed, and
// else nothing of it. Within a unit under way it is a part of that.
func Do(ctx context.Context, db *sqlx.DB, f func(context.Context) error) error {
	if w, under := ctx.Value(key{db}).(*work); under {
		return w.note(f(ctx))
	}
	tx, err := db.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }() // without effect after the commit
	w := &work{tx: tx}
	if err := f(context.WithValue(ctx, key{db}, w)); err != nil {
		return err
	}
	if w.failed != nil {
		return fmt.Errorf("nothing was kept: %w", w.failed)
	}
	return tx.Commit()
}

// note remembers the first write that failed.
func (w *work) note(err error) error {
	if err != nil && w.failed == nil {
		w.failed = err
	}
	return err
}

// Within writes by f, in the unit under way or in one of its own.
func Within(ctx context.Context, db *sqlx.DB, f func(*sqlx.Tx) error) error {
	return Do(ctx, db, func(ctx context.Context) error { return f(ctx.Value(key{db}).(*work).tx) })
}

// Exec writes by one statement, in the unit under way or in one of its own.
func Exec(ctx context.Context, db *sqlx.DB, query string, args ...any) (done sql.Result, err error) {
	err = Within(ctx, db, func(tx *sqlx.Tx) (err error) {
		done, err = tx.ExecContext(ctx, query, args...)
		return err
	})
	return done, err
}

// Unit is the units of work of a database.
type Unit struct{ db *sqlx.DB }

// Of are the units of work of a database, by the connection that writes.
func Of(db *sqlx.DB) Unit { return Unit{db} }

// Do runs what a person does as one unit of work: all that f writes by the context it is given is kept, or nothing of it.
func (u Unit) Do(ctx context.Context, f func(context.Context) error) error { return Do(ctx, u.db, f) }
