// Package account holds who may sign in: accounts, their passwords and keys.
package account

import (
	"context"
	"sync"
	"time"

	"turret/internal/app/audit"
	"turret/internal/app/kept"
)

// Store keeps what account needs.
type Store interface {
	Accounts(ctx context.Context) ([]Account, error)
	EndToken(ctx context.Context, account, id int64, at time.Time, e kept.Entry) error
	Note(ctx context.Context, e kept.Entry) error
	// SaveAccount writes an account, a new one where its ID is 0, unless it was changed since its version (ErrConflict).
	SaveAccount(ctx context.Context, a Account, e kept.Entry) (int64, error)
	SaveToken(ctx context.Context, t Token, e kept.Entry) error
	TokenOwner(ctx context.Context, digest string) (int64, error)
	Tokens(ctx context.Context, account int64) ([]Token, error)
}

// Office is the door to who may sign in. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time
	audit *audit.Office

	later sync.WaitGroup // entries still to be written
}

// NewOffice makes the door to who may sign in.
func NewOffice(store Store, now func() time.Time, audit *audit.Office) *Office {
	return &Office{store: store, now: now, audit: audit}
}

// Settle waits for entries that are still to be written.
func (o *Office) Settle() { o.later.Wait() }
