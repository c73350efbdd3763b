package store

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"time"

	"github.com/jmoiron/sqlx"
	"modernc.org/sqlite"

	"turret/internal/app/kept"
	"turret/internal/disk"
	"turret/internal/prepared"
)

// rehearsals begins the name of a folder beside the file, for what is tried out.
const rehearsals = ".turret-try-"

// Rehearse writes the files into a copy, passes what could then be read, and throws the copy away. Nobody waits for it: the file itself is
// read only, as it stood when this began.
func (s *Store) Rehearse(ctx context.Context, b kept.Batch, then func(kept.Reading) error) (err error) {
	dir, err := os.MkdirTemp(filepath.Dir(s.path), rehearsals)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	disk.Forget(dir, rehearsals, 24*time.Hour)
	path := filepath.Join(dir, "copy.db")
	if err := s.copyTo(ctx, path); err != nil {
		return fmt.Errorf("copying the file: %w", err)
	}
	// It is thrown away whatever happens: it needs neither a journal nor the disk.
	db, err := prepared.Open("file:" + (&url.URL{Path: path}).EscapedPath() +
		"?_pragma=journal_mode(OFF)&_pragma=synchronous(OFF)&_pragma=foreign_keys(1)&_pragma=cache_size(-65536)&_txlock=immediate")
	if err != nil {
		return err
	}
	db.SetMaxOpenConns(1)
	defer func() { err = errors.Join(err, db.Close()) }()
	try := &Store{reading: readingOf(db), path: path, write: db, pool: db}
	return try.within(ctx, b, func(tx *sqlx.Tx, _ []kept.Load) error { return then(readingOf(tx)) })
}

// copyTo copies the file page by page, as it stands at one moment.
func (s *Store) copyTo(ctx context.Context, path string) error {
	c, err := s.pool.Conn(ctx)
	if err != nil {
		return err
	}
	defer c.Close()
	return c.Raw(func(driver any) error {
		source, ok := driver.(interface {
			NewBackup(to string) (*sqlite.Backup, error)
		})
		if !ok {
			return fmt.Errorf("%T cannot be copied from", driver)
		}
		b, err := source.NewBackup("file:" + (&url.URL{Path: path}).EscapedPath())
		if err != nil {
			return err
		}
		for more := true; more && err == nil; {
			if more, err = b.Step(4096); ctx.Err() != nil {
				err = ctx.Err()
			}
		}
		return errors.Join(err, b.Finish())
	})
}
