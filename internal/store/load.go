package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

const loadColumns = `SELECT id, kind, file, digest, size, rows, source, author, received_at, recognised, period,
	coalesce(withdrawn_at, ''), withdrawn_by, reason, note FROM loads`

// Loads lists all loads, newest first.
func (r reading) Loads(ctx context.Context) ([]kept.Load, error) {
	rows, err := r.q.QueryContext(ctx, loadColumns+` ORDER BY id DESC`)
	return scanLoads(rows, err)
}

// LoadOf finds the newest standing load of the kind with the digest; nil where there is none.
func (r reading) LoadOf(ctx context.Context, kind record.Kind, digest string) (*kept.Load, error) {
	rows, err := r.q.QueryContext(ctx, loadColumns+` WHERE kind = ? AND digest = ? AND withdrawn_at IS NULL ORDER BY id DESC LIMIT 1`,
		kind, digest)
	list, err := scanLoads(rows, err)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	return &list[0], nil
}

func scanLoads(rows *sql.Rows, err error) ([]kept.Load, error) {
	var list []kept.Load
	err = each(rows, err, func(scan scanner) error {
		var l kept.Load
		var at, withdrawn string
		err := scan(&l.ID, &l.Kind, &l.File, &l.Digest, &l.Size, &l.Rows, &l.Source, &l.Author, &at, &l.Recognised, &l.Period,
			&withdrawn, &l.WithdrawnBy, &l.Reason, &l.Note)
		var parse, parse2 error
		l.ReceivedAt, parse = moment(at)
		l.WithdrawnAt, parse2 = moment(withdrawn)
		list = append(list, l)
		return errors.Join(err, parse, parse2)
	})
	return list, err
}

// moment reads a stamp; an empty one is the zero time.
func moment(s string) (time.Time, error) {
	if s == "" {
		return time.Time{}, nil
	}
	return time.Parse(stamp, s)
}

// orphans are what a withdrawal must not leave behind: rows of standing loads that refer to something no longer there. Each
// query returns the load that refers and the code it refers to.
var orphans = []string{
	`SELECT v.load_id, 'project ' || p.code FROM revisions v JOIN standing_loads l ON l.id = v.load_id JOIN projects p ON p.id =
		v.project_id
		WHERE v.project_id NOT IN (SELECT project_id FROM current_projects)
		AND p.code NOT IN (SELECT n.code FROM nodes n JOIN current_nodes x ON x.node_id = n.id) LIMIT 1`,
	`SELECT r.load_id, 'programme ' || r.parent FROM current_projects c JOIN project_rows r USING (project_id, load_id)
		WHERE r.parent <> '' AND r.parent NOT IN (SELECT n.code FROM nodes n JOIN current_nodes x ON x.node_id = n.id) LIMIT 1`,
	`SELECT r.load_id, 'programme ' || r.parent FROM current_nodes c JOIN node_rows r USING (node_id, load_id)
		WHERE r.parent <> '' AND r.parent NOT IN (SELECT n.code FROM nodes n JOIN current_nodes x ON x.node_id = n.id) LIMIT 1`,
	`SELECT v.load_id, 'cost code ' || k.code FROM plan_lines t JOIN revisions v ON v.id = t.revision_id
		JOIN standing_loads l ON l.id = v.load_id JOIN cost_codes k ON k.id = t.cost_code_id
		WHERE t.cost_code_id NOT IN (SELECT cost_code_id FROM current_cost_codes) LIMIT 1`,
	`SELECT t.load_id, 'cost code ' || k.code FROM postings t JOIN standing_loads l ON l.id = t.load_id JOIN cost_codes k ON k.id =
		t.cost_code_id
		WHERE t.cost_code_id NOT IN (SELECT cost_code_id FROM current_cost_codes) LIMIT 1`,
	`SELECT v.load_id, 'calendar ' || t.calendar FROM activities t JOIN revisions v ON v.id = t.revision_id
		JOIN standing_loads l ON l.id = v.load_id WHERE t.calendar NOT IN ('', 'default')
		AND t.calendar NOT IN (SELECT calendar FROM calendar_rows JOIN standing_loads s ON s.id = load_id) LIMIT 1`,
}

// referred are the codes that columns of records refer to by their text: in words, and where those that are there stand.
var referred = map[record.Kind][2]string{
	record.CostCodes: {"cost code", `SELECT k.code FROM cost_codes k JOIN current_cost_codes c ON c.cost_code_id = k.id`},
	record.People:    {"person", `SELECT p.code FROM people p JOIN standing_loads s ON s.id = p.load_id`},
	record.Calendars: {"calendar",
		`SELECT c.calendar FROM calendar_rows c JOIN standing_loads s ON s.id = c.load_id UNION SELECT 'default'`},
	record.Structure: {"programme", `SELECT n.code FROM nodes n JOIN current_nodes x ON x.node_id = n.id`},
}

// recordOrphans find rows of records that refer to a code that is not there.
func recordOrphans() (list []string) {
	for _, k := range record.Kinds() {
		if !k.IsRecord() {
			continue
		}
		load, from := "t.load_id", string(k)+" t"
		if k.IsRevision() {
			load, from = "v.load_id", from+" JOIN revisions v ON v.id = t.revision_id"
		}
		for _, c := range k.Input().Columns {
			to, ok := referred[c.Refers]
			if !ok {
				continue
			}
			list = append(list, fmt.Sprintf(`SELECT %[1]s, '%[2]s ' || t."%[3]s" FROM %[4]s JOIN standing_loads l ON l.id = %[1]s
				WHERE t."%[3]s" <> '' AND t."%[3]s" NOT IN (%[5]s) LIMIT 1`, load, to[0], c.Name, from, to[1]))
		}
	}
	return list
}

// Withdraw makes a load no longer count.
func (s *Store) Withdraw(ctx context.Context, load int64, who, reason string, at time.Time, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		var periods []calendar.Period
		if err := tx.SelectContext(ctx, &periods,
			`SELECT DISTINCT p.period FROM pins JOIN periods p USING (serial) WHERE pins.load_id = ? ORDER BY p.period`,
			load); err != nil {
			return err
		}
		if len(periods) > 0 {
			names := make([]string, len(periods))
			for i, p := range periods {
				names[i] = p.Name()
			}
			return fmt.Errorf("load %d stays: %s %w", load, strings.Join(names, ", "), fault.ErrPinned)
		}
		r, err := tx.ExecContext(ctx,
			`UPDATE loads SET withdrawn_at = ?, withdrawn_by = ?, reason = ? WHERE id = ? AND withdrawn_at IS NULL`,
			at.UTC().Format(fine), who, reason, load)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); err != nil || n == 0 {
			return errors.Join(err, fmt.Errorf("load %d: %w", load, fault.ErrConflict))
		}
		for _, q := range append(slices.Clone(orphans), recordOrphans()...) {
			var by int64
			var what string
			switch err := tx.QueryRowContext(ctx, q).Scan(&by, &what); {
			case errors.Is(err, sql.ErrNoRows):
			case err != nil:
				return err
			default:
				return fmt.Errorf("load %d stays: load %d needs %s, which it brought; %w", load, by, what, fault.ErrNeeded)
			}
		}
		projects, err := withdrawnOf(ctx, tx, load)
		if err != nil {
			return err
		}
		return stirred(ctx, tx, projects...)
	})
}
