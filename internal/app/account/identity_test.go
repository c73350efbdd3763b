package account_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/apptest"
)

// An identity is the one active account of its address, of either case, where the provider vouches for the address.
func TestAnIdentityIsTheAccountOfItsAddress(t *testing.T) {
	o := apptest.House(t)
	save := func(login, email string, active bool) {
		_, err := o.Account.SaveAccount(apptest.Ctx, account.Account{Login: login, Name: login, Email: email, Role: access.Lead,
			Active: active}, "")
		require.NoError(t, err)
	}
	save("ann", "Ann@Example.org", true)
	save("bob", "bob@example.org", false)
	save("cid", "shared@example.org", true)
	save("dan", "shared@example.org", true)
	save("eve", "", true)
	a, err := o.Account.Known(apptest.Ctx, account.Identity{Email: " ann@example.ORG ", Verified: true})
	require.NoError(t, err)
	assert.Equal(t, "ann", a.Login)
	for what, who := range map[string]account.Identity{"not verified": {Email: "ann@example.org"}, "unknown": {Email: "x@example.org",
		Verified: true},
		"not active": {Email: "bob@example.org", Verified: true}, "of two": {Email: "shared@example.org", Verified: true},
		"none": {Verified: true}, "blank": {Email: " ", Verified: true}} {
		_, err := o.Account.Known(apptest.Ctx, who)
		assert.ErrorIs(t, err, account.ErrStranger, what)
	}
}
