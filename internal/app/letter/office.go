// Package letter holds messages to people, and where they are put for sending.
package letter

import (
	"context"

	"turret/internal/app/account"
)

// Store keeps what letter needs.
type Store interface {
	Accounts(ctx context.Context) ([]account.Account, error)
}

// Office is the door to messages. It is safe for concurrent use.
type Office struct {
	store Store
	mail  Outbox
}

// NewOffice makes the door to messages.
func NewOffice(store Store, mail Outbox) *Office {
	return &Office{store: store, mail: mail}
}
