package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	appaccount "turret/internal/app/account"
	"turret/internal/app/audit"
	"turret/internal/app/fault"
	"turret/internal/app/feed"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
)

// Settings returns the settings as JSON, empty for the defaults, and their version.
func (r reading) Settings(ctx context.Context) (string, int64, error) {
	var rows []struct{ Key, Value string }
	if err := r.q.SelectContext(ctx, &rows, `SELECT key, value FROM settings WHERE key IN ('settings', 'settings_version')`); err != nil {
		return "", 0, err
	}
	text, version := "", int64(0)
	for _, row := range rows {
		if row.Key == "settings" {
			text = row.Value
		} else if _, err := fmt.Sscan(row.Value, &version); err != nil {
			return "", 0, err
		}
	}
	return text, version, nil
}

// SaveSettings replaces the settings unless their version is another by now, and the addresses with secrets of the feeds named; an empty
// one is taken away.
func (s *Store) SaveSettings(ctx context.Context, text string, version int64, secrets map[string]string, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		_, now, err := reading{tx}.Settings(ctx)
		if err != nil {
			return err
		}
		if now != version {
			return fmt.Errorf("the settings: %w", fault.ErrConflict)
		}
		const put = `INSERT INTO settings (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value`
		for key, value := range map[string]string{"settings": text, "settings_version": fmt.Sprint(version + 1)} {
			if _, err := tx.ExecContext(ctx, put, key, value); err != nil {
				return err
			}
		}
		for name, address := range secrets {
			if err := saveSecret(ctx, tx, name, address); err != nil {
				return err
			}
		}
		return stirred(ctx, tx)
	})
}

func saveSecret(ctx context.Context, tx *sqlx.Tx, name, address string) error {
	if address == "" {
		_, err := tx.ExecContext(ctx, `DELETE FROM secrets WHERE name = ?`, name)
		return err
	}
	_, err := tx.ExecContext(ctx,
		`INSERT INTO secrets (name, address) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET address = excluded.address`, name, address)
	return err
}

// Sources lists the senders whose files an owner gave a meaning, in order; of nobody, all who have sent files besides.
func (s *Store) Sources(ctx context.Context, owner string) ([]string, error) {
	var list []string
	err := s.q.SelectContext(ctx, &list,
		`SELECT source FROM loads WHERE source <> '' AND ?1 = '' UNION SELECT source FROM meanings WHERE owner = ?1 ORDER BY 1`, owner)
	return list, err
}

// Meanings lists those of a source and owner, the last used first.
func (s *Store) Meanings(ctx context.Context, source, owner string) ([]intake.Meaning, error) {
	rows, err := s.q.QueryContext(ctx,
		`SELECT mapping, used_at, changed_at, changed_by, change FROM meanings WHERE source = ? AND owner = ? ORDER BY used_at DESC`,
		source, owner)
	var list []intake.Meaning
	err = each(rows, err, func(scan scanner) error {
		var m intake.Meaning
		var text, used, changed string
		if err := scan(&text, &used, &changed, &m.ChangedBy, &m.Change); err != nil {
			return err
		}
		if err := json.Unmarshal([]byte(text), &m.Mapping); err != nil {
			return fmt.Errorf("mapping of %s: %w", source, err)
		}
		var e1, e2 error
		m.UsedAt, e1 = moment(used)
		m.ChangedAt, e2 = moment(changed)
		list = append(list, m)
		return errors.Join(e1, e2)
	})
	return list, err
}

// SaveMeaning keeps what sheets of a shape mean; an entry without an act is none.
func (s *Store) SaveMeaning(ctx context.Context, source, owner string, m intake.Meaning, e kept.Entry) error {
	b, err := json.Marshal(m.Mapping)
	if err != nil {
		return err
	}
	changed := ""
	if !m.ChangedAt.IsZero() {
		changed = m.ChangedAt.UTC().Format(fine)
	}
	save := func(x sqlx.ExtContext) error {
		_, err := x.ExecContext(ctx,
			`INSERT INTO meanings (source, owner, heads, mapping, used_at, changed_at, changed_by, change) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
			ON CONFLICT (source, owner, heads) DO UPDATE SET mapping = excluded.mapping, used_at = excluded.used_at, changed_at =
				excluded.changed_at,
			changed_by = excluded.changed_by, change = excluded.change`,
			source, owner, m.Signature(), string(b), m.UsedAt.UTC().Format(fine), changed, m.ChangedBy, m.Change)
		return err
	}
	if e.Act == "" {
		return save(s.write)
	}
	return s.change(ctx, e, func(tx *sqlx.Tx) error { return save(tx) })
}

