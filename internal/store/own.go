package store

import (
	"context"
	"encoding/json"

	"turret/internal/app/kept"
	"turret/internal/record"
)

// ownText is how a project's fields of the office's own are kept: JSON by their codes in order, empty for none.
func ownText(own map[string]string) string {
	filled := map[string]string{}
	for key, s := range own {
		if s != "" {
			filled[key] = s
		}
	}
	if len(filled) == 0 {
		return ""
	}
	b, _ := json.Marshal(filled) // texts by texts can always be written
	return string(b)
}

func ownOf(text string) (own map[string]string, err error) {
	if text != "" {
		err = json.Unmarshal([]byte(text), &own)
	}
	return own, err
}

// readOwn reads the open fields of the office's own as columns, in the order in which they were made.
func readOwn(ctx context.Context, q queryer) ([]record.Column, error) {
	src := recordSource(record.OwnFields)
	f := &kept.File{Kind: record.OwnFields}
	rows, err := q.QueryContext(ctx, `SELECT `+src.columns+` FROM `+src.from+` WHERE `+src.current+` ORDER BY (SELECT
		min((x.load_id << 32) + x.row) FROM own_fields x WHERE x.code = t.code)`)
	err = each(rows, err, func(scan scanner) error { return src.scan(f, scan) })
	var list []record.Column
	for i := range f.Records {
		if c, open := record.OwnColumn(f.Records[i].Cells); open {
			list = append(list, c)
		}
	}
	return list, err
}

func readOwnFields(ctx context.Context, q queryer, m *kept.Masters) (err error) {
	m.Own, err = readOwn(ctx, q)
	return err
}
