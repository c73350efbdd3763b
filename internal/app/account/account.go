package account

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"net/mail"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"

	"turret/internal/app/access"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
)

// Account is a person who may sign in, or only be written to where Password is empty.
type Account struct {
	ID                 int64
	Login, Name, Email string
	Role               access.Role
	Scopes             []string
	HideMoney, Active  bool
	Password           string `json:"-"` // argon2id
	Version            int64
}

// Actor is the account as one who asks.
func (a *Account) Actor() *access.Actor {
	return &access.Actor{Account: a.ID, Login: a.Login, Name: a.Name, Role: a.Role, Scopes: a.Scopes, HideMoney: a.HideMoney}
}

// ErrSignIn is returned for a wrong name or password alike.
var ErrSignIn = errors.New("the name or the password is not right")

// hashing is deliberately dear; two at a time keep a burst of sign-ins from taking the machine. The parameters are those
// that RFC 9106 recommends where memory is short.
var (
	hashing  = make(chan struct{}, 2)
	argon    = &argon2id.Params{Memory: 64 * 1024, Iterations: 3, Parallelism: 4, SaltLength: 16, KeyLength: 32}
	nobody   string
	onceOnly sync.Once
)

// LoginKey is what sign-in names are known by: spellings that differ in space around them or in letters that fold to the same, such as s
// and ſ, are one name.
func LoginKey(login string) string {
	return strings.Map(func(r rune) rune {
		least := r
		for x := unicode.SimpleFold(r); x != r; x = unicode.SimpleFold(x) {
			least = min(least, x)
		}
		return least
	}, strings.TrimSpace(login))
}

// SignIn returns the account of a name and password. A wrong name takes as long as a wrong password.
func (o *Office) SignIn(ctx context.Context, login, password string) (*Account, error) {
	a, err := o.accountBy(ctx, func(a *Account) bool { return LoginKey(a.Login) == LoginKey(login) })
	if err != nil && !errors.Is(err, fault.ErrNotFound) {
		return nil, err
	}
	hashing <- struct{}{}
	defer func() { <-hashing }()
	onceOnly.Do(func() { nobody, _ = argon2id.CreateHash("nobody's", argon) })
	hash := nobody
	if a != nil && a.Password != "" {
		hash = a.Password
	}
	ok, err := argon2id.ComparePasswordAndHash(fault.Clip(password, 1000), hash)
	if err != nil {
		return nil, err
	}
	if !ok || a == nil || a.Password == "" || !a.Active {
		return nil, ErrSignIn
	}
	return a, nil
}

// SignedIn and SignedOut leave their mark in the trail.
func (o *Office) SignedIn(ctx context.Context, a *Account, from string) error {
	return o.noteSoon(ctx, o.audit.Entry(access.As(ctx, a.Actor()), "sign in", a.Login, "", from))
}

// SignInFailed leaves its mark in the trail.
func (o *Office) SignInFailed(ctx context.Context, login, from string, locked bool) error {
	act := "sign-in failed"
	if locked {
		act = "sign-in locked"
	}
	return o.noteSoon(ctx, o.audit.Entry(ctx, act, fault.Clip(login, 60), "", from))
}

// patience is how long somebody at the door waits for the writer, who may be at a load.
const patience = 250 * time.Millisecond

// noteSoon writes an entry, and does not have its reader wait where the writer is at something long: it is written after that then.
func (o *Office) noteSoon(ctx context.Context, e kept.Entry) error {
	waited, stop := context.WithTimeout(context.WithoutCancel(ctx), patience)
	defer stop()
	done := make(chan error, 1)
	o.later.Add(1)
	go func() {
		defer o.later.Done()
		done <- o.store.Note(context.WithoutCancel(ctx), e)
	}()
	select {
	case err := <-done:
		return err
	case <-waited.Done():
		return nil
	}
}

// Account finds an active account by its id; sessions use it on each request.
func (o *Office) Account(ctx context.Context, id int64) (*Account, error) {
	return o.accountBy(ctx, func(a *Account) bool { return a.ID == id && a.Active })
}

func (o *Office) accountBy(ctx context.Context, is func(*Account) bool) (*Account, error) {
	list, err := o.store.Accounts(ctx)
	if err != nil {
		return nil, err
	}
	for i := range list {
		if is(&list[i]) {
			return &list[i], nil
		}
	}
	return nil, fmt.Errorf("account: %w", fault.ErrNotFound)
}

