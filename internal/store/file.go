package store

import (
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"net/url"
	"os"
	"path/filepath"
	"strings"

	"github.com/jmoiron/sqlx"
)

// Errors about files that are not opened. Nothing is written into them.
var (
	ErrForeign = errors.New("this is no file of Turret's")
	ErrLater   = errors.New("the file was written by a later version of Turret")
	ErrBusy    = errors.New("the file is in use, or was not closed")
)

// signature is what every SQLite file begins with.
const signature = "SQLite format 3\x00"

// known looks at a file without writing into it, and says why it is not to be opened.
func known(ctx context.Context, path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	head := make([]byte, len(signature))
	_, err = io.ReadFull(f, head)
	if err = errors.Join(err, f.Close()); err != nil || string(head) != signature {
		return fmt.Errorf("%s: %w", path, ErrForeign)
	}
	db, err := sqlx.Open("sqlite", "file:"+(&url.URL{Path: path}).EscapedPath()+
		"?mode=ro&_pragma=busy_timeout(10000)&_pragma=query_only(1)")
	if err != nil {
		return err
	}
	defer db.Close()
	var ours, version int64
	if err := db.GetContext(ctx, &ours,
		`SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name IN ('goose_db_version', 'loads', 'revisions',
			'settings')`); err != nil {
		return fmt.Errorf("%s: %w: %w", path, ErrForeign, err)
	}
	if ours < 4 {
		return fmt.Errorf("%s: %w", path, ErrForeign)
	}
	if err := db.GetContext(ctx, &version, `SELECT max(version_id) FROM goose_db_version`); err != nil {
		return fmt.Errorf("%s: %w", path, err)
	}
	if newest, err := newest(); err != nil || version > newest {
		return errors.Join(err, fmt.Errorf("%s: its layout is number %d, and this version knows them up to %d: %w", path, version, newest,
			ErrLater))
	}
	return nil
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
	return last, nil
}

// aside has a file written beside where it is to stand, and puts it there once it is whole. What stands there already is an error wrapping
// os.ErrExist, and stays.
func aside(path string, write func(part string) error) error {
	if _, err := os.Lstat(path); err == nil {
		return fmt.Errorf("%s: %w", path, os.ErrExist)
	}
	f, err := os.CreateTemp(filepath.Dir(path), filepath.Base(path)+".part-*")
	if err != nil {
		return err
	}
	part := f.Name()
	defer func() {
		for _, more := range []string{"", "-wal", "-shm", "-journal"} {
			_ = os.Remove(part + more)
		}
	}()
	if err := errors.Join(f.Close(), write(part)); err != nil {
		return err
	}
	if err := flush(part); err != nil {
		return err
	}
	if err := os.Link(part, path); err != nil {
		return err
	}
	return flush(filepath.Dir(path))
}

// flush has a file or folder written to the disk.
func flush(path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

// Backup writes a copy of the file as it is now, which is there once it is whole. The file to write must not exist.
func (s *Store) Backup(ctx context.Context, path string) error {
	return aside(path, func(part string) error {
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
		return fmt.Errorf("%s: %w; turret backup makes a copy of such a file", backup, ErrBusy)
	}
	if err := known(ctx, backup); err != nil {
		return err
	}
	if err := uncut(backup); err != nil {
		return err
	}
	return aside(path, func(part string) error {
		if err := copied(backup, part); err != nil {
			return err
		}
		s, err := Open(ctx, part)
		if err != nil {
			return whose(err, part, backup)
		}
		if err = s.Whole(ctx); err == nil {
			err = check(s)
		}
		return whose(errors.Join(err, s.Close()), part, backup)
	})
}

// uncut says whether a file has all the pages that it begins by telling of.
func uncut(path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	defer f.Close()
	head := make([]byte, 100)
	if _, err := io.ReadFull(f, head); err != nil {
		return fmt.Errorf("%s: %w", path, ErrForeign)
	}
	size := int64(binary.BigEndian.Uint16(head[16:]))
	if size == 1 { // as it says 65,536
		size = 1 << 16
	}
	want := size * int64(binary.BigEndian.Uint32(head[28:]))
	if is, err := f.Stat(); err != nil || is.Size() < want {
		return errors.Join(err, fmt.Errorf("%s: the file is damaged: it is cut off before byte %d", path, want))
	}
	return nil
}

// whose names the file that one was copied from in an error.
func whose(err error, part, from string) error {
	if err == nil || !strings.Contains(err.Error(), part) {
		return err
	}
	return fmt.Errorf("%s: %w", from, err)
}

func copied(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.OpenFile(to, os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, out.Close())
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
