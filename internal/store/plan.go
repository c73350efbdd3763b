package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// History passes the milestones and deliverables that projects sent for each period, from the newest standing revision of each.
func (r reading) History(ctx context.Context, projects []int64, row func(int64, calendar.Period, *kept.ActivityFact)) error {
	rows, err := r.query(ctx,
		`SELECT c.project_id, c.period, c.load_id, t.row, t.code, t.name, t.kind, t.level, t.baseline_finish, t.start, t.finish,
		t.actual_start, t.actual_finish, t.duration
		FROM (SELECT v.project_id, l.period, max(v.id) AS id, max(v.load_id) AS load_id FROM revisions v JOIN standing_loads l ON l.id =
			v.load_id
			WHERE v.kind = 'activities' AND l.period > 0 GROUP BY v.project_id, l.period) c
		JOIN activities t ON t.revision_id = c.id AND t.kind >= 2`, ` WHERE c.project_id IN (?) ORDER BY c.period`, projects)
	var project int64
	var period calendar.Period
	return each(rows, err, func(scan scanner) error {
		var a kept.ActivityFact
		err := scan(&project, &period, &a.Ref.Load, &a.Ref.Row, &a.Code, &a.Name, &a.Kind, &a.Level, &a.BaselineFinish, &a.Start, &a.Finish,
			&a.ActualStart, &a.ActualFinish, &optionalInt{&a.Duration})
		row(project, period, &a)
		return err
	})
}

// CurrentLoad is the load whose revision of a kind is the current one of a project; 0 where there is none.
func (r reading) CurrentLoad(ctx context.Context, kind record.Kind, project int64) (int64, error) {
	var load int64
	err := r.q.GetContext(ctx, &load, `SELECT coalesce(max(v.load_id), 0) FROM current_revisions c JOIN revisions v ON v.id = c.id
		WHERE c.kind = ? AND c.project_id = ?`, kind, project)
	return load, err
}

// LoadsOf lists the standing loads that brought a kind of the project, newest first.
func (r reading) LoadsOf(ctx context.Context, kind record.Kind, project int64) ([]kept.Load, error) {
	rows, err := r.q.QueryContext(ctx, loadColumns+` WHERE id IN (SELECT id FROM standing_loads) AND id IN (SELECT load_id FROM revisions
		WHERE kind = ? AND project_id = ?) ORDER BY id DESC`, kind, project)
	return scanLoads(rows, err)
}

// LinksAt passes the dependencies of a project that stood beside its schedule of a load: the newest received no later.
func (r reading) LinksAt(ctx context.Context, project, load int64, row func(*kept.LinkFact)) error {
	rows, err := r.q.QueryContext(ctx, `SELECT v.load_id, t.row, t.from_code, t.to_code, t.type, t.lag, t.from_project, t.to_project
		FROM links t JOIN revisions v ON v.id = t.revision_id WHERE v.id = (SELECT max(x.id) FROM revisions x JOIN standing_loads l ON
			l.id = x.load_id
			WHERE x.kind = 'links' AND x.project_id = ? AND l.received_at <= (SELECT received_at FROM loads WHERE id = ?)) ORDER BY
				t.row`, project, load)
	return each(rows, err, func(scan scanner) error {
		var l kept.LinkFact
		var kind string
		err := scan(&l.Ref.Load, &l.Ref.Row, &l.From, &l.To, &kind, &l.Lag, &l.FromProject, &l.ToProject)
		l.Type, _ = schedule.ParseLinkType(kind)
		row(&l)
		return err
	})
}

// Baselines lists those of a project whose load stands, newest first.
func (r reading) Baselines(ctx context.Context, project int64) ([]kept.BaselineFact, error) {
	rows, err := r.q.QueryContext(ctx, `SELECT id, load_id, name, reason, change, who, at FROM baselines WHERE project_id = ?
		AND load_id IN (SELECT id FROM standing_loads) ORDER BY id DESC`, project)
	var list []kept.BaselineFact
	err = each(rows, err, func(scan scanner) error {
		var b kept.BaselineFact
		var at string
		err := scan(&b.ID, &b.Load, &b.Name, &b.Reason, &b.Change, &b.Who, &at)
		var parse error
		b.At, parse = moment(at)
		list = append(list, b)
		return errors.Join(err, parse)
	})
	return list, err
}

