package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/fault"
	"turret/internal/app/kept"
)

// Overrides lists the statuses that people set, in the order in which they were set.
func (r reading) Overrides(ctx context.Context) ([]kept.OverrideFact, error) {
	rows, err := r.q.QueryContext(ctx,
		`SELECT o.id, o.project_id, p.code, o.dimension, o.status, o.reason, o.who, o.at, o.since, o.until, coalesce(o.ended_at, ''),
			o.ended_by
		FROM overrides o JOIN projects p ON p.id = o.project_id ORDER BY o.id`)
	var list []kept.OverrideFact
	err = each(rows, err, func(scan scanner) error {
		var f kept.OverrideFact
		var at, ended string
		err := scan(&f.ID, &f.Project, &f.Code, &f.On, &f.Status, &f.Reason, &f.Who, &at, &f.Since, &f.Until, &ended, &f.EndedBy)
		var e1, e2 error
		f.At, e1 = moment(at)
		f.EndedAt, e2 = moment(ended)
		list = append(list, f)
		return errors.Join(err, e1, e2)
	})
	return list, err
}

// SaveOverride keeps a status that a person set.
func (s *Store) SaveOverride(ctx context.Context, f kept.OverrideFact, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx,
			`INSERT INTO overrides (project_id, dimension, status, reason, who, at, since, until, ended_by) VALUES (?, ?, ?, ?, ?, ?, ?,
				?, '')`,
			f.Project, f.On, f.Status, f.Reason, f.Who, f.At.UTC().Format(fine), f.Since, f.Until)
		return errors.Join(err, stirred(ctx, tx, f.Project))
	})
}

// EndOverride takes back a status that was set.
func (s *Store) EndOverride(ctx context.Context, project, id int64, who string, at time.Time, e kept.Entry) error {
	return s.end(ctx, "overrides", project, id, who, at, e)
}

// Acceptances lists the findings that people accepted, in their order.
func (r reading) Acceptances(ctx context.Context) ([]kept.AcceptanceFact, error) {
	rows, err := r.q.QueryContext(ctx,
		`SELECT a.id, a.project_id, p.code, a.finding, a.record, a.reason, a.who, a.at, a.until, coalesce(a.ended_at, ''), a.ended_by
		FROM acceptances a JOIN projects p ON p.id = a.project_id ORDER BY a.id`)
	var list []kept.AcceptanceFact
	err = each(rows, err, func(scan scanner) error {
		var f kept.AcceptanceFact
		var at, ended string
		err := scan(&f.ID, &f.Project, &f.Code, &f.Rule, &f.Record, &f.Reason, &f.Who, &at, &f.Until, &ended, &f.EndedBy)
		var e1, e2 error
		f.At, e1 = moment(at)
		f.EndedAt, e2 = moment(ended)
		list = append(list, f)
		return errors.Join(err, e1, e2)
	})
	return list, err
}

// SaveAcceptance keeps that a finding was accepted.
func (s *Store) SaveAcceptance(ctx context.Context, f kept.AcceptanceFact, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx,
			`INSERT INTO acceptances (project_id, finding, record, reason, who, at, until, ended_by) VALUES (?, ?, ?, ?, ?, ?, ?, '')`,
			f.Project, f.Rule, f.Record, f.Reason, f.Who, f.At.UTC().Format(fine), f.Until)
		return errors.Join(err, stirred(ctx, tx, f.Project))
	})
}

// EndAcceptance takes back the acceptance of a finding.
func (s *Store) EndAcceptance(ctx context.Context, project, id int64, who string, at time.Time, e kept.Entry) error {
	return s.end(ctx, "acceptances", project, id, who, at, e)
}

// end notes that a judgement no longer holds. One that was ended before, or is not there, is an error wrapping ErrConflict.
func (s *Store) end(ctx context.Context, table string, project, id int64, who string, at time.Time, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, `UPDATE `+table+
			` SET ended_at = ?, ended_by = ? WHERE id = ? AND project_id = ? AND ended_at IS NULL`,
			at.UTC().Format(fine), who, id, project)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); err != nil || n == 0 {
			return errors.Join(err, fmt.Errorf("number %d: %w", id, fault.ErrConflict))
		}
		return stirred(ctx, tx, project)
	})
}
