// Package disk knows the file of an office as it lies on the disk: whether it is one, whether it is whole, and how another is put beside
// it.
package disk

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
	_ "modernc.org/sqlite" // the driver
)

// Errors about files that are not opened. Nothing is written into them.
var (
	ErrForeign = errors.New("this is no file of Turret's")
	ErrLater   = errors.New("the file was written by a later version of Turret")
	ErrBusy    = errors.New("the file is in use, or was not closed")
)

// signature is what every SQLite file begins with.
const signature = "SQLite format 3\x00"

// Known looks at a file without writing into it, and says why it is not to be opened. Newest is the last layout that is known.
func Known(ctx context.Context, path string, newest int64) error {
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
	if version > newest {
		return fmt.Errorf("%s: its layout is number %d, and this version knows them up to %d: %w", path, version, newest, ErrLater)
	}
	return nil
}

// Aside has a file written beside where it is to stand, and puts it there once it is whole. What stands there already is an error wrapping
// os.ErrExist, and stays.
func Aside(path string, write func(part string) error) error {
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

// Uncut says whether a file has all the pages that it begins by telling of.
func Uncut(path string) error {
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

// Whose names the file that one was copied from in an error.
func Whose(err error, part, from string) error {
	if err == nil || !strings.Contains(err.Error(), part) {
		return err
	}
	return fmt.Errorf("%s: %w", from, err)
}

// Copied fills a file that is there with the content of another.
func Copied(from, to string) error {
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
