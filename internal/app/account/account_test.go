package account_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app"
	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/apptest"
	"turret/internal/app/audit"
	"turret/internal/app/fault"
)

const password = "correct horse battery"

// person is somebody who may sign in, in the office of a house, and what they do stands in.
func person(t *testing.T, o *app.Office, a account.Account) (*account.Account, context.Context) {
	t.Helper()
	a.Active = true
	saved, err := o.Account.SaveAccount(apptest.Ctx, a, password)
	require.NoError(t, err)
	return saved, access.As(context.Background(), saved.Actor())
}

// A name is one however it is spelled; what is wrong is not told, and who is not active stays outside.
func TestWhoIsLetIn(t *testing.T) {
	o := apptest.House(t)
	lea, _ := person(t, o, account.Account{Login: "lea", Name: "Lea", Role: access.Lead})
	ctx := context.Background()
	for _, login := range []string{"lea", " Lea ", "LEA"} {
		a, err := o.Account.SignIn(ctx, login, password)
		require.NoError(t, err, login)
		assert.Equal(t, lea.ID, a.ID)
	}
	for _, try := range [][2]string{{"lea", "wrong"}, {"lea", ""}, {"nobody", password}, {"", ""}} {
		_, err := o.Account.SignIn(ctx, try[0], try[1])
		assert.ErrorIs(t, err, account.ErrSignIn, "%q", try)
	}
	lea, err := o.Account.Account(ctx, lea.ID)
	require.NoError(t, err)
	lea.Active = false
	_, err = o.Account.SaveAccount(apptest.Ctx, *lea, "")
	require.NoError(t, err)
	_, err = o.Account.SignIn(ctx, "lea", password)
	assert.ErrorIs(t, err, account.ErrSignIn)
	_, err = o.Account.Account(ctx, lea.ID)
	assert.ErrorIs(t, err, fault.ErrNotFound, "sessions end with it")
}

// The first administrator is made once, by whoever comes first.
func TestTheFirstAdministratorIsMadeOnce(t *testing.T) {
	o := apptest.House(t)
	ctx := context.Background()
	empty, err := o.Account.Empty(ctx)
	require.NoError(t, err)
	assert.True(t, empty)
	_, err = o.Account.Begin(ctx, account.Account{Login: "ada", Name: "Ada", Role: access.Executive}, "short")
	var field *fault.FieldError
	require.ErrorAs(t, err, &field, "a password of too few letters")
	a, err := o.Account.Begin(ctx, account.Account{Login: "ada", Name: "Ada", Role: access.Executive}, password)
	require.NoError(t, err)
	assert.Equal(t, access.Administrator, a.Role)
	_, err = o.Account.Begin(ctx, account.Account{Login: "eve", Name: "Eve"}, password)
	assert.ErrorIs(t, err, access.ErrForbidden)
	_, err = o.Account.Entrant(ctx, "ada")
	assert.ErrorIs(t, err, fault.ErrNotFound, "nobody with a password is entered as without one")
}

func TestAccountsThatAreNone(t *testing.T) {
	o := apptest.House(t)
	person(t, o, account.Account{Login: "lea", Name: "Lea", Role: access.Lead})
	good := account.Account{Login: "new", Name: "New", Role: access.Lead, Email: "new@example.org"}
	for says, spoil := range map[string]func(*account.Account){
		"login, taken in another spelling": func(a *account.Account) { a.Login = "LEA" },
		"login, none":                      func(a *account.Account) { a.Login = " " },
		"login, two words":                 func(a *account.Account) { a.Login = "a b" },
		"login, too long":                  func(a *account.Account) { a.Login = strings.Repeat("a", 61) },
		"name, none":                       func(a *account.Account) { a.Name = "" },
		"role, none such":                  func(a *account.Account) { a.Role = "emperor" },
		"email, with a name":               func(a *account.Account) { a.Email = "New <new@example.org>" },
		"email, none":                      func(a *account.Account) { a.Email = "nowhere" },
	} {
		a := good
		spoil(&a)
		_, err := o.Account.SaveAccount(apptest.Ctx, a, "")
		var field *fault.FieldError
		require.ErrorAs(t, err, &field, says)
		assert.Equal(t, strings.Split(says, ",")[0], field.Field, says)
	}
	longest := good
	longest.Login = strings.Repeat("a", 60)
	_, err := o.Account.SaveAccount(apptest.Ctx, longest, "")
	assert.NoError(t, err, "sixty letters are not too many")
	_, err = o.Account.SaveAccount(apptest.Ctx, account.Account{ID: 99, Login: "x", Name: "X", Role: access.Lead}, "")
	assert.ErrorIs(t, err, fault.ErrNotFound)
}

