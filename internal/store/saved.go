package store

import (
	"context"
	"fmt"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/saved"
	"turret/internal/unit"
)

// SavedViews lists what people keep of a kind, by name and then the oldest first; ever also what is kept no more.
func (s *Store) SavedViews(ctx context.Context, kind saved.Kind, ever bool) ([]saved.View, error) {
	rows, err := s.q.QueryContext(ctx, `SELECT id, sort, name, query, who, login, shared, at FROM saved_views
		WHERE sort = ? AND (? OR ended_at IS NULL) ORDER BY name, id`, kind, ever)
	var list []saved.View
	err = each(rows, err, func(scan scanner) error {
		var v saved.View
		var at string
		err := scan(&v.ID, &v.Kind, &v.Name, &v.Query, &v.Who, &v.Login, &v.Shared, &at)
		if err == nil {
			v.At, err = moment(at)
		}
		list = append(list, v)
		return err
	})
	return list, err
}

// SaveView keeps a view, in the place of the one of its name, sort and owner, and of others that are named. A report that lists send goes
// on under the new number.
func (s *Store) SaveView(ctx context.Context, v saved.View, others ...int64) (id int64, err error) {
	err = unit.Within(ctx, s.write, func(tx *sqlx.Tx) error {
		id, err = saveView(ctx, tx, v, others)
		return err
	})
	return id, err
}

func saveView(ctx context.Context, tx *sqlx.Tx, v saved.View, others []int64) (id int64, err error) {
	at := v.At.UTC().Format(fine)
	r, err := tx.ExecContext(ctx, `INSERT INTO saved_views (sort, name, query, who, login, shared, at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
		v.Kind, v.Name, v.Query, v.Who, v.Login, v.Shared, at)
	if err == nil {
		id, err = r.LastInsertId()
	}
	var former []int64
	if err == nil {
		err = tx.SelectContext(ctx, &former,
			`SELECT id FROM saved_views WHERE sort = ? AND name = ? AND login = ? AND ended_at IS NULL AND id <> ?`, v.Kind, v.Name,
			v.Login, id)
	}
	for _, old := range append(former, others...) {
		if err == nil {
			_, err = tx.ExecContext(ctx, `UPDATE saved_views SET ended_at = ? WHERE id = ?`, at, old)
		}
		if err == nil {
			_, err = tx.ExecContext(ctx, `UPDATE mailings SET report = ? WHERE report = ?`, fmt.Sprint(id), fmt.Sprint(old))
		}
	}
	return id, err
}

// EndView takes away a view.
func (s *Store) EndView(ctx context.Context, id int64, at time.Time) error {
	_, err := unit.Exec(ctx, s.write, `UPDATE saved_views SET ended_at = ? WHERE id = ?`, at.UTC().Format(fine), id)
	return err
}
