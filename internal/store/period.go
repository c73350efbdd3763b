package store

import (
	"cmp"
	"context"
	"database/sql"
	"fmt"
	"regexp"
	"slices"
	"strconv"

	"github.com/jmoiron/sqlx"

	"turret/internal/app"
	"turret/internal/core/calendar"
)

// At reads as if no load after one had come.
func (s *Store) At(load int64) app.Reading {
	return reading{&pinned{s.pool, strconv.FormatInt(load, 10)}}
}

// pinned answers queries from the loads up to one: the views of what is current are put in their place with that bound.
type pinned struct {
	queryer
	bound string
}

// moving are the names in queries that depend on which loads there are.
var moving = regexp.MustCompile(`\b(standing_loads|current_revisions|current_nodes|current_projects|current_cost_codes)\b|withdrawn_at IS NOT NULL`)

func (p *pinned) fix(query string) string {
	standing := `SELECT id FROM loads WHERE withdrawn_at IS NULL AND id <= ` + p.bound
	newest := func(table, key string) string {
		return `(SELECT ` + key + `, max(load_id) AS load_id FROM ` + table + ` WHERE load_id IN (` + standing + `) GROUP BY ` + key + `)`
	}
	return moving.ReplaceAllStringFunc(query, func(name string) string {
		switch name {
		case "standing_loads":
			return `(SELECT * FROM loads WHERE withdrawn_at IS NULL AND id <= ` + p.bound + `)`
		case "current_revisions":
			return `(SELECT kind, project_id, max(revisions.id) AS id FROM revisions WHERE load_id IN (` + standing + `) GROUP BY kind, project_id)`
		case "current_nodes":
			return newest("node_rows", "node_id")
		case "current_projects":
			return newest("project_rows", "project_id")
		case "current_cost_codes":
			return newest("cost_code_rows", "cost_code_id")
		}
		return `(withdrawn_at IS NOT NULL OR id > ` + p.bound + `)`
	})
}

// QueryContext implements queryer.
func (p *pinned) QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error) {
	return p.queryer.QueryContext(ctx, p.fix(query), args...)
}

// GetContext implements queryer.
func (p *pinned) GetContext(ctx context.Context, dest any, query string, args ...any) error {
	return p.queryer.GetContext(ctx, dest, p.fix(query), args...)
}

// SelectContext implements queryer.
func (p *pinned) SelectContext(ctx context.Context, dest any, query string, args ...any) error {
	return p.queryer.SelectContext(ctx, dest, p.fix(query), args...)
}

// Periods lists the closed periods, ascending.
func (r reading) Periods(ctx context.Context) ([]app.Period, error) {
	rows, err := r.q.QueryContext(ctx, `SELECT period, as_of, load_id, settings, at, who, digest FROM periods ORDER BY period`)
	var list []app.Period
	err = each(rows, err, func(scan scanner) error {
		var p app.Period
		var at string
		err := scan(&p.Month, &p.AsOf, &p.Load, &p.Settings, &at, &p.Who, &p.Digest)
		if err == nil {
			p.At, err = moment(at)
		}
		list = append(list, p)
		return err
	})
	return list, err
}

// PeriodValues passes the figures of measures in the closed periods from one month up to before another; 0 is open.
func (r reading) PeriodValues(ctx context.Context, measures []string, scopes []int64, from, before calendar.Month, row func(app.PeriodValue)) error {
	if before == 0 {
		before = 1 << 30
	}
	args := []any{measures, from, before}
	within := ""
	if scopes != nil {
		within = ` AND scope IN (?)`
		args = []any{measures, scopes, from, before}
	}
	q, args, err := sqlx.In(`SELECT measure, scope, period, known, n, ratio, reason FROM period_values WHERE measure IN (?)`+within+` AND period >= ? AND period < ?
		ORDER BY measure, scope, period`, args...)
	if err != nil {
		return err
	}
	rows, err := r.q.QueryContext(ctx, q, args...)
	return each(rows, err, func(scan scanner) error {
		var v app.PeriodValue
		err := scan(&v.Measure, &v.Scope, &v.Period, &v.Value.Known, &v.Value.N, &v.Value.Ratio, &v.Value.Reason)
		row(v)
		return err
	})
}

// ClosePeriod keeps a period with the loads and figures it froze.
func (s *Store) ClosePeriod(ctx context.Context, p app.Period, pins []int64, values []app.PeriodValue, findings []app.PeriodFinding, e app.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `INSERT INTO periods VALUES (?, ?, ?, ?, ?, ?, ?)`, p.Month, p.AsOf, p.Load, p.Settings, p.At.UTC().Format(stamp), p.Who, p.Digest); err != nil {
			return fmt.Errorf("closing %s: %w", p.Month.Name(), err)
		}
		w := &writer{ctx: ctx, tx: tx}
		b := w.batch("pins", 2)
		for _, id := range pins {
			b.add(p.Month, id)
		}
		if err := b.done(); err != nil {
			return err
		}
		b = w.batch("period_values", 7)
		sorted := slices.SortedFunc(slices.Values(values), func(x, y app.PeriodValue) int { // as they lie
			return cmp.Or(cmp.Compare(x.Measure, y.Measure), cmp.Compare(x.Scope, y.Scope))
		})
		for i := range sorted {
			v := &sorted[i]
			b.add(v.Measure, v.Scope, v.Period, v.Value.Known, v.Value.N, v.Value.Ratio, v.Value.Reason)
		}
		if err := b.done(); err != nil {
			return err
		}
		b = w.batch("period_findings", 4)
		seen := map[app.PeriodFinding]bool{}
		for _, f := range findings {
			if !seen[f] {
				seen[f] = true
				b.add(p.Month, f.Project, f.Rule, f.Record)
			}
		}
		if err := b.done(); err != nil {
			return err
		}
		return stirred(ctx, tx)
	})
}

// PeriodFindings lists the findings that counted when a period was closed.
func (s *Store) PeriodFindings(ctx context.Context, month calendar.Month) ([]app.PeriodFinding, error) {
	rows, err := s.q.QueryContext(ctx, `SELECT project_id, finding, record FROM period_findings WHERE period = ?`, month)
	var list []app.PeriodFinding
	err = each(rows, err, func(scan scanner) error {
		var f app.PeriodFinding
		err := scan(&f.Project, &f.Rule, &f.Record)
		list = append(list, f)
		return err
	})
	return list, err
}
