package store

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"os"
	"strings"

	"github.com/jmoiron/sqlx"

	"turret/internal/disk"
)

// known looks at a file without writing into it, and says why it is not to be opened.
func known(ctx context.Context, path string) error {
	last, err := newest()
	if err != nil {
		return err
	}
	return disk.Known(ctx, path, last)
}

// newest is the number of the last layout that this version knows.
func newest() (int64, error) {
	list, err := migrations.ReadDir("migrations")
	if err != nil {
		return 0, err
	}
	var last int64
	for _, e := range list {
		var n int64
		if _, err := fmt.Sscanf(e.Name(), "%d_", &n); err != nil {
			return 0, fmt.Errorf("layout %s: %w", e.Name(), err)
		}
		last = max(last, n)
	}
	for _, m := range written {
		last = max(last, m.Version)
	}
	return last, nil
}

// Backup writes a copy of the file as it is now, which is there once it is whole. The file to write must not exist.
func (s *Store) Backup(ctx context.Context, path string) error {
	return disk.Aside(path, func(part string) error {
		db, err := sqlx.Open("sqlite", "file:"+(&url.URL{Path: s.path}).EscapedPath()+"?_pragma=busy_timeout(10000)")
		if err != nil {
			return err
		}
		_, err = db.ExecContext(ctx, `VACUUM INTO ?`, part)
		return errors.Join(err, db.Close())
	})
}

// Restore makes a new file of a backup, which stays as it is. Before it is put in its place it is checked to be whole, and by check
// besides.
func Restore(ctx context.Context, backup, path string, check func(*Store) error) error {
	if wal, err := os.Stat(backup + "-wal"); err == nil && wal.Size() > 0 {
		return fmt.Errorf("%s: %w; turret backup makes a copy of such a file", backup, disk.ErrBusy)
	}
	if err := known(ctx, backup); err != nil {
		return err
	}
	if err := disk.Uncut(backup); err != nil {
		return err
	}
	return disk.Aside(path, func(part string) error {
		if err := disk.Copied(backup, part); err != nil {
			return err
		}
		s, err := Open(ctx, part)
		if err != nil {
			return disk.Whose(err, part, backup)
		}
		if err = s.Whole(ctx); err == nil {
			err = check(s)
		}
		return disk.Whose(errors.Join(err, s.Close()), part, backup)
	})
}

// Whole has the database check itself; what is wrong comes back as an error.
func (s *Store) Whole(ctx context.Context) error {
	var found []string
	if err := s.q.SelectContext(ctx, &found, `PRAGMA integrity_check(20)`); err != nil {
		return fmt.Errorf("the file is damaged: %w", err)
	}
	if len(found) != 1 || found[0] != "ok" {
		return fmt.Errorf("the file is damaged: %s", strings.Join(found, "; "))
	}
	return nil
}
