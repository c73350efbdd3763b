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
	"turret/internal/core/calendar"
)

// Commentaries passes what had been written last to the periods from one month to another by a moment, or by now where that is zero, by
// scope, period and dimension. Scopes of nil mean all of them.
func (r reading) Commentaries(ctx context.Context, scopes []int64, from, to calendar.Period, by time.Time,
	row func(kept.Commentary)) error {
	args := []any{from, to}
	within := ""
	if !by.IsZero() {
		within = ` AND at <= ?`
		args = append(args, by.UTC().Format(fine))
	}
	if scopes != nil {
		within += ` AND scope IN (?)`
		args = append(args, scopes)
	}
	q, args, err := sqlx.In(`SELECT max(id), scope, period, dimension, text, who, at FROM commentaries WHERE period BETWEEN ? AND ?`+
		within+`
		GROUP BY scope, period, dimension ORDER BY scope, period, dimension`, args...)
	if err != nil {
		return err
	}
	rows, err := r.q.QueryContext(ctx, q, args...)
	return each(rows, err, func(scan scanner) error {
		var c kept.Commentary
		var at string
		err := scan(&c.ID, &c.Scope, &c.Period, &c.On, &c.Text, &c.Who, &at)
		if err == nil {
			c.At, err = moment(at)
		}
		if err == nil && c.Text != "" {
			row(c)
		}
		return err
	})
}

// SaveCommentaries keeps what was written, each over what stood before. It is an error wrapping ErrConflict where a newer one than the
// ID it was written over is there.
func (s *Store) SaveCommentaries(ctx context.Context, list []kept.Commentary, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		var projects []int64
		for _, c := range list {
			var last int64
			if err := tx.GetContext(ctx, &last,
				`SELECT coalesce(max(id), 0) FROM commentaries WHERE scope = ? AND period = ? AND dimension = ?`, c.Scope, c.Period,
				c.On); err != nil {
				return err
			}
			if last != c.ID {
				return fault.ErrConflict
			}
			if _, err := tx.ExecContext(ctx, `INSERT INTO commentaries (scope, period, dimension, text, who, at) VALUES (?, ?, ?, ?, ?, ?)`,
				c.Scope, c.Period, c.On, c.Text, c.Who, c.At.UTC().Format(fine)); err != nil {
				return err
			}
			if c.Scope > 0 {
				projects = append(projects, c.Scope)
			}
		}
		if projects == nil {
			return nil
		}
		return stirred(ctx, tx, projects...)
	})
}

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
