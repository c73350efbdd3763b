package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/explain"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/publish"
	"turret/internal/core/calendar"
)

// Remarks lists what was said in a period about projects, or about all where those are nil, in its order.
func (s *Store) Remarks(ctx context.Context, month calendar.Period, projects []int64) ([]explain.Remark, error) {
	q,
		args := `SELECT id, project_id, month, part, text, asks, who, login, at, coalesce(answered_at, ''), coalesce(answered_by, '')
			FROM remarks WHERE month = ?`, []any{month}
	if projects != nil {
		q, args = q+` AND project_id IN (?)`, append(args, projects)
	}
	q, args, err := sqlx.In(q+` ORDER BY id`, args...)
	if err != nil {
		return nil, err
	}
	rows, err := s.q.QueryContext(ctx, q, args...)
	var list []explain.Remark
	err = each(rows, err, func(scan scanner) error {
		var r explain.Remark
		var at, answered string
		err := scan(&r.ID, &r.Project, &r.Period, &r.Part, &r.Text, &r.Asks, &r.Who, &r.Login, &at, &answered, &r.AnsweredBy)
		if err != nil {
			return err
		}
		var e1, e2 error
		r.At, e1 = moment(at)
		r.AnsweredAt, e2 = moment(answered)
		list = append(list, r)
		return errors.Join(e1, e2)
	})
	return list, err
}

// SaveRemark keeps a remark and, in the same step, that it answers another one (0 for none); ErrConflict where that is answered.
func (s *Store) SaveRemark(ctx context.Context, r explain.Remark, answers int64, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		at := r.At.UTC().Format(fine)
		if answers != 0 {
			done, err := tx.ExecContext(ctx,
				`UPDATE remarks SET answered_at = ?, answered_by = ? WHERE id = ? AND project_id = ? AND asks AND answered_at IS NULL`,
				at, r.Who, answers, r.Project)
			if err != nil {
				return err
			}
			if n, err := done.RowsAffected(); err != nil || n == 0 {
				return errors.Join(err, fmt.Errorf("remark %d: %w", answers, fault.ErrConflict))
			}
		}
		_, err := tx.ExecContext(ctx,
			`INSERT INTO remarks (project_id, month, part, text, asks, who, login, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
			r.Project, r.Period, r.Part, r.Text, r.Asks, r.Who, r.Login, at)
		return err
	})
}

// CommentaryHistory lists all that was written to a scope in a period by a moment, or by now where that is zero, oldest first.
func (s *Store) CommentaryHistory(ctx context.Context, scope int64, month calendar.Period, by time.Time) ([]kept.Commentary, error) {
	q, args := `SELECT id, scope, period, dimension, text, who, at FROM commentaries WHERE scope = ? AND period = ?`, []any{scope, month}
	if !by.IsZero() {
		q, args = q+` AND at <= ?`, append(args, by.UTC().Format(fine))
	}
	rows, err := s.q.QueryContext(ctx, q+` ORDER BY id`, args...)
	var list []kept.Commentary
	err = each(rows, err, func(scan scanner) error {
		var c kept.Commentary
		var at string
		err := scan(&c.ID, &c.Scope, &c.Period, &c.On, &c.Text, &c.Who, &at)
		if err == nil {
			c.At, err = moment(at)
		}
		list = append(list, c)
		return err
	})
	return list, err
}

// Review tells whether a period is said to be in review, by whom and since when.
func (s *Store) Review(ctx context.Context, month calendar.Period) (publish.Review, error) {
	rows, err := s.q.QueryContext(ctx, `SELECT review, who, at FROM reviews WHERE month = ? ORDER BY id DESC LIMIT 1`, month)
	var r publish.Review
	err = each(rows, err, func(scan scanner) error {
		var at string
		err := scan(&r.On, &r.Who, &at)
		if err == nil {
			r.At, err = moment(at)
		}
		return err
	})
	return r, err
}

// SaveReview keeps that a period is in review, or is so no longer.
func (s *Store) SaveReview(ctx context.Context, month calendar.Period, r publish.Review, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO reviews (month, review, who, at) VALUES (?, ?, ?, ?)`, month, r.On, r.Who,
			r.At.UTC().Format(fine))
		return err
	})
}
