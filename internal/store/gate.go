package store

import (
	"context"

	"turret/internal/app/kept"
)

func snapshot(w *writer, s *kept.Snapshot) error {
	_, err := w.tx.ExecContext(w.ctx, `INSERT INTO snapshots (project_id, stage, as_of, load_id, period, serial, rules, settings, at, who,
		figures, digest) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, s.ProjectID, s.Stage, s.AsOf, s.Load, s.Period, s.Serial, s.Rules,
		s.Settings, s.At.UTC().Format(fine), s.Who, s.Figures, s.Digest)
	return err
}

// Snapshots lists what a project was at its gates, of every project where that is 0, in the order in which they were passed.
func (r reading) Snapshots(ctx context.Context, project int64) ([]kept.Snapshot, error) {
	rows, err := r.q.QueryContext(ctx, `SELECT s.id, s.project_id, p.code, s.stage, s.as_of, s.load_id, s.period, s.serial, s.rules,
		s.settings, s.at, s.who, s.figures, s.digest FROM snapshots s JOIN projects p ON p.id = s.project_id
		WHERE ?1 = 0 OR s.project_id = ?1 ORDER BY s.id`, project)
	var list []kept.Snapshot
	err = each(rows, err, func(scan scanner) error {
		var x kept.Snapshot
		var at string
		err := scan(&x.ID, &x.ProjectID, &x.Project, &x.Stage, &x.AsOf, &x.Load, &x.Period, &x.Serial, &x.Rules, &x.Settings, &at, &x.Who,
			&x.Figures,
			&x.Digest)
		if err == nil {
			x.At, err = moment(at)
		}
		list = append(list, x)
		return err
	})
	return list, err
}

func readStaged(ctx context.Context, q queryer, m *kept.Masters) error {
	return q.GetContext(ctx, &m.Staged, `SELECT EXISTS (SELECT 1 FROM stages WHERE load_id IN (SELECT id FROM standing_loads))`)
}
