// Package session keeps who is signed in, in a file of its own, so that signing in never waits behind a load.
//
// A session is known by a random key whose digest alone is kept. It ends after a time without use, at its latest after a
// week, and when it is ended by hand. Failed sign-ins are counted by name, by address and by both, and
// lock them for a while; the name by itself later than from one address, so that one outsider locks nobody out.
package session

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"net/url"
	"os"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/app/account"

	"turret/internal/app/fault"
	"turret/internal/prepared"
)

// Ages and limits of sessions and sign-ins.
const (
	Idle     = 12 * time.Hour
	Longest  = 7 * 24 * time.Hour
	Tries    = 5                // failed sign-ins until a name is locked from an address
	TriesOf  = 25               // of a name from everywhere
	TriesAt  = 30               // from one address, of whatever names
	LockedBy = 15 * time.Minute // since the last failure
)

// Store keeps sessions.
type Store struct {
	db  *sqlx.DB
	now func() time.Time
}

const schema = `
CREATE TABLE IF NOT EXISTS sessions (
  id INTEGER PRIMARY KEY, digest TEXT NOT NULL UNIQUE, account INTEGER NOT NULL, token TEXT NOT NULL,
  made INTEGER NOT NULL, seen INTEGER NOT NULL, address TEXT NOT NULL, agent TEXT NOT NULL
) STRICT;
CREATE INDEX IF NOT EXISTS sessions_account ON sessions (account);
CREATE TABLE IF NOT EXISTS failures (key TEXT PRIMARY KEY, count INTEGER NOT NULL, last INTEGER NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS shown (
  account INTEGER NOT NULL, address TEXT NOT NULL, state TEXT NOT NULL, at INTEGER NOT NULL, html BLOB NOT NULL,
  PRIMARY KEY (account, address)
) STRICT, WITHOUT ROWID;`

// Open opens or makes the file; ":memory:" keeps sessions as long as the program runs.
func Open(ctx context.Context, path string, now func() time.Time) (*Store, error) {
	name := path
	if path != ":memory:" {
		name = "file:" + (&url.URL{Path: path}).EscapedPath()
		if err := private(path); err != nil {
			return nil, err
		}
	}
	db, err := prepared.Open(name + "?_pragma=busy_timeout(5000)&_pragma=journal_mode(WAL)&_pragma=synchronous(NORMAL)")
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(1)
	if _, err := db.ExecContext(ctx, schema); err != nil {
		return nil, errors.Join(err, db.Close())
	}
	return &Store{db, now}, nil
}

// private makes the file where it is not there, and leaves it to its owner alone: pages that were shown are in it.
func private(path string) error {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return err
	}
	return errors.Join(f.Chmod(0o600), f.Close())
}

// Close closes the file.
func (s *Store) Close() error { return s.db.Close() }

// Session is one signed-in browser.
type Session struct {
	ID      int64
	Account int64
	Token   string // that forms carry against requests forged elsewhere
	Made    time.Time
	Seen    time.Time
	Address string
	Agent   string
}

func random() string {
	b := make([]byte, 32)
	_, _ = rand.Read(b) // never fails
	return base64.RawURLEncoding.EncodeToString(b)
}

func digest(key string) string {
	sum := sha256.Sum256([]byte(key))
	return hex.EncodeToString(sum[:])
}

// Begin makes a session and returns its key.
func (s *Store) Begin(ctx context.Context, account int64, address, agent string) (string, *Session, error) {
	key := random()
	at := s.now()
	x := &Session{Account: account, Token: random(), Made: at, Seen: at, Address: address, Agent: fault.Clip(strings.ToValidUTF8(agent, ""),
		200)}
	if _, err := s.db.ExecContext(ctx, `DELETE FROM sessions WHERE seen < ? OR made < ?`, at.Add(-Idle).Unix(),
		at.Add(-Longest).Unix()); err != nil {
		return "", nil, err
	}
	r, err := s.db.ExecContext(ctx,
		`INSERT INTO sessions (digest, account, token, made, seen, address, agent) VALUES (?, ?, ?, ?, ?, ?, ?)`,
		digest(key), account, x.Token, at.Unix(), at.Unix(), x.Address, x.Agent)
	if err != nil {
		return "", nil, err
	}
	x.ID, err = r.LastInsertId()
	return key, x, err
}

const columns = `SELECT id, account, token, made, seen, address, agent FROM sessions`

