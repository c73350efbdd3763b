package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/desk"
	"turret/internal/unit"
)

// desks keeps when people looked at their desks; it reads and writes by the one connection that writes.
type desks struct{ db *sqlx.DB }

// Looked is when somebody looked at their desk last and the time before, with what stood there; nothing where they never did.
func (s desks) Looked(ctx context.Context, login string) (l desk.Looks, err error) {
	var row struct {
		At     string `db:"seen_at"`
		Seen   string `db:"seen"`
		Was    string `db:"former_at"`
		Former string `db:"former"`
	}
	err = s.db.GetContext(ctx, &row, `SELECT seen_at, seen, former_at, former FROM desks WHERE login = ?`, login)
	if errors.Is(err, sql.ErrNoRows) {
		return l, nil
	}
	if err == nil {
		err = errors.Join(json.Unmarshal([]byte(row.Seen), &l.Now.Items), json.Unmarshal([]byte(row.Former), &l.Former.Items))
	}
	if err == nil {
		l.Now.At, err = moment(row.At)
	}
	if err == nil {
		l.Former.At, err = moment(row.Was)
	}
	return l, err
}

// Look keeps when somebody looked at their desk, in the place of what was kept.
func (s desks) Look(ctx context.Context, login string, l desk.Looks) error {
	seen, err := json.Marshal(l.Now.Items)
	if err != nil {
		return err
	}
	former, err := json.Marshal(l.Former.Items)
	if err != nil {
		return err
	}
	was := ""
	if !l.Former.At.IsZero() {
		was = l.Former.At.UTC().Format(fine)
	}
	_, err = unit.Exec(ctx, s.db, `INSERT OR REPLACE INTO desks (login, seen_at, seen, former_at, former) VALUES (?, ?, ?, ?, ?)`,
		login, l.Now.At.UTC().Format(fine), string(seen), was, string(former))
	return err
}
