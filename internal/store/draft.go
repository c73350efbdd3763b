package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/intake"
	"turret/internal/app/kept"
)

// Sources lists the senders whose files an owner gave a meaning, in order; of nobody, all who have sent files besides.
func (s *Store) Sources(ctx context.Context, owner string) ([]string, error) {
	var list []string
	err := s.q.SelectContext(ctx, &list,
		`SELECT source FROM loads WHERE source <> '' AND ?1 = '' UNION SELECT source FROM meanings WHERE owner = ?1 ORDER BY 1`, owner)
	return list, err
}

// Meanings lists those of a source and owner, the last used first.
func (s *Store) Meanings(ctx context.Context, source, owner string) ([]intake.Meaning, error) {
	rows, err := s.q.QueryContext(ctx,
		`SELECT mapping, used_at, changed_at, changed_by, change FROM meanings WHERE source = ? AND owner = ? ORDER BY used_at DESC`,
		source, owner)
	var list []intake.Meaning
	err = each(rows, err, func(scan scanner) error {
		var m intake.Meaning
		var text, used, changed string
		if err := scan(&text, &used, &changed, &m.ChangedBy, &m.Change); err != nil {
			return err
		}
		if err := json.Unmarshal([]byte(text), &m.Mapping); err != nil {
			return fmt.Errorf("mapping of %s: %w", source, err)
		}
		var e1, e2 error
		m.UsedAt, e1 = moment(used)
		m.ChangedAt, e2 = moment(changed)
		list = append(list, m)
		return errors.Join(e1, e2)
	})
	return list, err
}

// SaveMeaning keeps what sheets of a shape mean; an entry without an act is none.
func (s *Store) SaveMeaning(ctx context.Context, source, owner string, m intake.Meaning, e kept.Entry) error {
	b, err := json.Marshal(m.Mapping)
	if err != nil {
		return err
	}
	changed := ""
	if !m.ChangedAt.IsZero() {
		changed = m.ChangedAt.UTC().Format(fine)
	}
	save := func(x sqlx.ExtContext) error {
		_, err := x.ExecContext(ctx,
			`INSERT INTO meanings (source, owner, heads, mapping, used_at, changed_at, changed_by, change) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
			ON CONFLICT (source, owner, heads) DO UPDATE SET mapping = excluded.mapping, used_at = excluded.used_at, changed_at =
				excluded.changed_at,
			changed_by = excluded.changed_by, change = excluded.change`,
			source, owner, m.Signature(), string(b), m.UsedAt.UTC().Format(fine), changed, m.ChangedBy, m.Change)
		return err
	}
	if e.Act == "" {
		return save(s.write)
	}
	return s.change(ctx, e, func(tx *sqlx.Tx) error { return save(tx) })
}