// Secret is the address that a feed is reached at, with its secrets; empty where there is none.
func (s *Store) Secret(ctx context.Context, name string) (string, error) {
	var address string
	err := s.q.GetContext(ctx, &address, `SELECT address FROM secrets WHERE name = ?`, name)
	if errors.Is(err, sql.ErrNoRows) {
		err = nil
	}
	return address, err
}

// Accounts lists everybody, by name.
func (s *Store) Accounts(ctx context.Context) ([]appaccount.Account, error) {
	rows, err := s.q.QueryContext(ctx, `SELECT id, login, name, email, role, scopes, hide_money, active, password, version
		FROM accounts ORDER BY name, id`)
	var list []appaccount.Account
	err = each(rows, err, func(scan scanner) error {
		var a appaccount.Account
		var scopes string
		err := scan(&a.ID, &a.Login, &a.Name, &a.Email, &a.Role, &scopes, &a.HideMoney, &a.Active, &a.Password, &a.Version)
		if scopes != "" {
			a.Scopes = strings.Split(scopes, "\n")
		}
		list = append(list, a)
		return err
	})
	return list, err
}

// SaveAccount writes an account unless it was changed since its version.
func (s *Store) SaveAccount(ctx context.Context, a appaccount.Account, e kept.Entry) (int64, error) {
	return a.ID, s.change(ctx, e, func(tx *sqlx.Tx) error {
		args := []any{a.Login, a.Name, a.Email, a.Role, strings.Join(a.Scopes, "\n"), a.HideMoney, a.Active, a.Password}
		if a.ID == 0 {
			r, err := tx.ExecContext(ctx, `INSERT INTO accounts (login, name, email, role, scopes, hide_money, active, password, version)
				VALUES (?, ?, ?, ?, ?, ?, ?, ?, 1)`, args...)
			if err == nil {
				a.ID, err = r.LastInsertId()
			}
			return err
		}
		r, err := tx.ExecContext(ctx, `UPDATE accounts SET login = ?, name = ?, email = ?, role = ?, scopes = ?, hide_money = ?, active = ?,
			password = ?, version = version + 1 WHERE id = ? AND version = ?`, append(args, a.ID, a.Version)...)
		return one(r, err)
	})
}

// one is a conflict where a change met no row.
func one(r sql.Result, err error) error {
	if err != nil {
		return err
	}
	if n, err := r.RowsAffected(); err != nil || n == 0 {
		return errors.Join(err, fault.ErrConflict)
	}
	return nil
}

// Tokens lists the keys of an account, also those ended.
func (s *Store) Tokens(ctx context.Context, account int64) ([]appaccount.Token, error) {
	rows, err := s.q.QueryContext(ctx,
		`SELECT id, account_id, name, made_at, coalesce(ended_at, '') FROM tokens WHERE account_id = ? ORDER BY id DESC`, account)
	var list []appaccount.Token
	err = each(rows, err, func(scan scanner) error {
		var t appaccount.Token
		var made, ended string
		err := scan(&t.ID, &t.Account, &t.Name, &made, &ended)
		var a, b error
		t.MadeAt, a = moment(made)
		t.EndedAt, b = moment(ended)
		list = append(list, t)
		return errors.Join(err, a, b)
	})
	return list, err
}

// TokenOwner finds the account of a key that has not ended.
func (s *Store) TokenOwner(ctx context.Context, digest string) (int64, error) {
	var id int64
	err := s.q.GetContext(ctx, &id, `SELECT account_id FROM tokens WHERE digest = ? AND ended_at IS NULL`, digest)
	if errors.Is(err, sql.ErrNoRows) {
		err = fmt.Errorf("key: %w", fault.ErrNotFound)
	}
	return id, err
}

