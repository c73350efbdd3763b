package ledger

import (
	"bytes"
	"cmp"
	"context"
	"database/sql"
	"fmt"
	"maps"
	"slices"

	"turret/internal/core/cost"
)

// Fill sums up all postings of a file that has no sums yet, in the transaction that brings the table.
func Fill(ctx context.Context, tx *sql.Tx) error {
	var list []partSums
	if err := summed(ctx, tx, func(k partSums) error { list = append(list, k); return nil }); err != nil {
		return err
	}
	for _, k := range list {
		if _, err := tx.ExecContext(ctx, `INSERT INTO ledger_sums (project_id, load_id, sums) VALUES (?, ?, ?)`, k.project, k.load,
			k.sums); err != nil {
			return err
		}
	}
	return nil
}

// partSums is what is kept of a part.
type partSums struct {
	part
	sums []byte
}

// summed passes the sums of all postings, also of withdrawn loads, by project and load.
func summed(ctx context.Context, q Queryer, each func(partSums) error) error {
	var sums cost.MonthSums
	var at part
	var failed error
	end := func() {
		if list := sums.Take(); len(list) > 0 && failed == nil {
			failed = each(partSums{at, Encode(list)})
		}
	}
	rows, err := q.QueryContext(ctx, `SELECT project_id, `+Columns+` FROM postings ORDER BY project_id, load_id, row`)
	err = pass(rows, err, func(project int64, x *cost.Posting) {
		if p := (part{project, x.Ref.Load}); p != at {
			end()
			at = p
		}
		sums.Add(x)
	})
	if err != nil {
		return err
	}
	end()
	return failed
}

// Hold holds the kept sums against the postings and tells which differ: at most ten, and how many more there are. It reads one moment
// where q does.
func (r Reader) Hold(ctx context.Context) (wrong []string, err error) {
	stored := map[part][]byte{}
	rows, err := r.q.QueryContext(ctx, `SELECT project_id, load_id, sums FROM ledger_sums`)
	err = each(rows, err, func(scan func(...any) error) error {
		var k partSums
		err := scan(&k.project, &k.load, &k.sums)
		stored[k.part] = k.sums
		return err
	})
	if err != nil {
		return nil, err
	}
	more := 0
	tell := func(p part, says string) {
		if len(wrong) == 10 {
			more++
			return
		}
		wrong = append(wrong, fmt.Sprintf("load %d, project number %d: %s", p.load, p.project, says))
	}
	err = summed(ctx, r.q, func(k partSums) error {
		sums, ok := stored[k.part]
		delete(stored, k.part)
		switch {
		case !ok:
			tell(k.part, "no monthly sums are kept of its postings")
		case !bytes.Equal(sums, k.sums):
			tell(k.part, "the monthly sums kept are not those of its postings")
		}
		return nil
	})
	for _, p := range slices.SortedFunc(maps.Keys(stored), func(x, y part) int {
		return cmp.Or(cmp.Compare(x.project, y.project), cmp.Compare(x.load, y.load))
	}) {
		tell(p, "monthly sums are kept of postings that are not there")
	}
	if more > 0 {
		wrong = append(wrong, fmt.Sprintf("%d more kept sums of the ledger are wrong", more))
	}
	return wrong, err
}
