package hours

import (
	"context"
	"fmt"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/people"
	"turret/internal/core/calendar"
	"turret/internal/unit"
)

type askRow struct {
	ID         int64         `db:"id"`
	Of         int64         `db:"of"`
	Project    string        `db:"project"`
	Person     string        `db:"person"`
	Role       string        `db:"role"`
	From       calendar.Date `db:"from_day"`
	To         calendar.Date `db:"to_day"`
	Percent    int64         `db:"percent"`
	Note       string        `db:"note"`
	State      string        `db:"state"`
	Asker      string        `db:"asker"`
	AskerLogin string        `db:"asker_login"`
	Who        string        `db:"who"`
	Answer     string        `db:"answer"`
	Offer      string        `db:"offer"`
	At         string        `db:"at"`
}

// Asks are the requests for people as they stand, the oldest first.
func (b Book) Asks(ctx context.Context) ([]people.Request, error) {
	var rows []askRow
	if err := b.read.SelectContext(ctx, &rows, `SELECT id, of, project, person, role, from_day, to_day, percent, note, state, asker,
		asker_login, who, answer, offer,
			at FROM people_asked WHERE id IN (SELECT max(id) FROM people_asked GROUP BY of) ORDER BY of`); err != nil {
		return nil, err
	}
	list := make([]people.Request, len(rows))
	for i, r := range rows {
		at, err := time.Parse(stamp, r.At)
		if err != nil {
			return nil, err
		}
		list[i] = people.Request{ID: r.ID, Of: r.Of, Project: r.Project, Person: r.Person, Role: r.Role, From: r.From, To: r.To,
			Percent: r.Percent, Note: r.Note, State: people.RequestState(r.State), Asker: r.Asker, AskerLogin: r.AskerLogin, Who: r.Who,
			Answer: r.Answer, Offer: r.Offer, At: at}
	}
	return list, nil
}

// KeepAsk keeps a request in the place of the one whose number it has, 0 for a new one. Where another stands there by now nothing is kept,
// and the error wraps people.ErrAnswered.
func (b Book) KeepAsk(ctx context.Context, r people.Request) error {
	return unit.Within(ctx, b.write, func(tx *sqlx.Tx) error { return keepAsk(ctx, tx, r) })
}

func keepAsk(ctx context.Context, tx *sqlx.Tx, r people.Request) error {
	if r.ID != 0 {
		var stands int64
		if err := tx.GetContext(ctx, &stands, `SELECT coalesce(max(id), 0) FROM people_asked WHERE of = ?`, r.Of); err != nil {
			return err
		}
		if stands != r.ID {
			return fmt.Errorf("request of %s: %w", r.Project, people.ErrAnswered)
		}
	} else if err := tx.GetContext(ctx, &r.Of, `SELECT coalesce(max(of), 0) + 1 FROM people_asked`); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, `INSERT INTO people_asked (of, project, person, role, from_day, to_day, percent, note, state, asker,
		asker_login, who, answer, offer, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?,
			?)`, r.Of, r.Project, r.Person, r.Role, r.From, r.To,
		r.Percent, r.Note, r.State, r.Asker, r.AskerLogin, r.Who, r.Answer, r.Offer, r.At.UTC().Format(stamp)); err != nil {
		return err
	}
	return nil
}