// Empty reports whether nobody can sign in yet, so that the first administrator is to be made.
func (o *Office) Empty(ctx context.Context) (bool, error) {
	list, err := o.store.Accounts(ctx)
	return !slices.ContainsFunc(list, func(a Account) bool { return a.Password != "" }), err
}

// Begin makes the first administrator of a file that has nobody yet.
func (o *Office) Begin(ctx context.Context, a Account, password string) (*Account, error) {
	empty, err := o.Empty(ctx)
	if err != nil {
		return nil, err
	}
	if !empty {
		return nil, fmt.Errorf("the first administrator is there already: %w", access.ErrForbidden)
	}
	a.Role, a.Active = access.Administrator, true
	return o.saveAccount(access.As(ctx, a.Actor()), a, password, "set up")
}

// People lists the accounts.
func (o *Office) People(ctx context.Context) ([]Account, error) {
	if _, err := access.PermitWhole(ctx, access.ManageUsers); err != nil {
		return nil, err
	}
	return o.store.Accounts(ctx)
}

// SaveAccount makes or changes an account; an empty password leaves the present one.
func (o *Office) SaveAccount(ctx context.Context, a Account, password string) (*Account, error) {
	actor, err := access.PermitWhole(ctx, access.ManageUsers)
	if err != nil {
		return nil, err
	}
	if a.ID != 0 && a.ID == actor.Account && (!a.Active || a.Role != actor.Role) {
		return nil, fault.Field("role", string(a.Role), "your own account to stay an active "+string(actor.Role))
	}
	if a.ID != 0 && a.ID == actor.Account && !a.Actor().Unbounded() {
		return nil, fault.Field("scope", strings.Join(a.Scopes, " "), "your own account to see everything: nobody else might give it back")
	}
	return o.saveAccount(ctx, a, password, "save a person")
}

func (o *Office) saveAccount(ctx context.Context, a Account, password, act string) (*Account, error) {
	a.Login, a.Name, a.Email = strings.TrimSpace(a.Login), strings.TrimSpace(a.Name), strings.TrimSpace(a.Email)
	if err := a.check(); err != nil {
		return nil, err
	}
	list, err := o.store.Accounts(ctx)
	if err != nil {
		return nil, err
	}
	var old *Account
	for i := range list {
		switch l := &list[i]; {
		case l.ID == a.ID:
			old = l
			a.Password = l.Password
		case LoginKey(l.Login) == LoginKey(a.Login):
			return nil, fault.Field("login", a.Login, "a name that nobody else signs in with")
		}
	}
	if a.ID != 0 && old == nil {
		return nil, fmt.Errorf("account %d: %w", a.ID, fault.ErrNotFound)
	}
	if password != "" {
		if a.Password, err = hash(password); err != nil {
			return nil, err
		}
	}
	before := ""
	if old != nil {
		before = old.audited(false)
	}
	if a.ID, err = o.store.SaveAccount(ctx, a, o.audit.Entry(ctx, act, a.Login, before, a.audited(password != ""))); err != nil {
		return &a, err
	}
	if old != nil && (password != "" || !a.Active) {
		return &a, o.endKeys(ctx, &a)
	}
	return &a, nil
}

// audited is the account as the trail shows it: everything but the password.
func (a *Account) audited(newPassword bool) string {
	words := []string{a.Name, string(a.Role)}
	if a.Email != "" {
		words = append(words, a.Email)
	}
	if len(a.Scopes) > 0 {
		words = append(words, "only "+strings.Join(a.Scopes, " "))
	}
	if a.HideMoney {
		words = append(words, "costs hidden")
	}
	if !a.Active {
		words = append(words, "not active")
	}
	if newPassword {
		words = append(words, "a new password")
	}
	return strings.Join(words, ", ")
}

func (a *Account) check() error {
	switch {
	case a.Login == "" || len(a.Login) > 60 || strings.ContainsAny(a.Login, " \t\r\n"):
		return fault.Field("login", a.Login, "1 to 60 letters without spaces")
	case a.Name == "" || len(a.Name) > 200:
		return fault.Field("name", a.Name, "a name")
	case !slices.Contains(access.Roles(), a.Role):
		return fault.Field("role", string(a.Role), fmt.Sprint("one of ", access.Roles()))
	}
	if a.Email != "" {
		if at, err := mail.ParseAddress(a.Email); err != nil || at.Address != a.Email {
			return fault.Field("email", a.Email, "an address such as name@example.org")
		}
	}
	return nil
}

// The bounds of a password, in letters.
const (
	shortest = 12
	longest  = 128
)

