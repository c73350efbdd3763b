// Package ledger reads and sums the postings of a file. What each load brought for each project is kept added up by code, centre, currency
// and month, written with the postings in one transaction, so that computing reads single postings only where it has to.
package ledger

import (
	"context"
	"database/sql"
	"encoding/json"
	"slices"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
)

// Columns are those of a posting that computing needs, after its project.
const Columns = `load_id, row, cost_code_id, day, amount, currency, cost_centre, document`

// standing leaves out what was withdrawn; the view is one that a bound may narrow.
const standing = ` WHERE t.load_id NOT IN (SELECT id FROM gone_loads)`

// Queryer asks a file.
type Queryer interface {
	QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error)
}

// Reader reads the postings of a file.
type Reader struct{ q Queryer }

// In is the ledger of whatever a queryer asks.
func In(q Queryer) Reader { return Reader{q} }

// each scans every row and closes the rows, returning the first error.
func each(rows *sql.Rows, err error, row func(func(...any) error) error) error {
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		if err := row(rows.Scan); err != nil {
			return err
		}
	}
	return rows.Err()
}

// of asks for the rows of projects; of all where they are nil.
func (r Reader) of(ctx context.Context, query string, projects []int64) (*sql.Rows, error) {
	if projects == nil {
		return r.q.QueryContext(ctx, query)
	}
	query, args, err := sqlx.In(query+` AND t.project_id IN (?)`, projects)
	if err != nil {
		return nil, err
	}
	return r.q.QueryContext(ctx, query, args...)
}

// Amounts passes postings with the numbers of their documents and no other text, in the order of projects. The posting is the same one
// each time.
func (r Reader) Amounts(ctx context.Context, projects []int64, row func(project int64, x *cost.Posting)) error {
	rows, err := r.of(ctx, `SELECT project_id, `+Columns+` FROM postings t`+standing, projects)
	return pass(rows, err, row)
}

func pass(rows *sql.Rows, err error, row func(int64, *cost.Posting)) error {
	var project, code, day, amount int64
	var currency string
	var p cost.Posting
	return each(rows, err, func(scan func(...any) error) error {
		err := scan(&project, &p.Ref.Load, &p.Ref.Row, &code, &day, &amount, &currency, &p.Centre, &p.Document)
		p.Code, p.Date, p.Amount, p.Currency = int32(code), calendar.Date(day), money.Amount(amount), money.Currency(currency)
		row(project, &p)
		return err
	})
}

// Postings reads the whole ledger of a project by load and row.
func (r Reader) Postings(ctx context.Context, project int64) ([]cost.Posting, error) {
	var list []cost.Posting
	rows, err := r.q.QueryContext(ctx, `SELECT `+Columns+`, supplier, activity FROM postings t`+standing+
		` AND t.project_id = ? ORDER BY t.load_id, t.row`, project)
	err = each(rows, err, func(scan func(...any) error) error {
		var p cost.Posting
		err := scan(&p.Ref.Load, &p.Ref.Row, &p.Code, &p.Date, &p.Amount, &p.Currency, &p.Centre, &p.Document, &p.Supplier, &p.Activity)
		list = append(list, p)
		return err
	})
	return list, err
}

// part is what a load brought for a project.
type part struct{ project, load int64 }

// Ledger passes the postings of projects by sums, which whoever asks takes or not; then those of the sums that were not taken, one by one
// and by load and row. The posting is the same one each time.
func (r Reader) Ledger(ctx context.Context, projects []int64, take func(project, load int64, s *cost.MonthSum) bool,
	row func(project int64, x *cost.Posting)) error {
	rest := map[part][]cost.MonthSum{}
	var parts []part
	rows, err := r.of(ctx, `SELECT project_id, load_id, sums FROM ledger_sums t`+standing, projects)
	err = each(rows, err, func(scan func(...any) error) error {
		var p part
		var text sql.RawBytes
		if err := scan(&p.project, &p.load, &text); err != nil {
			return err
		}
		return decode(text, func(s *cost.MonthSum) {
			if take(p.project, p.load, s) {
				return
			}
			if rest[p] == nil {
				parts = append(parts, p)
			}
			left := *s
			left.Entries = nil
			rest[p] = append(rest[p], left)
		})
	})
	if err != nil || len(parts) == 0 {
		return err
	}
	return r.rows(ctx, parts, func(project int64, x *cost.Posting) {
		if slices.ContainsFunc(rest[part{project, x.Ref.Load}], func(s cost.MonthSum) bool { return s.Holds(x) }) {
			row(project, x)
		}
	})
}

// rows passes the postings of parts, which are in order.
func (r Reader) rows(ctx context.Context, parts []part, row func(int64, *cost.Posting)) error {
	list := make([][2]int64, len(parts))
	for i, p := range parts {
		list[i] = [2]int64{p.project, p.load}
	}
	which, err := json.Marshal(list)
	if err != nil {
		return err
	}
	rows, err := r.q.QueryContext(ctx, `SELECT t.project_id, t.load_id, t.row, t.cost_code_id, t.day, t.amount, t.currency, t.cost_centre,
		t.document FROM json_each(?) j CROSS JOIN postings t ON t.project_id = j.value ->> 0 AND t.load_id = j.value ->> 1`, string(which))
	return pass(rows, err, row)
}

// Documents are those of postings.
func (r Reader) Documents(ctx context.Context, list []kept.PostingAt) (map[kept.PostingAt]string, error) {
	which := make([][3]int64, len(list))
	for i, x := range list {
		which[i] = [3]int64{x.Project, x.Ref.Load, int64(x.Ref.Row)}
	}
	text, err := json.Marshal(which)
	if err != nil {
		return nil, err
	}
	documents := make(map[kept.PostingAt]string, len(list))
	rows, err := r.q.QueryContext(ctx, `SELECT t.project_id, t.load_id, t.row, t.document FROM json_each(?) j CROSS JOIN postings t
		ON t.project_id = j.value ->> 0 AND t.load_id = j.value ->> 1 AND t.row = j.value ->> 2`, string(text))
	return documents, each(rows, err, func(scan func(...any) error) error {
		var x kept.PostingAt
		var document string
		err := scan(&x.Project, &x.Ref.Load, &x.Ref.Row, &document)
		documents[x] = document
		return err
	})
}
