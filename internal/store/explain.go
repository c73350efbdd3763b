package store

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
)

// Commentaries passes what had been written last to the periods from one month to another by a moment, or by now where that is zero, by
// scope, period and dimension. Scopes of nil mean all of them.
func (r reading) Commentaries(ctx context.Context, scopes []int64, from, to calendar.Period, by time.Time, row func(kept.Commentary)) error {
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
