// Package hours keeps in the file of an office what people write about their time: week sheets, and who is asked for.
package hours

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/hours"
	"turret/internal/core/calendar"
	"turret/internal/unit"
)

// stamp is how moments are kept.
const stamp = "2006-01-02T15:04:05.000000Z07:00"

// Book is where week sheets are kept.
type Book struct{ read, write *sqlx.DB }

// Open is the book of a file by its two connections.
func Open(read, write *sqlx.DB) Book { return Book{read, write} }

type partRow struct {
	ID      int64         `db:"id"`
	Person  string        `db:"person"`
	Week    calendar.Date `db:"week"`
	Project string        `db:"project"`
	State   hours.State   `db:"state"`
	Rows    string        `db:"rows"`
	Who     string        `db:"who"`
	Login   string        `db:"login"`
	At      string        `db:"at"`
	Reason  string        `db:"reason"`
}

// newest is what stands of each person, week and project.
const newest = `SELECT id, person, week, project, state, rows, who, login, at, reason FROM week_parts p WHERE id = (SELECT max(id) FROM
	week_parts x WHERE x.person = p.person AND x.week = p.week AND x.project = p.project)`

func (b Book) parts(ctx context.Context, where string, args ...any) ([]hours.Part, error) {
	var rows []partRow
	if err := b.read.SelectContext(ctx, &rows, newest+where+` ORDER BY week, person, project`, args...); err != nil {
		return nil, err
	}
	list := make([]hours.Part, len(rows))
	for i, r := range rows {
		p := hours.Part{ID: r.ID, Person: r.Person, Week: r.Week, Project: r.Project, State: r.State, Who: r.Who, Login: r.Login,
			Reason: r.Reason}
		if err := json.Unmarshal([]byte(r.Rows), &p.Rows); err != nil {
			return nil, fmt.Errorf("week sheet %d: %w", r.ID, err)
		}
		var err error
		if p.At, err = time.Parse(stamp, r.At); err != nil {
			return nil, err
		}
		list[i] = p
	}
	return list, nil
}

// WeekParts are the parts of weeks that begin on a day from first to last, of a person, or of all where it is empty.
func (b Book) WeekParts(ctx context.Context, person string, first, last calendar.Date) ([]hours.Part, error) {
	if person == "" {
		return b.parts(ctx, ` AND week BETWEEN ? AND ?`, first, last)
	}
	return b.parts(ctx, ` AND person = ? AND week BETWEEN ? AND ?`, person, first, last)
}

// WaitingParts are those that were sent and not decided.
func (b Book) WaitingParts(ctx context.Context) ([]hours.Part, error) {
	return b.parts(ctx, ` AND state = ?`, hours.Sent)
}

// PartsByID are those of some numbers that still stand.
func (b Book) PartsByID(ctx context.Context, ids []int64) ([]hours.Part, error) {
	if len(ids) == 0 {
		return nil, nil
	}
	where, args, err := sqlx.In(` AND id IN (?)`, ids)
	if err != nil {
		return nil, err
	}
	return b.parts(ctx, where, args...)
}

// KeepParts keeps parts, each in the place of the one whose number it has, 0 for none. Where another stands there by now nothing is kept,
// and the error wraps hours.ErrMoved.
func (b Book) KeepParts(ctx context.Context, list []hours.Part) error {
	return unit.Within(ctx, b.write, func(tx *sqlx.Tx) error { return keepParts(ctx, tx, list) })
}

func keepParts(ctx context.Context, tx *sqlx.Tx, list []hours.Part) error {
	for i := range list {
		p := &list[i]
		var stands int64
		err := tx.GetContext(ctx, &stands, `SELECT coalesce(max(id), 0) FROM week_parts WHERE person = ? AND week = ? AND project = ?`,
			p.Person, p.Week, p.Project)
		if err != nil {
			return err
		}
		if stands != p.ID {
			return fmt.Errorf("hours on %s: %w", p.Project, hours.ErrMoved)
		}
		rows, err := json.Marshal(p.Rows)
		if err != nil {
			return err
		}
		if _, err = tx.ExecContext(ctx, `INSERT INTO week_parts (person, week, project, state, rows, who, login, at, reason)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`, p.Person, p.Week, p.Project, p.State, string(rows), p.Who, p.Login,
			p.At.UTC().Format(stamp), p.Reason); err != nil {
			return err
		}
	}
	return nil
}

// Worked passes the hours that timesheets hold of a person, or of all where it is empty, on the days from first to last.
func (b Book) Worked(ctx context.Context, person string, first, last calendar.Date, row func(*hours.Worked)) error {
	query := `SELECT t.person, p.code, t.date, coalesce(t.hours, 0), t.activity, t.billable = 'yes', t.cost_code, l.source FROM timesheets t
		JOIN projects p ON p.id = t.project_id JOIN standing_loads l ON l.id = t.load_id WHERE t.date BETWEEN ? AND ?`
	args := []any{first, last}
	if person != "" {
		query += ` AND t.person = ?`
		args = append(args, person)
	}
	rows, err := b.read.QueryContext(ctx, query, args...)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var w hours.Worked
		var source string
		if err := rows.Scan(&w.Person, &w.Project, &w.Date, &w.Hours, &w.Activity, &w.Billable, &w.CostCode, &source); err != nil {
			return err
		}
		w.FromSheet = source == hours.Source
		row(&w)
	}
	return rows.Err()
}