// SaveToken keeps a new key.
func (s *Store) SaveToken(ctx context.Context, t appaccount.Token, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO tokens (account_id, name, digest, made_at) VALUES (?, ?, ?, ?)`, t.Account, t.Name,
			t.Digest, t.MadeAt.UTC().Format(stamp))
		return err
	})
}

// EndToken ends a key of an account.
func (s *Store) EndToken(ctx context.Context, account, id int64, at time.Time, e kept.Entry) error {
	return s.change(ctx, e, func(tx *sqlx.Tx) error {
		return one(tx.ExecContext(ctx, `UPDATE tokens SET ended_at = ? WHERE id = ? AND account_id = ? AND ended_at IS NULL`,
			at.UTC().Format(stamp), id, account))
	})
}

// enter adds an entry to the trail, sealed with the one before.
func enter(ctx context.Context, tx *sqlx.Tx, e kept.Entry) error {
	if e.Act == "" {
		return nil
	}
	row := tx.QueryRowContext(ctx, `SELECT id, digest FROM audit ORDER BY id DESC LIMIT 1`)
	if err := row.Scan(&e.ID, &e.Former); err != nil && !errors.Is(err, sql.ErrNoRows) {
		return err
	}
	e.ID++
	e.At = e.At.UTC().Truncate(time.Second)
	if err := seal(ctx, tx, &e); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx,
		`INSERT INTO audit (id, at, who, act, subject, before, after, former, digest, made) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, e.ID,
		e.At.Format(stamp), e.Who, e.Act, e.Subject, e.Before, e.After, e.Former, e.Digest, e.Made)
	return err
}

// Note adds an entry by itself.
func (s *Store) Note(ctx context.Context, e kept.Entry) error {
	return s.change(ctx, e, func(*sqlx.Tx) error { return nil })
}

const auditColumns = `SELECT id, at, who, act, subject, before, after, former, digest, made FROM audit`

// Audit lists entries that answer a query, newest first.
func (s *Store) Audit(ctx context.Context, q audit.Query) ([]kept.Entry, error) {
	like := "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(q.Text) + "%"
	rows, err := s.q.QueryContext(ctx, auditColumns+` WHERE (? = '' OR subject || ' ' || before || ' ' || after LIKE ? ESCAPE '\')
		AND (? = '' OR who = ?) AND (? = '' OR act = ?) AND (? = 0 OR id < ?) ORDER BY id DESC LIMIT ?`,
		q.Text, like, q.Who, q.Who, q.Act, q.Act, q.Before, q.Before, q.Limit)
	var list []kept.Entry
	return list, scanEntries(rows, err, func(e *kept.Entry) { list = append(list, *e) })
}

// AuditTrail passes every entry, oldest first.
func (r reading) AuditTrail(ctx context.Context, row func(*kept.Entry)) error {
	rows, err := r.q.QueryContext(ctx, auditColumns+` ORDER BY id`)
	return scanEntries(rows, err, row)
}

func scanEntries(rows *sql.Rows, err error, row func(*kept.Entry)) error {
	return each(rows, err, func(scan scanner) error {
		var e kept.Entry
		var at string
		err := scan(&e.ID, &at, &e.Who, &e.Act, &e.Subject, &e.Before, &e.After, &e.Former, &e.Digest, &e.Made)
		var parse error
		e.At, parse = moment(at)
		row(&e)
		return errors.Join(err, parse)
	})
}

const feedRunColumns = `SELECT id, feed, started_at, coalesce(ended_at, ''), state, cursor, rows, coalesce(load_id, 0), log FROM feed_runs`

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
		done, err := s.write.ExecContext(ctx, `INSERT INTO feed_runs (feed, started_at, ended_at, state, cursor, rows, load_id, log)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?)`, r.Feed, r.StartedAt.UTC().Format(stamp), ended, r.State, r.Cursor, r.Rows, load, r.Log)
		if err == nil {
			r.ID, err = done.LastInsertId()
		}
		return err
	}
	_, err := s.write.ExecContext(ctx,
		`UPDATE feed_runs SET ended_at = ?, state = ?, cursor = ?, rows = ?, load_id = ?, log = ? WHERE id = ?`,
		ended, r.State, r.Cursor, r.Rows, load, r.Log, r.ID)
	return err
}
