package store

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"image"
	_ "image/jpeg"
	_ "image/png"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/setting"
	"turret/internal/core/calendar"
)

// Settings returns the settings as JSON, empty for the defaults, and their version.
func (r reading) Settings(ctx context.Context) (string, int64, error) {
	var rows []struct{ Key, Value string }
	if err := r.q.SelectContext(ctx, &rows, `SELECT key, value FROM settings WHERE key IN ('settings', 'settings_version')`); err != nil {
		return "", 0, err
	}
	text, version := "", int64(0)
	for _, row := range rows {
		if row.Key == "settings" {
			text = row.Value
		} else if _, err := fmt.Sscan(row.Value, &version); err != nil {
			return "", 0, err
		}
	}
	return text, version, nil
}

// SaveSettings replaces the settings unless their version is another by now, and the addresses with secrets of the feeds named; an empty
// one is taken away.
func (s *Store) SaveSettings(ctx context.Context, text string, version int64, secrets map[string]string, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		_, now, err := readingOf(tx).Settings(ctx)
		if err != nil {
			return err
		}
		if now != version {
			return fmt.Errorf("the settings: %w", fault.ErrConflict)
		}
		const put = `INSERT INTO settings (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value`
		for key, value := range map[string]string{"settings": text, "settings_version": fmt.Sprint(version + 1)} {
			if _, err := tx.ExecContext(ctx, put, key, value); err != nil {
				return err
			}
		}
		for name, address := range secrets {
			if err := saveSecret(ctx, tx, name, address); err != nil {
				return err
			}
		}
		return stirred(ctx, tx)
	})
}

func saveSecret(ctx context.Context, tx *sqlx.Tx, name, address string) error {
	if address == "" {
		_, err := tx.ExecContext(ctx, `DELETE FROM secrets WHERE name = ?`, name)
		return err
	}
	_, err := tx.ExecContext(ctx,
		`INSERT INTO secrets (name, address) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET address = excluded.address`, name, address)
	return err
}

// Secret is the address that a feed is reached at, with its secrets; empty where there is none.
func (s *Store) Secret(ctx context.Context, name string) (string, error) {
	var address string
	err := s.q.GetContext(ctx, &address, `SELECT address FROM secrets WHERE name = ?`, name)
	if errors.Is(err, sql.ErrNoRows) {
		err = nil
	}
	return address, err
}

const auditColumns = `SELECT id, at, who, act, subject, before, after, former, digest, made FROM audit`

const feedRunColumns = `SELECT id, feed, started_at, coalesce(ended_at, ''), state, cursor, rows, coalesce(load_id, 0), log FROM feed_runs`

// Mark is the newest picture; nil where there is none, or it was taken away.
func (s *Store) Mark(ctx context.Context) (*setting.Mark, error) {
	var rows []struct {
		Type, Who, At string
		Bytes         []byte
	}
	if err := s.q.SelectContext(ctx, &rows, `SELECT type, bytes, who, at FROM marks ORDER BY id DESC LIMIT 1`); err != nil ||
		len(rows) == 0 || len(rows[0].Bytes) == 0 {
		return nil, err
	}
	m := setting.Mark{Type: rows[0].Type, Bytes: rows[0].Bytes, Who: rows[0].Who}
	var err error
	if m.At, err = moment(rows[0].At); err != nil {
		return nil, err
	}
	c, _, err := image.DecodeConfig(bytes.NewReader(m.Bytes))
	m.Width, m.Height = c.Width, c.Height
	return &m, err
}

// SaveMark keeps a picture beside those before.
func (s *Store) SaveMark(ctx context.Context, m *setting.Mark, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO marks (type, bytes, who, at) VALUES (?, ?, ?, ?)`, m.Type,
			append([]byte{}, m.Bytes...), m.Who, m.At.UTC().Format(fine))
		return err
	})
}

// Notice is the newest that has not ended.
func (s *Store) Notice(ctx context.Context) (*setting.Notice, error) {
	rows, err := s.q.QueryContext(ctx, `SELECT id, text, until, who, at FROM notices WHERE ended_at IS NULL ORDER BY id DESC LIMIT 1`)
	var n *setting.Notice
	err = each(rows, err, func(scan scanner) error {
		var x setting.Notice
		var until, at string
		err := scan(&x.ID, &x.Text, &until, &x.Who, &at)
		if err != nil {
			return err
		}
		var e1, e2 error
		x.Until, e1 = calendar.ParseDate(until)
		x.At, e2 = moment(at)
		n = &x
		return errors.Join(e1, e2)
	})
	return n, err
}

// SaveNotice ends those that stand and keeps another, unless it has no text.
func (s *Store) SaveNotice(ctx context.Context, n setting.Notice, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		at := n.At.UTC().Format(fine)
		_, err := tx.ExecContext(ctx, `UPDATE notices SET ended_at = ? WHERE ended_at IS NULL`, at)
		if err == nil && n.Text != "" {
			_, err = tx.ExecContext(ctx, `INSERT INTO notices (text, until, who, at) VALUES (?, ?, ?, ?)`, n.Text, n.Until.String(),
				n.Who, at)
		}
		return err
	})
}
