package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/mailing"
	"turret/internal/core/calendar"
	"turret/internal/unit"
)

// Mailings lists the lists that stand, by name.
func (s *Store) Mailings(ctx context.Context) ([]mailing.Mailing, error) {
	rows, err := s.q.QueryContext(ctx,
		`SELECT id, name, report, format, attach, day, logins, roles, who, at, after FROM mailings WHERE ended_at IS NULL ORDER BY name,
			id`)
	var list []mailing.Mailing
	err = each(rows, err, func(scan scanner) error {
		var m mailing.Mailing
		var logins, roles, at string
		err := scan(&m.ID, &m.Name, &m.Report, &m.Format, &m.Attach, &m.Day, &logins, &roles, &m.Who, &at, &m.After)
		if err == nil {
			m.At, err = moment(at)
		}
		m.Logins = strings.Fields(logins)
		for _, r := range strings.Fields(roles) {
			m.Roles = append(m.Roles, access.Role(r))
		}
		list = append(list, m)
		return err
	})
	return list, err
}

// SaveMailing keeps a list in the place of a former one.
func (s *Store) SaveMailing(ctx context.Context, m mailing.Mailing, former int64, e kept.Entry) error {
	roles := make([]string, len(m.Roles))
	for i, r := range m.Roles {
		roles[i] = string(r)
	}
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		at := m.At.UTC().Format(fine)
		_, err := tx.ExecContext(ctx, `UPDATE mailings SET ended_at = ? WHERE id = ?`, at, former)
		if err == nil {
			_, err = tx.ExecContext(ctx,
				`INSERT INTO mailings (name, report, format, attach, day, logins, roles, who, at, after) VALUES (?, ?, ?, ?, ?, ?, ?, ?,
					?, ?)`,
				m.Name, m.Report, m.Format, m.Attach, m.Day, strings.Join(m.Logins, " "), strings.Join(roles, " "), m.Who, at, m.After)
		}
		return err
	})
}

// EndMailing ends a list; ErrNotFound where there is none.
func (s *Store) EndMailing(ctx context.Context, id int64, at time.Time, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, `UPDATE mailings SET ended_at = ? WHERE id = ? AND ended_at IS NULL`, at.UTC().Format(fine), id)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); err != nil || n == 0 {
			return errors.Join(err, fmt.Errorf("list %d: %w", id, fault.ErrNotFound))
		}
		return nil
	})
}

// ClaimSending writes down what is about to be sent and numbers it. One that was claimed before and not finished by a moment is claimed
// again and keeps when it was first: the office ended in the middle of it.
func (s *Store) ClaimSending(ctx context.Context, x *mailing.Sending, stale time.Time) (claimed, again bool, err error) {
	err = unit.Within(ctx, s.write, func(tx *sqlx.Tx) (err error) {
		claimed, again, err = claim(ctx, tx, x, stale)
		return err
	})
	return claimed && err == nil, again && err == nil, err
}

func claim(ctx context.Context, tx *sqlx.Tx, x *mailing.Sending, stale time.Time) (claimed, again bool, err error) {
	at := x.At.UTC().Format(fine)
	r, err := tx.ExecContext(ctx, `INSERT INTO sendings (list, occasion, login, name, email, report, as_of, file, kept, failed, at)
		VALUES (?, ?, ?, ?, ?, ?, ?, '', '', ?, ?) ON CONFLICT DO NOTHING`, x.List, x.Occasion, x.Login, x.Name, x.Email, x.Report,
		x.AsOf.String(), mailing.Unfinished, at)
	if err != nil {
		return false, false, err
	}
	n, err := r.RowsAffected()
	if err != nil {
		return false, false, err
	}
	if n == 1 {
		x.ID, err = r.LastInsertId()
		return err == nil, false, err
	}
	var first string
	err = tx.QueryRowContext(ctx, `SELECT id, at FROM sendings WHERE list = ? AND occasion = ? AND login = ? AND failed = ?
		AND (at < ? OR at > ?)`, x.List, x.Occasion, x.Login, mailing.Unfinished, stale.UTC().Format(fine), at).Scan(&x.ID, &first)
	if errors.Is(err, sql.ErrNoRows) {
		return false, false, nil
	}
	if err != nil {
		return false, false, err
	}
	if _, err = tx.ExecContext(ctx, `UPDATE sendings SET at = ? WHERE id = ?`, at, x.ID); err != nil {
		return false, false, err
	}
	if x.At, err = moment(first); err != nil {
		return false, false, err
	}
	return true, true, nil
}

// SaveSending completes what was claimed.
func (s *Store) SaveSending(ctx context.Context, x *mailing.Sending, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, `UPDATE sendings SET file = ?, kept = ?, failed = ?, as_of = ? WHERE id = ?`, x.File, x.Kept,
			x.Failed, x.AsOf.String(), x.ID)
		return err
	})
}

const sendingColumns = `SELECT x.id, x.list, x.occasion, x.login, x.name, x.email, x.report, x.as_of, x.file, x.kept, x.failed, x.at,
	coalesce((SELECT min(o.at) FROM openings o WHERE o.sending_id = x.id), ''), (SELECT count(*) FROM openings o WHERE o.sending_id =
		x.id) FROM sendings x `

// Sendings lists what was sent, newest first, with how often and when first it was opened.
func (s *Store) Sendings(ctx context.Context, id int64, limit int) ([]mailing.Sending, error) {
	return s.sendings(ctx, `WHERE ? IN (0, x.id) ORDER BY x.id DESC LIMIT ?`, id, limit)
}

// Unopened lists what was sent to a person and not opened, newest first.
func (s *Store) Unopened(ctx context.Context, login string, limit int) ([]mailing.Sending, error) {
	return s.sendings(ctx,
		`WHERE x.login = ? AND x.kept != '' AND NOT EXISTS (SELECT 1 FROM openings o WHERE o.sending_id = x.id) ORDER BY x.id DESC LIMIT
			?`, login, limit)
}

func (s *Store) sendings(ctx context.Context, where string, args ...any) ([]mailing.Sending, error) {
	rows, err := s.q.QueryContext(ctx, sendingColumns+where, args...)
	var list []mailing.Sending
	err = each(rows, err, func(scan scanner) error {
		var x mailing.Sending
		var asOf, at, opened string
		err := scan(&x.ID, &x.List, &x.Occasion, &x.Login, &x.Name, &x.Email, &x.Report, &asOf, &x.File, &x.Kept, &x.Failed, &at, &opened,
			&x.Openings)
		if err != nil {
			return err
		}
		var e1, e2, e3 error
		x.AsOf, e1 = calendar.ParseDate(asOf)
		x.At, e2 = moment(at)
		x.Opened, e3 = moment(opened)
		list = append(list, x)
		return errors.Join(e1, e2, e3)
	})
	return list, err
}

// SaveOpening writes down that somebody opened what was sent.
func (s *Store) SaveOpening(ctx context.Context, sending int64, who string, at time.Time) error {
	_, err := unit.Exec(ctx, s.write, `INSERT INTO openings (sending_id, at, who) VALUES (?, ?, ?)`, sending, at.UTC().Format(fine), who)
	return err
}