// An administrator cannot lock everybody out by a slip.
func TestNobodyTakesTheOwnRightsAway(t *testing.T) {
	o := apptest.House(t)
	ada, ctx := person(t, o, account.Account{Login: "ada", Name: "Ada", Role: access.Administrator})
	for says, spoil := range map[string]func(*account.Account){
		"role": func(a *account.Account) { a.Role = access.Lead }, "active": func(a *account.Account) { a.Active = false },
		"scope": func(a *account.Account) { a.Scopes = []string{"PF"} }, "costs": func(a *account.Account) { a.HideMoney = true },
	} {
		a := *ada
		spoil(&a)
		_, err := o.Account.SaveAccount(ctx, a, "")
		var field *fault.FieldError
		assert.ErrorAs(t, err, &field, says)
	}
	_, lead := person(t, o, account.Account{Login: "lea", Name: "Lea", Role: access.Lead})
	_, err := o.Account.People(lead)
	assert.ErrorIs(t, err, access.ErrForbidden)
	_, err = o.Account.SaveAccount(lead, *ada, "")
	assert.ErrorIs(t, err, access.ErrForbidden)
}

// A key opens what it was made for, until it is ended; a new password ends every key, and asks for the one before.
func TestKeysOpenWhatTheyWereMadeFor(t *testing.T) {
	o := apptest.House(t)
	lea, ctx := person(t, o, account.Account{Login: "lea", Name: "Lea", Role: access.Lead})
	other, others := person(t, o, account.Account{Login: "bob", Name: "Bob", Role: access.Lead})
	_, err := o.Account.MakeToken(ctx, " ")
	var field *fault.FieldError
	require.ErrorAs(t, err, &field, "a key is for something")
	api, err := o.Account.MakeToken(ctx, "script")
	require.NoError(t, err)
	calendar, err := o.Account.MakeCalendarKey(ctx, "phone")
	require.NoError(t, err)
	opens := func(by func(context.Context, string) (*account.Account, error), key string) bool {
		a, err := by(context.Background(), key)
		return err == nil && a.ID == lea.ID
	}
	assert.True(t, opens(o.Account.ByToken, api))
	assert.False(t, opens(o.Account.ByToken, calendar), "a calendar's key reads no API")
	assert.True(t, opens(o.Account.ByCalendarKey, calendar))
	assert.False(t, opens(o.Account.ByToken, api+"x"))

	keys, err := o.Account.Tokens(ctx)
	require.NoError(t, err)
	require.Len(t, keys, 2)
	for _, k := range keys {
		assert.NotContains(t, k.Digest, api[8:20], "only a digest is kept")
	}
	assert.Error(t, o.Account.EndToken(others, keys[0].ID), "%s ends only what is theirs", other.Name)
	assert.True(t, opens(o.Account.ByToken, api))
	require.ErrorAs(t, o.Account.ChangePassword(ctx, "wrong", "another long password"), &field)
	assert.Equal(t, "present", field.Field)
	require.NoError(t, o.Account.ChangePassword(ctx, password, "another long password"))
	assert.False(t, opens(o.Account.ByToken, api))
	assert.False(t, opens(o.Account.ByCalendarKey, calendar))
	_, err = o.Account.SignIn(ctx, "lea", "another long password")
	require.NoError(t, err)

	require.NoError(t, o.Account.SignedIn(context.Background(), lea, "127.0.0.1"))
	require.NoError(t, o.Account.SignInFailed(context.Background(), strings.Repeat("x", 200), "127.0.0.1", true))
	o.Account.Settle()
	trail, err := o.Audit.List(apptest.Ctx, audit.Query{})
	require.NoError(t, err)
	assert.Equal(t, []string{"sign-in locked", "sign in"}, []string{trail[0].Act, trail[1].Act})
	assert.LessOrEqual(t, len([]rune(trail[0].Subject)), 61, "a name is cut")
	for _, e := range trail {
		assert.NotContains(t, e.Before+e.After+e.Subject, password)
		assert.NotContains(t, e.Before+e.After, "argon2")
	}
}

// A password has 12 to 128 letters, of any script; spaces and all.
func TestPasswordsHaveTwelveTo128Letters(t *testing.T) {
	o := apptest.House(t)
	for n, taken := range map[int]bool{11: false, 12: true, 128: true, 129: false} {
		for name, letter := range map[string]string{"plain": "x", "wide": "ß", "space": " "} {
			a := account.Account{Login: fmt.Sprint(name, n), Name: "A", Role: access.Lead, Active: true}
			_, err := o.Account.SaveAccount(apptest.Ctx, a, strings.Repeat(letter, n))
			if !taken {
				assert.ErrorContains(t, err, "12 to 128 letters", "%d %s", n, name)
				continue
			}
			require.NoError(t, err, "%d %s", n, name)
			_, err = o.Account.SignIn(apptest.Ctx, a.Login, strings.Repeat(letter, n))
			assert.NoError(t, err, "%d %s", n, name)
		}
	}
}
