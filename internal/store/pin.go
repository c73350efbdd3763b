package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"hash"
	"slices"
	"strings"

	"turret/internal/app"
)

// notRows are tables with a load that hold nothing it brought.
var notRows = []string{"pins", "periods", "revisions", "baselines", "money_names", "feed_runs", "refusals"}

// Pins are loads with the digests of what each brought, known from when it was first pinned or computed.
func (s *Store) Pins(ctx context.Context, loads []int64) ([]app.Pin, error) {
	known := map[int64]string{}
	rows, err := s.q.QueryContext(ctx, `SELECT load_id, min(rows) FROM pins GROUP BY load_id`)
	err = each(rows, err, func(scan scanner) error {
		var id int64
		var digest string
		err := scan(&id, &digest)
		known[id] = digest
		return err
	})
	if err != nil {
		return nil, err
	}
	list := make([]app.Pin, len(loads))
	for i, id := range loads {
		list[i] = app.Pin{Load: id, Rows: known[id]}
		if list[i].Rows == "" {
			if list[i].Rows, err = s.RowsDigest(ctx, id); err != nil {
				return nil, err
			}
		}
	}
	return list, nil
}

// RowsDigest is the SHA-256 over all that a load brought, hexadecimal. Cells that are empty or nought are left out, so that a column
// that a later version adds does not change it.
func (s *Store) RowsDigest(ctx context.Context, load int64) (string, error) {
	h := sha256.New()
	names, err := s.brought(ctx)
	if err != nil {
		return "", err
	}
	for _, q := range names {
		if err := s.hashRows(ctx, h, q, load); err != nil {
			return "", err
		}
	}
	return hex.EncodeToString(h.Sum(nil)), nil
}

// brought are queries of what a load brought, one for each table, in the order of their names.
func (s *Store) brought(ctx context.Context) ([]string, error) {
	rows, err := s.q.QueryContext(ctx, `SELECT m.name, group_concat(c.name) FROM sqlite_schema m JOIN pragma_table_info(m.name) c
		WHERE m.type = 'table' AND c.name IN ('load_id', 'revision_id', 'project_id') GROUP BY m.name ORDER BY m.name`)
	var list []string
	err = each(rows, err, func(scan scanner) error {
		var table, columns string
		if err := scan(&table, &columns); err != nil {
			return err
		}
		has := strings.Split(columns, ",")
		switch {
		case slices.Contains(notRows, table):
		case slices.Contains(has, "revision_id"):
			list = append(list, `SELECT '`+table+`' AS "from", t.* FROM revisions v JOIN `+table+` t ON t.revision_id = v.id WHERE v.load_id = ? ORDER BY t.revision_id, t.row`)
		case table == "postings" || table == "timesheets": // which lie by project
			list = append(list, `SELECT '`+table+`' AS "from", t.* FROM revisions v JOIN `+table+` t ON t.project_id = v.project_id AND t.load_id = v.load_id
				WHERE v.load_id = ? ORDER BY v.project_id, t.row`)
		case slices.Contains(has, "load_id"):
			list = append(list, `SELECT '`+table+`' AS "from", * FROM `+table+` WHERE load_id = ? ORDER BY row`)
		}
		return nil
	})
	return list, err
}

func (s *Store) hashRows(ctx context.Context, h hash.Hash, query string, load int64) (err error) {
	rows, err := s.q.QueryContext(ctx, query, load)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	names, err := rows.Columns()
	if err != nil {
		return err
	}
	cells := make([]sql.RawBytes, len(names))
	into := make([]any, len(names))
	for i := range cells {
		into[i] = &cells[i]
	}
	for rows.Next() {
		if err := rows.Scan(into...); err != nil {
			return err
		}
		for i, cell := range cells {
			if len(cell) > 0 && string(cell) != "0" {
				fmt.Fprintf(h, "%s=%d:%s;", names[i], len(cell), cell)
			}
		}
		h.Write([]byte{'\n'})
	}
	return rows.Err()
}
