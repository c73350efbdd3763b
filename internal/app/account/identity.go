package account

import (
	"context"
	"errors"
	"strings"
)

// Identity is whom an identity provider says somebody to be.
type Identity struct {
	Email    string
	Verified bool // the provider has seen that the address is theirs
}

// ErrStranger is wrapped where no account, or more than one, has the address of an identity.
var ErrStranger = errors.New("no account")

// Known is the active account with the address of an identity, letters of either case. Accounts are made by an administrator, never by a
// provider. An address that the provider has not verified, that no active account has, or that several have, is an error wrapping
// ErrStranger.
func (o *Office) Known(ctx context.Context, who Identity) (*Account, error) {
	email := strings.TrimSpace(who.Email)
	if email == "" || !who.Verified {
		return nil, ErrStranger
	}
	list, err := o.store.Accounts(ctx)
	if err != nil {
		return nil, err
	}
	var found *Account
	for i := range list {
		if a := &list[i]; a.Active && strings.EqualFold(strings.TrimSpace(a.Email), email) {
			if found != nil {
				return nil, ErrStranger
			}
			found = a
		}
	}
	if found == nil {
		return nil, ErrStranger
	}
	return found, nil
}
