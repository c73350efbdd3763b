// Package bulk inserts many rows into a table of SQLite.
package bulk

import (
	"context"
	"strconv"
	"strings"

	"github.com/jmoiron/sqlx"
)

const (
	// batchRows is how many rows go into one INSERT: twice as fast as one each.
	batchRows = 100
	// maxShapes is how many statements are kept ready.
	maxShapes = 16
)

// Insert gathers rows of one table within a transaction. A value that all rows of an INSERT share is bound once: binding takes as long
// as inserting, and rows of one project and load share most of theirs. The first error sticks.
type Insert struct {
	// Wrote, where it is set, is told of rows written.
	Wrote func(rows int)

	ctx     context.Context
	tx      *sqlx.Tx
	table   string
	columns []string
	width   int
	rows    []any
	args    []any                 // what is bound of rows
	ready   map[uint64]*sqlx.Stmt // of full batches, by the columns that are shared
	err     error
}

// Into begins rows of a table; columns are their names, parted by commas, at most 64.
func Into(ctx context.Context, tx *sqlx.Tx, table, columns string) *Insert {
	names := strings.Split(columns, ",")
	return &Insert{ctx: ctx, tx: tx, table: table, columns: names, width: len(names), rows: make([]any, 0, batchRows*len(names)),
		ready: map[uint64]*sqlx.Stmt{}}
}

// Add takes the values of one row, in the order of the columns.
func (b *Insert) Add(values ...any) {
	if b.err != nil {
		return
	}
	b.rows = append(b.rows, values...)
	if len(b.rows) == batchRows*b.width {
		b.write()
	}
}

// Done writes what is left and returns the first error.
func (b *Insert) Done() error {
	if b.err == nil && len(b.rows) > 0 {
		b.write()
	}
	for _, s := range b.ready {
		_ = s.Close()
	}
	return b.err
}

func (b *Insert) write() {
	n := len(b.rows) / b.width
	shared := b.shared(n)
	b.bind(n, shared)
	s, err := b.statement(n, shared)
	switch {
	case err != nil:
		b.err = err
	case s != nil:
		_, b.err = s.ExecContext(b.ctx, b.args...)
	default:
		_, b.err = b.tx.ExecContext(b.ctx, b.text(n, shared), b.args...)
	}
	b.rows = b.rows[:0]
	if b.err == nil && b.Wrote != nil {
		b.Wrote(n)
	}
}

// statement is the one kept for full batches of a shape; nil where none is.
func (b *Insert) statement(n int, shared uint64) (*sqlx.Stmt, error) {
	if n < batchRows {
		return nil, nil
	}
	s := b.ready[shared]
	if s != nil || len(b.ready) == maxShapes {
		return s, nil
	}
	s, err := b.tx.PreparexContext(b.ctx, b.text(n, shared))
	if err == nil {
		b.ready[shared] = s
	}
	return s, err
}

// shared tells, a bit for each column, where all rows have the same value.
func (b *Insert) shared(n int) uint64 {
	var mask uint64
	for c := range b.width {
		at := 1
		for at < n && same(b.rows[c], b.rows[at*b.width+c]) {
			at++
		}
		if at == n {
			mask |= 1 << c
		}
	}
	return mask
}

// same compares values of the two types that rows share most; others are taken to differ.
func same(a, b any) bool {
	switch a := a.(type) {
	case string:
		s, ok := b.(string)
		return ok && a == s
	case int64:
		n, ok := b.(int64)
		return ok && a == n
	}
	return false
}

// bind puts the shared values first, then the others row by row, as text has them.
func (b *Insert) bind(n int, shared uint64) {
	b.args = b.args[:0]
	for c := range b.width {
		if shared&(1<<c) != 0 {
			b.args = append(b.args, b.rows[c])
		}
	}
	for i := range n {
		for c, v := range b.rows[i*b.width : (i+1)*b.width] {
			if shared&(1<<c) == 0 {
				b.args = append(b.args, v)
			}
		}
	}
}

// text is the INSERT of n rows. Only shared values, which stand first, are numbered: the driver looks a numbered one up by its name.
func (b *Insert) text(n int, shared uint64) string {
	var first, others, row []string
	for c, column := range b.columns {
		if shared&(1<<c) != 0 {
			first = append(first, column)
			row = append(row, "?"+strconv.Itoa(len(first)))
		} else {
			others = append(others, column)
		}
	}
	for range others {
		row = append(row, "?")
	}
	one := "(" + strings.Join(row, ",") + ")"
	return "INSERT INTO " + b.table + " (" + strings.Join(append(first, others...), ",") + ") VALUES " +
		strings.Repeat(one+",", n-1) + one
}
