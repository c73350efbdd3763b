package store

import (
	"cmp"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/publish"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
)

// Periods lists the closed periods, ascending.
func (r reading) Periods(ctx context.Context) ([]kept.Period, error) {
	return periods(r.q.QueryContext(ctx, `SELECT `+periodColumns+` FROM standing_periods ORDER BY period`))
}

// Closings lists every closing in its order, also of periods reopened since.
func (s *Store) Closings(ctx context.Context) ([]kept.Period, error) {
	return periods(s.q.QueryContext(ctx, `SELECT `+periodColumns+` FROM periods ORDER BY serial`))
}

const periodColumns = `serial, period, issue, as_of, load_id, settings, at, who, digest, coalesce(reopened_at, ''), reopened_by, reason,
	rules`

func periods(rows *sql.Rows, err error) ([]kept.Period, error) {
	var list []kept.Period
	err = each(rows, err, func(scan scanner) error {
		var p kept.Period
		var at, reopened string
		err := scan(&p.Serial, &p.Span, &p.Issue, &p.AsOf, &p.Load, &p.Settings, &at, &p.Who, &p.Digest, &reopened, &p.ReopenedBy,
			&p.Reason, &p.Rules)
		if err == nil {
			p.At, err = moment(at)
		}
		if err == nil {
			p.ReopenedAt, err = moment(reopened)
		}
		list = append(list, p)
		return err
	})
	return list, err
}

// PeriodValues passes the figures of measures in the closed periods from one month up to before another; 0 is open.
func (r reading) PeriodValues(ctx context.Context, keys []measure.Key, scopes []int64, from, before calendar.Period,
	row func(kept.PeriodValue)) error {
	if before == 0 {
		before = 1 << 30
	}
	measures := measure.Texts(keys...)
	args := []any{measures, from, before}
	within := ""
	if scopes != nil {
		within = ` AND v.scope IN (?)`
		args = []any{measures, scopes, from, before}
	}
	q, args, err := sqlx.In(`SELECT v.measure, v.scope, p.period, v.known, v.n, v.ratio, v.reason FROM period_values v
		JOIN standing_periods p ON p.serial = v.serial WHERE v.measure IN (?)`+within+` AND p.period >= ? AND p.period < ?
		ORDER BY v.measure, v.scope, p.period`, args...)
	if err != nil {
		return err
	}
	rows, err := r.q.QueryContext(ctx, q, args...)
	return each(rows, err, func(scan scanner) error {
		var v kept.PeriodValue
		var key string
		err := scan(&key, &v.Scope, &v.Period, &v.Value.Known, &v.Value.N, &v.Value.Ratio, &v.Value.Reason)
		v.Measure = measure.KeyOf(key)
		row(v)
		return err
	})
}

// ClosePeriod keeps a period with the loads and figures it froze, as its next issue, and numbers it.
func (s *Store) ClosePeriod(ctx context.Context, p *kept.Period, pins []kept.Pin, values []kept.PeriodValue, findings []kept.PeriodFinding,
	e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		err := tx.GetContext(ctx, p,
			`INSERT INTO periods (period, issue, as_of, load_id, settings, at, who, digest, reopened_by, reason, rules)
			SELECT ?1, 1 + count(*), ?2, ?3, ?4, ?5, ?6, ?7, '', '', ?8 FROM periods WHERE period = ?1
			HAVING sum(reopened_at IS NULL) IS NOT 1 RETURNING serial, issue`,
			p.Span, p.AsOf, p.Load, p.Settings, p.At.UTC().Format(fine), p.Who, p.Digest, p.Rules)
		if errors.Is(err, sql.ErrNoRows) {
			return fmt.Errorf("closing %s: it is closed: %w", p.Span.Name(), fault.ErrConflict)
		}
		if err != nil {
			return fmt.Errorf("closing %s: %w", p.Span.Name(), err)
		}
		w := &writer{ctx: ctx, tx: tx}
		return errors.Join(w.pins(p.Serial, pins), w.values(p.Serial, values), w.findings(p.Serial, findings), stirred(ctx, tx))
	})
}

func (w *writer) pins(serial int64, pins []kept.Pin) error {
	b := w.batch("pins", "serial, load_id, rows")
	for _, p := range pins {
		b.Add(serial, p.Load, p.Rows)
	}
	return b.Done()
}

func (w *writer) values(serial int64, values []kept.PeriodValue) error {
	b := w.batch("period_values", "measure, scope, serial, known, n, ratio, reason")
	sorted := slices.SortedFunc(slices.Values(values), func(x, y kept.PeriodValue) int { // as they lie
		return cmp.Or(cmp.Compare(x.Measure.String(), y.Measure.String()), cmp.Compare(x.Scope, y.Scope))
	})
	for i := range sorted {
		v := &sorted[i]
		b.Add(v.Measure.String(), v.Scope, serial, v.Value.Known, v.Value.N, v.Value.Ratio, v.Value.Reason)
	}
	return b.Done()
}

