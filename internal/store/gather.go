package store

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/gather"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Deliveries lists what standing loads brought for each project, in the order of the loads.
func (s *Store) Deliveries(ctx context.Context) ([]gather.Delivery, error) {
	rows, err := s.q.QueryContext(ctx, `SELECT project_id, kind, load_id, rows FROM revisions
		WHERE load_id IN (SELECT id FROM standing_loads) ORDER BY load_id`)
	var list []gather.Delivery
	err = each(rows, err, func(scan scanner) error {
		var d gather.Delivery
		err := scan(&d.Project, &d.Kind, &d.Load, &d.Rows)
		list = append(list, d)
		return err
	})
	return list, err
}

// Refuse keeps a refusal; projects that are not known are left out of it.
func (s *Store) Refuse(ctx context.Context, r intake.Refused) error {
	e := kept.Entry{At: r.At.UTC(), Who: r.Author, Act: "refused", Subject: r.File, After: fmt.Sprintf("%d problems; first: %s",
		r.Problems, r.First)}
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		done, err := tx.ExecContext(ctx, `INSERT INTO refusals (at, source, author, file, kind, period, problems, first)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?)`, r.At.UTC().Format(stamp), r.Source, r.Author, r.File, r.Kind, r.Period, r.Problems, r.First)
		if err != nil {
			return err
		}
		id, err := done.LastInsertId()
		if err != nil {
			return err
		}
		for _, code := range r.Projects {
			if _, err := tx.ExecContext(ctx,
				`INSERT INTO refused_projects (refusal_id, project_id) SELECT ?, id FROM projects WHERE code = ?`, id,
				code); err != nil {
				return err
			}
		}
		return nil
	})
}

// Refusals lists those of a period, oldest first.
func (s *Store) Refusals(ctx context.Context, period calendar.Period) ([]intake.Refused, error) {
	rows, err := s.q.QueryContext(ctx, `SELECT r.id, r.at, r.source, r.author, r.file, r.kind, r.period, r.problems, r.first,
		coalesce(group_concat(p.code, char(31)), '') FROM refusals r LEFT JOIN refused_projects x ON x.refusal_id = r.id
		LEFT JOIN projects p ON p.id = x.project_id WHERE r.period = ? GROUP BY r.id ORDER BY r.id`, period)
	var list []intake.Refused
	err = each(rows, err, func(scan scanner) error {
		var r intake.Refused
		var at, projects string
		err := scan(&r.ID, &at, &r.Source, &r.Author, &r.File, &r.Kind, &r.Period, &r.Problems, &r.First, &projects)
		var parse error
		r.At, parse = moment(at)
		if projects != "" {
			r.Projects = strings.Split(projects, "\x1f")
		}
		list = append(list, r)
		return errors.Join(err, parse)
	})
	return list, err
}

// LastDelivered passes the latest delivery of each kind of input, by project. The source is that of the row with the greatest period, as
// SQLite gives columns beside max(). What the office typed comes before what was sent, which replaces it.
func (r reading) LastDelivered(ctx context.Context, projects []int64, row func(kept.Delivery)) error {
	q, group := `SELECT v.project_id, v.kind, max(l.period), l.source, count(DISTINCT l.period)
		FROM revisions v JOIN standing_loads l ON l.id = v.load_id`,
		` GROUP BY v.project_id, v.kind, l.source = '`+kept.ByHand+`' ORDER BY l.source = '`+kept.ByHand+`' DESC`
	var args []any
	if projects != nil {
		var err error
		if q, args, err = sqlx.In(q+` WHERE v.project_id IN (?)`, projects); err != nil {
			return err
		}
	}
	rows, err := r.q.QueryContext(ctx, q+group, args...)
	return each(rows, err, func(scan scanner) error {
		var d kept.Delivery
		err := scan(&d.Project, &d.Kind, &d.Period, &d.Source, &d.Periods)
		row(d)
		return err
	})
}

// Begun reports whether anything of projects has come for a period, or a later one, and which sources sent a ledger for it.
func (r reading) Begun(ctx context.Context, period calendar.Period) (bool, []string, error) {
	var n int
	var ledgers []string
	err := errors.Join(r.q.GetContext(ctx, &n,
		`SELECT count(*) FROM (SELECT 1 FROM standing_loads l JOIN revisions v ON v.load_id = l.id WHERE l.period >= ? LIMIT 1)`, period),
		r.q.SelectContext(ctx, &ledgers, `SELECT DISTINCT source FROM standing_loads WHERE kind = ? AND period = ? ORDER BY source`,
			record.Actuals, period))
	return n > 0, ledgers, err
}