// baseline names the schedule that the loads of a batch brought, or the one that stood.
func (w *writer) baseline(b *kept.BaselineFact, loads []kept.Load) error {
	project, err := w.id("projects", b.Project, false)
	if err != nil {
		return err
	}
	load := b.Load
	for _, l := range loads {
		if l.Kind == record.Activities {
			load = l.ID
		}
	}
	_, err = w.tx.ExecContext(w.ctx,
		`INSERT INTO baselines (project_id, load_id, name, reason, change, who, at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
		project, load, b.Name, b.Reason, b.Change, b.Who, b.At.UTC().Format(stamp))
	return err
}

// Agreements lists what was last agreed on each dependency.
func (r reading) Agreements(ctx context.Context) ([]kept.Agreement, error) {
	rows, err := r.q.QueryContext(ctx, `SELECT giver, from_code, taker, to_code, promised, agreed, note, who, at FROM agreements WHERE id IN
		(SELECT max(id) FROM agreements GROUP BY giver, from_code, taker, to_code) ORDER BY id`)
	var list []kept.Agreement
	err = each(rows, err, func(scan scanner) error {
		var a kept.Agreement
		var at string
		err := scan(&a.Giver, &a.From, &a.Taker, &a.To, &a.Promised, &a.Agreed, &a.Note, &a.Who, &at)
		var parse error
		a.At, parse = moment(at)
		list = append(list, a)
		return errors.Join(err, parse)
	})
	return list, err
}

// SaveAgreement adds what was agreed; what was agreed before stays.
func (s *Store) SaveAgreement(ctx context.Context, a kept.Agreement, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO agreements (giver, from_code, taker, to_code, promised, agreed, note, who, at)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
			a.Giver, a.From, a.Taker, a.To, a.Promised, a.Agreed, a.Note, a.Who, a.At.UTC().Format(stamp))
		return err
	})
}

// Rehearsals lists those kept, newest first.
func (r reading) Rehearsals(ctx context.Context) ([]kept.Rehearsal, error) {
	rows, err := r.q.QueryContext(ctx,
		`SELECT id, name, note, as_of, moves, account_id, who, at FROM rehearsals WHERE ended_at IS NULL ORDER BY id DESC`)
	var list []kept.Rehearsal
	err = each(rows, err, func(scan scanner) error {
		var x kept.Rehearsal
		var at, moves string
		if err := scan(&x.ID, &x.Name, &x.Note, &x.AsOf, &moves, &x.Account, &x.Who, &at); err != nil {
			return err
		}
		var parse error
		x.At, parse = moment(at)
		list = append(list, x)
		return errors.Join(parse, json.Unmarshal([]byte(moves), &list[len(list)-1].Moves))
	})
	return list, err
}

// SaveRehearsal keeps a new rehearsal and returns its id.
func (s *Store) SaveRehearsal(ctx context.Context, x kept.Rehearsal, e kept.Entry) (int64, error) {
	moves, err := json.Marshal(x.Moves)
	if err != nil {
		return 0, err
	}
	err = s.change(ctx, e, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, `INSERT INTO rehearsals (name, note, as_of, moves, account_id, who, at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
			x.Name, x.Note, x.AsOf, string(moves), x.Account, x.Who, x.At.UTC().Format(stamp))
		if err == nil {
			x.ID, err = r.LastInsertId()
		}
		return err
	})
	return x.ID, err
}

// EndRehearsal puts a rehearsal away.
func (s *Store) EndRehearsal(ctx context.Context, id int64, at time.Time, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		if err := one(tx.ExecContext(ctx, `UPDATE rehearsals SET ended_at = ? WHERE id = ? AND ended_at IS NULL`, at.UTC().Format(stamp),
			id)); err != nil {
			return fmt.Errorf("rehearsal %d: %w", id, err)
		}
		return nil
	})
}