func (w *writer) findings(serial int64, findings []kept.PeriodFinding) error {
	b := w.batch("period_findings", "serial, project_id, finding, record")
	seen := map[kept.PeriodFinding]bool{}
	for _, f := range findings {
		if !seen[f] {
			seen[f] = true
			b.Add(serial, f.Project, f.Rule, f.Record)
		}
	}
	return b.Done()
}

// Reopen ends an issue of a period; what it froze stays.
func (s *Store) Reopen(ctx context.Context, serial int64, at time.Time, who, reason string, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx,
			`UPDATE periods SET reopened_at = ?, reopened_by = ?, reason = ?, ended_after = (SELECT max(serial) FROM periods)
			WHERE serial = ? AND reopened_at IS NULL`, at.UTC().Format(fine), who, reason, serial)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); err != nil || n == 0 {
			return errors.Join(err, fmt.Errorf("the period is open already: %w", fault.ErrConflict))
		}
		return stirred(ctx, tx)
	})
}

// Frozen are what an issue of a period pinned and the figures it froze.
func (s *Store) Frozen(ctx context.Context, serial int64) (pins []kept.Pin, values []kept.PeriodValue, err error) {
	if err := s.q.SelectContext(ctx, &pins, `SELECT load_id AS load, rows FROM pins WHERE serial = ? ORDER BY load_id`,
		serial); err != nil {
		return nil, nil, err
	}
	rows, err := s.q.QueryContext(ctx, `SELECT measure, scope, known, n, ratio, reason FROM period_values WHERE serial = ?`, serial)
	err = each(rows, err, func(scan scanner) error {
		var v kept.PeriodValue
		var key string
		err := scan(&key, &v.Scope, &v.Value.Known, &v.Value.N, &v.Value.Ratio, &v.Value.Reason)
		v.Measure = measure.KeyOf(key)
		values = append(values, v)
		return err
	})
	return pins, values, err
}

// PeriodFindings lists the findings that counted when a period was closed.
func (s *Store) PeriodFindings(ctx context.Context, month calendar.Period) ([]kept.PeriodFinding, error) {
	return periodFindings(s.q.QueryContext(ctx,
		`SELECT project_id, finding, record FROM period_findings WHERE serial = (SELECT serial FROM standing_periods WHERE period = ?)`,
		month))
}

// FindingsOf lists those of one closing.
func (s *Store) FindingsOf(ctx context.Context, serial int64) ([]kept.PeriodFinding, error) {
	return periodFindings(s.q.QueryContext(ctx, `SELECT project_id, finding, record FROM period_findings WHERE serial = ?`, serial))
}

func periodFindings(rows *sql.Rows, err error) ([]kept.PeriodFinding, error) {
	var list []kept.PeriodFinding
	err = each(rows, err, func(scan scanner) error {
		var f kept.PeriodFinding
		err := scan(&f.Project, &f.Rule, &f.Record)
		list = append(list, f)
		return err
	})
	return list, err
}

// Reach tells the last standing load, and how many were sent for periods after a month and up to it.
func (s *Store) Reach(ctx context.Context, month calendar.Period) (last int64, after, upTo int, err error) {
	var r struct{ Last, After, Upto int64 }
	err = s.q.GetContext(ctx, &r,
		`SELECT coalesce(max(id), 0) AS last, coalesce(sum(period > ?1), 0) AS after, coalesce(sum(period <= ?1), 0) AS upto FROM
			standing_loads`, month)
	return r.Last, int(r.After), int(r.Upto), err
}

// SaveWaivers lets things pass in the closing of a period, all of them or none.
func (s *Store) SaveWaivers(ctx context.Context, list []publish.Waiver, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		w := &writer{ctx: ctx, tx: tx}
		b := w.batch("waivers", "period, what, reason, who, at, ended_by")
		for i := range list {
			v := &list[i]
			b.Add(v.Period, v.What, v.Reason, v.Who, v.At.UTC().Format(fine), "")
		}
		return b.Done()
	})
}

// EndWaiver takes a waiver back.
func (s *Store) EndWaiver(ctx context.Context, id int64, who string, at time.Time, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, `UPDATE waivers SET ended_at = ?, ended_by = ? WHERE id = ? AND ended_at IS NULL`,
			at.UTC().Format(fine), who, id)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); err != nil || n == 0 {
			return errors.Join(err, fmt.Errorf("number %d: %w", id, fault.ErrConflict))
		}
		return nil
	})
}

// Waivers lists what is let pass in a period.
func (s *Store) Waivers(ctx context.Context, month calendar.Period) ([]publish.Waiver, error) {
	rows, err := s.q.QueryContext(ctx,
		`SELECT id, period, what, reason, who, at FROM waivers WHERE period = ? AND ended_at IS NULL ORDER BY id`, month)
	var list []publish.Waiver
	err = each(rows, err, func(scan scanner) error {
		var v publish.Waiver
		var at string
		err := scan(&v.ID, &v.Period, &v.What, &v.Reason, &v.Who, &at)
		if err == nil {
			v.At, err = moment(at)
		}
		list = append(list, v)
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
