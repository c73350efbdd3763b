package store

import (
	"bytes"
	"context"
	"image"

	"turret/internal/app/kept"
	"turret/internal/app/setting"

	_ "image/jpeg"

	// the pictures that are kept
	_ "image/png"

	"github.com/jmoiron/sqlx"
)

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
