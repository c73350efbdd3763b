package store

import (
	"context"
	"database/sql"
	"errors"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/audit"
	"turret/internal/app/kept"
	"turret/internal/ledger"
	"turret/internal/seal"
)

// enter adds an entry to the trail, sealed with the one before.
func enter(ctx context.Context, tx *sqlx.Tx, e kept.Entry) error {
	if e.Act == "" {
		return nil
	}
	row := tx.QueryRowContext(ctx, `SELECT id, digest FROM audit ORDER BY id DESC LIMIT 1`)
	if err := row.Scan(&e.ID, &e.Former); err != nil && !errors.Is(err, sql.ErrNoRows) {
		return err
	}
	e.ID++
	e.At = e.At.UTC().Truncate(time.Second)
	if err := seal.Make(ctx, tx, &e); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx,
		`INSERT INTO audit (id, at, who, act, subject, before, after, former, digest, made) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, e.ID,
		e.At.Format(stamp), e.Who, e.Act, e.Subject, e.Before, e.After, e.Former, e.Digest, e.Made)
	return err
}

// Note adds an entry by itself.
func (s *Store) Note(ctx context.Context, e kept.Entry) error {
	return s.change(ctx, e, func(*sqlx.Tx) error { return nil })
}

// Audit lists entries that answer a query, newest first.
func (s *Store) Audit(ctx context.Context, q audit.Query) ([]kept.Entry, error) {
	like := "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(q.Text) + "%"
	rows, err := s.q.QueryContext(ctx, auditColumns+` WHERE (? = '' OR subject || ' ' || before || ' ' || after LIKE ? ESCAPE '\')
		AND (? = '' OR who = ?) AND (? = '' OR act = ?) AND (? = 0 OR id < ?) ORDER BY id DESC LIMIT ?`,
		q.Text, like, q.Who, q.Who, q.Act, q.Act, q.Before, q.Before, q.Limit)
	var list []kept.Entry
	return list, scanEntries(rows, err, func(e *kept.Entry) { list = append(list, *e) })
}

// AuditTrail passes every entry, oldest first.
func (r reading) AuditTrail(ctx context.Context, row func(*kept.Entry)) error {
	rows, err := r.q.QueryContext(ctx, auditColumns+` ORDER BY id`)
	return scanEntries(rows, err, row)
}

func scanEntries(rows *sql.Rows, err error, row func(*kept.Entry)) error {
	return each(rows, err, func(scan scanner) error {
		var e kept.Entry
		var at string
		err := scan(&e.ID, &at, &e.Who, &e.Act, &e.Subject, &e.Before, &e.After, &e.Former, &e.Digest, &e.Made)
		var parse error
		e.At, parse = moment(at)
		row(&e)
		return errors.Join(err, parse)
	})
}

// HoldTrail passes every entry of the trail, oldest first, and tells what is not as the entries made it: rows changed, taken out or put in,
// and changes that no act made.
func (s *Store) HoldTrail(ctx context.Context, each func(*kept.Entry)) (wrong []string, err error) {
	err = s.moment(ctx, func(q queryer) error {
		var texts []string
		var last kept.Entry
		err := readingOf(q).AuditTrail(ctx, func(e *kept.Entry) {
			texts, last = append(texts, e.Made), *e
			each(e)
		})
		if err != nil {
			return err
		}
		if wrong, err = seal.Held(ctx, q, texts, last.Digest); err != nil {
			return err
		}
		sums, err := ledger.In(q).Hold(ctx)
		wrong = append(wrong, sums...)
		return err
	})
	return wrong, err
}
