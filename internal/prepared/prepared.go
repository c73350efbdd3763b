// Package prepared opens SQLite files by connections that keep the statements they have prepared, so that a text is parsed and planned once
// for each connection and not at each use.
package prepared

import (
	"container/list"
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"
	"modernc.org/sqlite"
)

// MaxKept is how many statements a connection keeps ready; beyond, the one used longest ago is closed.
const MaxKept = 200

// Open opens a file by the driver's own name for it. Each connection keeps up to MaxKept statements.
func Open(name string) (*sqlx.DB, error) {
	plain, err := sql.Open("sqlite", name)
	if err != nil {
		return nil, err
	}
	return sqlx.NewDb(sql.OpenDB(connector{name, plain.Driver()}), "sqlite"), plain.Close()
}

type connector struct {
	name   string
	driver driver.Driver
}

// Driver is that of SQLite, with whatever was registered on it.
func (c connector) Driver() driver.Driver { return c.driver }

// Connect opens one more connection.
func (c connector) Connect(context.Context) (driver.Conn, error) {
	opened, err := c.driver.Open(c.name)
	if err != nil {
		return nil, err
	}
	is, ok := opened.(connection)
	if !ok {
		return nil, errors.Join(fmt.Errorf("%T is no connection to SQLite", opened), opened.Close())
	}
	return &conn{connection: is, order: list.New(), idle: map[string]*list.Element{}}, nil
}

// connection is what the driver's own can do and this one passes on.
type connection interface {
	driver.Conn
	driver.ConnBeginTx
	driver.ConnPrepareContext
	driver.Pinger
	driver.SessionResetter
	driver.Validator
	NewBackup(to string) (*sqlite.Backup, error)
}

// statement is what the driver prepares.
type statement interface {
	driver.Stmt
	driver.StmtExecContext
	driver.StmtQueryContext
}

// conn is used by one goroutine at a time, as database/sql promises.
type conn struct {
	connection
	order *list.List // of entry, the one used last in front
	idle  map[string]*list.Element
}

type entry struct {
	text string
	statement
}

// take hands out the statement of a text. One that is in use is no longer among the idle, so that a query within the rows of its like gets
// its own.
func (c *conn) take(ctx context.Context, text string) (statement, error) {
	if at, ok := c.idle[text]; ok {
		delete(c.idle, text)
		return c.order.Remove(at).(entry).statement, nil
	}
	s, err := c.PrepareContext(ctx, text)
	if err != nil {
		return nil, err
	}
	is, ok := s.(statement)
	if !ok {
		return nil, errors.Join(fmt.Errorf("%T takes no context", s), s.Close())
	}
	return is, nil
}

// give takes a statement back that is at rest.
func (c *conn) give(text string, s statement) error {
	if _, ok := c.idle[text]; ok {
		return s.Close()
	}
	c.idle[text] = c.order.PushFront(entry{text, s})
	if c.order.Len() <= MaxKept {
		return nil
	}
	oldest := c.order.Remove(c.order.Back()).(entry)
	delete(c.idle, oldest.text)
	return oldest.Close()
}

// ExecContext runs a statement that answers no rows. One that fails is not kept.
func (c *conn) ExecContext(ctx context.Context, text string, args []driver.NamedValue) (driver.Result, error) {
	s, err := c.take(ctx, text)
	if err != nil {
		return nil, err
	}
	r, err := s.ExecContext(ctx, args)
	if err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return r, c.give(text, s)
}

// QueryContext runs a statement that answers rows; it is kept once they are closed.
func (c *conn) QueryContext(ctx context.Context, text string, args []driver.NamedValue) (driver.Rows, error) {
	s, err := c.take(ctx, text)
	if err != nil {
		return nil, err
	}
	r, err := s.QueryContext(ctx, args)
	if err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return &rows{Rows: r, done: func(failed error) error {
		if failed != nil {
			return errors.Join(failed, s.Close())
		}
		return c.give(text, s)
	}}, nil
}

// Close closes the statements and then the connection.
func (c *conn) Close() error {
	var failed error
	for at := c.order.Front(); at != nil; at = at.Next() {
		failed = errors.Join(failed, at.Value.(entry).Close())
	}
	c.order.Init()
	clear(c.idle)
	return errors.Join(failed, c.connection.Close())
}

// rows give their statement back when they are closed.
type rows struct {
	driver.Rows
	done func(failed error) error
}

// Close ends the reading; a second time does nothing.
func (r *rows) Close() error {
	if r.done == nil {
		return nil
	}
	done := r.done
	r.done = nil
	return done(r.Rows.Close())
}
