// Package store keeps everything in one SQLite file: loads, the revisions they made, and the ledger.
//
// Facts are never overwritten. One connection writes, a pool reads, and every import is one transaction.
package store

import (
	"context"
	"database/sql"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"runtime"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"

	"turret/internal/app/kept"
	"turret/internal/disk"
	"turret/internal/ledger"
	"turret/internal/prepared"
	"turret/internal/unit"

	"turret/internal/app"
	"turret/internal/core/money"
	"turret/internal/hours"
	"turret/internal/record"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is an open file. It implements app.Store.
type Store struct {
	reading
	desks
	hours.Book
	unit.Unit
	path        string
	write, pool *sqlx.DB
}

// reading answers what can be asked, from the pool or from within a transaction.
type reading struct {
	ledger.Reader
	q queryer
}

func readingOf(q queryer) reading { return reading{ledger.In(q), q} }

type queryer interface {
	QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error)
	GetContext(ctx context.Context, dest any, query string, args ...any) error
	SelectContext(ctx context.Context, dest any, query string, args ...any) error
}

var _ app.Store = (*Store)(nil)

// ErrNoReporting is returned by Create for a currency that is none.
var ErrNoReporting = errors.New("a file needs a reporting currency")

// Create makes a new file with its reporting currency. The file must not exist yet.
func Create(ctx context.Context, path string, reporting money.Currency) (*Store, error) {
	if _, err := money.ParseCurrency(string(reporting)); err != nil {
		return nil, fmt.Errorf("%w: %w", ErrNoReporting, err)
	}
	err := disk.Aside(path, func(part string) error {
		s, err := open(ctx, part)
		if err != nil {
			return err
		}
		_, err = s.write.ExecContext(ctx, `INSERT INTO settings (key, value) VALUES ('reporting_currency', ?)`, reporting)
		return errors.Join(err, s.Close())
	})
	if err != nil {
		return nil, err
	}
	return Open(ctx, path)
}

// Open opens a file that exists and brings its schema up to date. One that is none of Turret's, or of a later version, is left as it is:
// the error wraps disk.ErrForeign or disk.ErrLater.
func Open(ctx context.Context, path string) (*Store, error) {
	if err := known(ctx, path); err != nil {
		return nil, err
	}
	return open(ctx, path)
}

func open(ctx context.Context, path string) (*Store, error) {
	name := "file:" + (&url.URL{Path: path}).EscapedPath()
	write, err := prepared.Open(name + "?_pragma=busy_timeout(10000)&_pragma=journal_mode(WAL)&_pragma=synchronous(NORMAL)" +
		"&_pragma=foreign_keys(1)&_pragma=cache_size(-65536)&_txlock=immediate")
	if err != nil {
		return nil, err
	}
	write.SetMaxOpenConns(1)
	if err := migrate(ctx, write); err != nil {
		return nil, errors.Join(fmt.Errorf("%s: %w", path, err), write.Close())
	}
	read, err := prepared.Open(name + "?mode=ro&_pragma=busy_timeout(10000)&_pragma=query_only(1)&_txlock=deferred")
	if err != nil {
		return nil, errors.Join(err, write.Close())
	}
	read.SetMaxOpenConns(8 + 2*runtime.NumCPU()) // one computation reads by four of them at once
	return &Store{reading: readingOf(read), desks: desks{write}, Book: hours.Open(read, write), Unit: unit.Of(write),
		path: path, write: write, pool: read}, nil
}

// written are the changes of layout that take more than SQL.
var written = []*goose.Migration{goose.NewGoMigration(30, &goose.GoFunc{RunTx: ledger.Fill}, nil)}

func migrate(ctx context.Context, db *sqlx.DB) error {
	dir, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	p, err := goose.NewProvider(goose.DialectSQLite3, db.DB, dir, goose.WithGoMigrations(written...))
	if err != nil {
		return err
	}
	_, err = p.Up(ctx)
	return err
}

// Close closes the file.
func (s *Store) Close() error { return errors.Join(s.pool.Close(), s.write.Close()) }

// Head counts the changes that figures depend on.
func (r reading) Head(ctx context.Context) (int64, error) {
	var n int64
	err := r.q.GetContext(ctx, &n, `SELECT CAST(value AS INTEGER) FROM settings WHERE key = 'head'`)
	return n, err
}

// mostStirred is how many projects a change may name; of more, all are taken to have changed.
const mostStirred = 200

// stirred counts a change that figures depend on: of some projects, or of all where none is named.
func stirred(ctx context.Context, tx *sqlx.Tx, projects ...int64) error {
	if _, err := tx.ExecContext(ctx, `UPDATE settings SET value = CAST(value AS INTEGER) + 1 WHERE key = 'head'`); err != nil {
		return err
	}
	if len(projects) == 0 || len(projects) > mostStirred {
		projects = []int64{0}
	}
	which, err := json.Marshal(projects)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx,
		`INSERT OR IGNORE INTO stirs (head, project_id)
			SELECT CAST(s.value AS INTEGER), p.value FROM settings s, json_each(?) p WHERE s.key = 'head'`,
		string(which))
	return err
}

// broughtBy lists the projects that loads brought rows for; none where one of them brought rows that all projects depend on.
func broughtBy(ctx context.Context, tx *sqlx.Tx, loads []kept.Load) ([]int64, error) {
	var ids []int64
	for _, l := range loads {
		if !l.Kind.PerProject() {
			return nil, nil
		}
		var list []int64
		if err := tx.SelectContext(ctx, &list, `SELECT DISTINCT project_id FROM revisions WHERE load_id = ?`, l.ID); err != nil {
			return nil, err
		}
		ids = append(ids, list...)
	}
	return ids, nil
}

// withdrawnOf lists the projects whose figures a load was part of; none where all may depend on it.
func withdrawnOf(ctx context.Context, tx *sqlx.Tx, load int64) ([]int64, error) {
	var kind record.Kind
	if err := tx.GetContext(ctx, &kind, `SELECT kind FROM loads WHERE id = ?`, load); err != nil {
		return nil, err
	}
	return broughtBy(ctx, tx, []kept.Load{{ID: load, Kind: kind}})
}

// Stirred lists the projects that changed since a head; whole says that figures of all of them depend on what did.
func (s *Store) Stirred(ctx context.Context, head int64) (projects []int64, whole bool, err error) {
	err = s.q.SelectContext(ctx, &projects, `SELECT DISTINCT project_id FROM stirs WHERE head > ? ORDER BY project_id`, head)
	return projects, len(projects) > 0 && projects[0] == 0, err
}

// change runs f in one transaction of the writer and writes down what was done.
func (s *Store) change(ctx context.Context, e kept.Entry, f func(*sqlx.Tx) error) error {
	return unit.Within(ctx, s.write, func(tx *sqlx.Tx) error {
		if err := f(tx); err != nil {
			return err
		}
		return enter(ctx, tx, e)
	})
}