type row struct {
	ID, Account, Made, Seen int64
	Token, Address, Agent   string
}

func (r *row) session() Session {
	return Session{r.ID, r.Account, r.Token, time.Unix(r.Made, 0), time.Unix(r.Seen, 0), r.Address, r.Agent}
}

// Find returns the session of a key, nil where there is none or it has ended. It is noted as seen at most once a minute.
func (s *Store) Find(ctx context.Context, key string) (*Session, error) {
	if len(key) != 43 {
		return nil, nil
	}
	var r row
	err := s.db.GetContext(ctx, &r, columns+` WHERE digest = ?`, digest(key))
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	x, at := r.session(), s.now()
	ahead := x.Made.Sub(at) > Idle // made while the clock was wrong: it would live until the clock is there again
	if ahead || at.Sub(x.Seen) > Idle || at.Sub(x.Made) > Longest {
		return nil, s.end(ctx, `id = ?`, x.ID)
	}
	if at.Sub(x.Seen).Abs() > time.Minute {
		if _, err := s.db.ExecContext(ctx, `UPDATE sessions SET seen = ? WHERE id = ?`, at.Unix(), x.ID); err != nil {
			return nil, err
		}
	}
	return &x, nil
}

// Of lists the sessions of an account, the last used first.
func (s *Store) Of(ctx context.Context, account int64) ([]Session, error) {
	var rows []row
	err := s.db.SelectContext(ctx, &rows, columns+` WHERE account = ? ORDER BY seen DESC, id DESC`, account)
	list := make([]Session, len(rows))
	for i := range rows {
		list[i] = rows[i].session()
	}
	return list, err
}

func (s *Store) end(ctx context.Context, where string, args ...any) error {
	_, err := s.db.ExecContext(ctx, `DELETE FROM sessions WHERE `+where, args...)
	return err
}

// End ends a session of an account.
func (s *Store) End(ctx context.Context, account, id int64) error {
	return s.end(ctx, `account = ? AND id = ?`, account, id)
}

// EndOthers ends all sessions of an account but one; 0 ends them all.
func (s *Store) EndOthers(ctx context.Context, account, but int64) error {
	return s.end(ctx, `account = ? AND id <> ?`, account, but)
}

// Locked reports whether sign-ins of a name, from an address, or of the name from the address, have failed so often that they must wait.
// What failed while the clock was ahead does not count.
func (s *Store) Locked(ctx context.Context, login, address string) (bool, error) {
	at := s.now()
	for _, k := range keysOf(login, address) {
		var n int
		if err := s.db.GetContext(ctx, &n, `SELECT count(*) FROM failures WHERE last > ? AND last <= ? AND key = ? AND count >= ?`,
			at.Add(-LockedBy).Unix(), at.Add(LockedBy).Unix(), k.key, k.most); err != nil || n > 0 {
			return n > 0, err
		}
	}
	return false, nil
}

// counted is something that failed sign-ins are counted of, and how many lock it.
type counted struct {
	key  string
	most int
}

func keysOf(login, address string) []counted {
	return []counted{{pairKey(login) + address, Tries}, {nameKey(login), TriesOf}, {"from " + fault.Clip(address, 100), TriesAt}}
}

func nameKey(login string) string { return "name " + fault.Clip(account.LoginKey(login), 100) }
func pairKey(login string) string {
	return "pair " + fault.Clip(account.LoginKey(login), 100) + " from "
}

// Failed counts a failed sign-in.
func (s *Store) Failed(ctx context.Context, login, address string) error {
	at := s.now()
	for _, k := range keysOf(login, address) {
		if _, err := s.db.ExecContext(ctx, `INSERT INTO failures (key, count, last) VALUES (?, 1, ?) ON CONFLICT (key)
			DO UPDATE SET count = CASE WHEN last < ? OR last > ? THEN 1 ELSE count + 1 END, last = excluded.last`,
			k.key, at.Unix(), at.Add(-LockedBy).Unix(), at.Add(LockedBy).Unix()); err != nil {
			return err
		}
	}
	return nil
}

// Release forgets the failures of a name, wherever they came from: it signed in, or has a new password.
func (s *Store) Release(ctx context.Context, login string) error {
	pair := pairKey(login)
	_, err := s.db.ExecContext(ctx, `DELETE FROM failures WHERE key = ? OR substr(key, 1, length(?)) = ?`, nameKey(login), pair, pair)
	return err
}
