package store

import (
	"context"
	"database/sql"
	"errors"

	"turret/internal/app/feed"
	"turret/internal/unit"
)

// FeedRuns lists the last runs of a feed, newest first.
func (s *Store) FeedRuns(ctx context.Context, feed string, limit int) ([]feed.Run, error) {
	rows, err := s.q.QueryContext(ctx, feedRunColumns+` WHERE feed = ? ORDER BY id DESC LIMIT ?`, feed, limit)
	return scanFeedRuns(rows, err)
}

// LastFeedRuns lists the last run of each feed.
func (s *Store) LastFeedRuns(ctx context.Context) ([]feed.Run, error) {
	rows, err := s.q.QueryContext(ctx, feedRunColumns+` WHERE id IN (SELECT max(id) FROM feed_runs GROUP BY feed)`)
	return scanFeedRuns(rows, err)
}

func scanFeedRuns(rows *sql.Rows, err error) ([]feed.Run, error) {
	var list []feed.Run
	err = each(rows, err, func(scan scanner) error {
		var r feed.Run
		var a, b string
		err := scan(&r.ID, &r.Feed, &a, &b, &r.State, &r.Cursor, &r.Rows, &r.Load, &r.Log)
		var p1, p2 error
		r.StartedAt, p1 = moment(a)
		r.EndedAt, p2 = moment(b)
		list = append(list, r)
		return errors.Join(err, p1, p2)
	})
	return list, err
}

// SaveFeedRun writes a run, a new one where its ID is 0.
func (s *Store) SaveFeedRun(ctx context.Context, r *feed.Run) error {
	var ended, load any
	if !r.EndedAt.IsZero() {
		ended = r.EndedAt.UTC().Format(stamp)
	}
	if r.Load != 0 {
		load = r.Load
	}
	if r.ID == 0 {
		done, err := unit.Exec(ctx, s.write, `INSERT INTO feed_runs (feed, started_at, ended_at, state, cursor, rows, load_id, log)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?)`, r.Feed, r.StartedAt.UTC().Format(stamp), ended, r.State, r.Cursor, r.Rows, load, r.Log)
		if err == nil {
			r.ID, err = done.LastInsertId()
		}
		return err
	}
	_, err := unit.Exec(ctx, s.write,
		`UPDATE feed_runs SET ended_at = ?, state = ?, cursor = ?, rows = ?, load_id = ?, log = ? WHERE id = ?`,
		ended, r.State, r.Cursor, r.Rows, load, r.Log, r.ID)
	return err
}
