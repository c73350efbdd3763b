package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"errors"
	"hash"
	"slices"
	"strings"

	"turret/internal/app/kept"
	"turret/internal/seal"
)

// notRows are tables with a load that hold nothing it brought.
var notRows = []string{"pins", "periods", "revisions", "baselines", "money_names", "feed_runs", "refusals", "snapshots", "ledger_sums"}

// Pins are loads with the digests of what each brought, known from when it was first pinned or computed.
func (s *Store) Pins(ctx context.Context, loads []int64) ([]kept.Pin, error) {
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
	list := make([]kept.Pin, len(loads))
	var unknown []int64
	for i, id := range loads {
		if list[i] = (kept.Pin{Load: id, Rows: known[id]}); known[id] == "" {
			unknown = append(unknown, id)
		}
	}
	computed, err := s.RowsDigests(ctx, unknown)
	for i := range list {
		if list[i].Rows == "" {
			list[i].Rows = computed[list[i].Load]
		}
	}
	return list, err
}

// RowsDigests are the SHA-256 over all that loads brought, hexadecimal. Cells that are empty or nought are left out, so that a column
// that a later version adds does not change them.
func (s *Store) RowsDigests(ctx context.Context, loads []int64) (map[int64]string, error) {
	if len(loads) == 0 {
		return nil, nil
	}
	which, err := json.Marshal(loads)
	if err != nil {
		return nil, err
	}
	sums := make(map[int64]hash.Hash, len(loads))
	for _, id := range loads {
		sums[id] = sha256.New()
	}
	queries, err := s.brought(ctx)
	if err != nil {
		return nil, err
	}
	for _, q := range queries {
		if err := s.hashRows(ctx, sums, q, string(which)); err != nil {
			return nil, err
		}
	}
	digests := make(map[int64]string, len(loads))
	for id, h := range sums {
		digests[id] = hex.EncodeToString(h.Sum(nil))
	}
	return digests, nil
}

// brought are queries of what a load brought, one for each table, in the order of their names.
func (s *Store) brought(ctx context.Context) ([]string, error) {
	rows, err := s.q.QueryContext(ctx, `SELECT m.name, group_concat(c.name) FROM sqlite_schema m JOIN pragma_table_info(m.name) c
		WHERE m.type = 'table' AND c.name IN ('load_id', 'revision_id', 'project_id') GROUP BY m.name ORDER BY m.name`)
	const within = ` WHERE v.load_id IN (SELECT value FROM json_each(?)) ORDER BY v.load_id, `
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
			list = append(list, `SELECT v.load_id, '`+table+`' AS "from", v.project_id, t.* FROM revisions v JOIN `+table+
				` t ON t.revision_id = v.id`+within+`v.id, t.row`)
		case table == "postings" || table == "timesheets": // which lie by project
			list = append(list, `SELECT v.load_id, '`+table+`' AS "from", v.project_id, t.* FROM revisions v JOIN `+table+
				` t ON t.project_id = v.project_id AND t.load_id = v.load_id`+
				within+`v.project_id, t.row`)
		case slices.Contains(has, "load_id"):
			list = append(list, `SELECT v.load_id, '`+table+`' AS "from", v.* FROM `+table+` v`+within+`v.row`)
		}
		return nil
	})
	return list, err
}

// codes are those of projects, nodes and cost codes by their numbers, by the columns that hold these.
func (s *Store) codes(ctx context.Context) (map[string]map[string]string, error) {
	list := map[string]map[string]string{}
	for column, table := range map[string]string{"project_id": "projects", "node_id": "nodes", "cost_code_id": "cost_codes"} {
		of := map[string]string{}
		rows, err := s.q.QueryContext(ctx, `SELECT CAST(id AS TEXT), code FROM `+table)
		err = each(rows, err, func(scan scanner) error {
			var id, code string
			err := scan(&id, &code)
			of[id] = code
			return err
		})
		if err != nil {
			return nil, err
		}
		list[column] = of
	}
	return list, nil
}

func (s *Store) hashRows(ctx context.Context, sums map[int64]hash.Hash, query, loads string) (err error) {
	rows, err := s.q.QueryContext(ctx, query, loads)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	names, err := rows.Columns()
	if err != nil {
		return err
	}
	var load int64
	cells := make([]sql.RawBytes, len(names)-1)
	into := []any{&load}
	for i := range cells {
		into = append(into, &cells[i])
	}
	names = names[1:]
	codes, err := s.codes(ctx)
	if err != nil {
		return err
	}
	for rows.Next() {
		if err := rows.Scan(into...); err != nil {
			return err
		}
		h := sums[load]
		for i, cell := range cells {
			switch of := codes[names[i]]; {
			case names[i] == "load_id" || names[i] == "revision_id": // numbers of the file's own
			case of != nil:
				seal.Cell(h, names[i], []byte(of[string(cell)]))
			default:
				seal.Cell(h, names[i], cell)
			}
		}
		h.Write([]byte{'\n'})
	}
	return rows.Err()
}
