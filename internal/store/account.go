package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	appaccount "turret/internal/app/account"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
)

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