func hash(password string) (string, error) {
	if n := utf8.RuneCountInString(password); n < shortest || n > longest {
		return "", fault.Field("password", strings.Repeat("•", min(20, len(password))), fmt.Sprintf("%d to %d letters", shortest, longest))
	}
	hashing <- struct{}{}
	defer func() { <-hashing }()
	return argon2id.CreateHash(password, argon)
}

// ChangePassword gives the one who asks a new password; the present one is asked for.
func (o *Office) ChangePassword(ctx context.Context, present, next string) error {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return err
	}
	a, err := o.SignIn(ctx, actor.Login, present)
	if errors.Is(err, ErrSignIn) {
		return fault.Field("present", "•••", "your present password")
	}
	if err != nil {
		return err
	}
	before := a.audited(false)
	if a.Password, err = hash(next); err != nil {
		return err
	}
	if _, err = o.store.SaveAccount(ctx, *a, o.audit.Entry(ctx, "change the password", a.Login, before, a.audited(true))); err != nil {
		return err
	}
	return o.endKeys(ctx, a)
}

// endKeys ends all keys of an account: what was made with a former password goes with it.
func (o *Office) endKeys(ctx context.Context, a *Account) error {
	keys, err := o.store.Tokens(ctx, a.ID)
	for i := range keys {
		if !keys[i].EndedAt.IsZero() {
			continue
		}
		err = errors.Join(err, o.store.EndToken(ctx, a.ID, keys[i].ID, o.now(), o.audit.Entry(ctx, "end a key", a.Login, keys[i].Name,
			"a new password")))
	}
	return err
}

// Token is a key of the read API. It reads what its owner may read.
type Token struct {
	ID, Account int64
	Name        string
	Digest      string
	MadeAt      time.Time
	EndedAt     time.Time
}

// What keys begin with: those of the API, and those that stand in the address of a calendar and are good for nothing else.
const (
	apiKey      = "turret_"
	calendarKey = "calendar_"
)

// MakeToken makes a key of the API for the one who asks; the key itself is returned once and never kept.
func (o *Office) MakeToken(ctx context.Context, name string) (string, error) {
	return o.makeKey(ctx, name, apiKey)
}

// MakeCalendarKey makes a key that opens the calendar of the one who asks, and nothing else.
func (o *Office) MakeCalendarKey(ctx context.Context, name string) (string, error) {
	return o.makeKey(ctx, name, calendarKey)
}

func (o *Office) makeKey(ctx context.Context, name, kind string) (string, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return "", err
	}
	if name = strings.TrimSpace(name); name == "" || len(name) > 100 {
		return "", fault.Field("name", name, "what the key is for")
	}
	b := make([]byte, 32)
	_, _ = rand.Read(b) // never fails
	key := kind + base64.RawURLEncoding.EncodeToString(b)
	return key, o.store.SaveToken(ctx, Token{Account: actor.Account, Name: name, Digest: digestOf(key), MadeAt: o.now()},
		o.audit.Entry(ctx, "make a key", name, "", ""))
}

func digestOf(key string) string {
	sum := sha256.Sum256([]byte(key))
	return hex.EncodeToString(sum[:])
}

// Tokens lists the keys of the one who asks.
func (o *Office) Tokens(ctx context.Context) ([]Token, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return nil, err
	}
	return o.store.Tokens(ctx, actor.Account)
}

// EndToken ends a key of the one who asks.
func (o *Office) EndToken(ctx context.Context, id int64) error {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return err
	}
	return o.store.EndToken(ctx, actor.Account, id, o.now(), o.audit.Entry(ctx, "end a key", fmt.Sprint(id), "", ""))
}

// ByToken finds the account whose key of the API it is.
func (o *Office) ByToken(ctx context.Context, key string) (*Account, error) {
	if !strings.HasPrefix(key, apiKey) {
		return nil, fmt.Errorf("key: %w", fault.ErrNotFound)
	}
	return o.ByCalendarKey(ctx, key)
}

// ByCalendarKey finds the account whose key it is, of a calendar or, as such addresses had before, of the API.
func (o *Office) ByCalendarKey(ctx context.Context, key string) (*Account, error) {
	id, err := o.store.TokenOwner(ctx, digestOf(key))
	if err != nil {
		return nil, err
	}
	return o.Account(ctx, id)
}

// Entrant finds the account of a made-up person, as whom the demonstration is entered without a password.
func (o *Office) Entrant(ctx context.Context, login string) (*Account, error) {
	return o.accountBy(ctx, func(a *Account) bool { return a.Login == login && a.Active && a.Password == "" })
}
