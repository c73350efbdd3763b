package letter_test

import (
	"context"
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/fault"
	"turret/internal/app/letter"
	"turret/internal/app/setting"
)

type people []account.Account

func (p people) Accounts(context.Context) ([]account.Account, error) { return p, nil }

// box is an outbox in memory.
type box struct {
	letter.Outbox
	list []letter.Message
}

func (b *box) Put(m letter.Message) (string, error) {
	m.File = m.Subject + ".eml"
	b.list = append(b.list, m)
	return m.File, nil
}
func (b *box) List() ([]letter.Message, error) { return append([]letter.Message{}, b.list...), nil }
func (b *box) Open(file string) ([]byte, error) {
	for _, m := range b.list {
		if m.File == file {
			return []byte(m.Text), nil
		}
	}
	return nil, errors.New("no such file")
}

// Only who may sign in and has an address is written to.
func TestWhoIsWrittenTo(t *testing.T) {
	o := letter.NewOffice(people{{Name: "Ann", Email: "ann@example.org", Active: true}, {Name: "Bob", Email: "bob@example.org"},
		{Name: "Cyd", Active: true}, {Name: "Dan", Email: "dan@example.org", Active: true, HideMoney: true}}, nil)
	to, err := o.Addresses(context.Background())
	require.NoError(t, err)
	assert.Equal(t, map[string]string{"Ann": "ann@example.org", "Dan": "dan@example.org"}, to)
	blind, err := o.Blind(context.Background())
	require.NoError(t, err)
	assert.Equal(t, map[string]bool{"Dan": true}, blind)
}

// Whoever sees a part of the office reads the letters they had written, and those of others are not there for them.
func TestLettersOfOthers(t *testing.T) {
	b := &box{}
	o := letter.NewOffice(people{}, b)
	whole := access.As(context.Background(), &access.Actor{Login: "ana", Role: access.Analyst})
	part := access.As(context.Background(), &access.Actor{Login: "nar", Role: access.Analyst, Scopes: []string{"A"}})
	lead := access.As(context.Background(), &access.Actor{Login: "lea", Role: access.Lead})
	theirs, err := o.Put(whole, letter.Message{Subject: "theirs", Text: "one"})
	require.NoError(t, err)
	own, err := o.Put(part, letter.Message{Subject: "own", Text: "two"})
	require.NoError(t, err)

	count := func(ctx context.Context) int {
		list, err := o.Outbox(ctx)
		require.NoError(t, err)
		return len(list)
	}
	assert.Equal(t, []int{2, 1}, []int{count(whole), count(part)})
	text, err := o.OpenMessage(part, own)
	require.NoError(t, err)
	assert.Equal(t, "two", string(text))
	_, err = o.OpenMessage(part, theirs)
	assert.ErrorIs(t, err, fault.ErrNotFound)
	text, err = o.OpenMessage(whole, own)
	require.NoError(t, err)
	assert.Equal(t, "two", string(text))
	_, err = o.Outbox(lead)
	assert.ErrorIs(t, err, access.ErrForbidden)
	_, err = o.OpenMessage(lead, own)
	assert.ErrorIs(t, err, access.ErrForbidden)
}

func TestSignatures(t *testing.T) {
	a := &access.Actor{Name: "Ann"}
	assert.Equal(t, "Ann", letter.Signature(a, &setting.Settings{}))
	assert.Equal(t, "Ann\nThe Office", letter.Signature(a, &setting.Settings{Organisation: "The Office"}))
	assert.Equal(t, []string{"no lead", "Ann"}, []string{letter.OrNobody(""), letter.OrNobody("Ann")})
}

// A lead of two projects gets one letter; who has no address is named; what was written before one failed is told.
func TestARoundOfLetters(t *testing.T) {
	r := letter.NewRound[int](map[string]string{"Ann": "ann@example.org", "Bob": "bob@example.org"})
	r.Tell("Bob", "B1", 1)
	r.Tell("Ann", "A1", 2)
	r.Tell("", "N1", 3)
	r.Tell("Bob", "B2", 4)
	r.Tell("Cyd", "C1", 5)
	var told []string
	done, err := r.Send(func(lead, to string, list []int) (letter.Message, error) {
		told = append(told, fmt.Sprint(lead, " ", to, " ", list))
		return letter.Message{File: lead + ".eml"}, nil
	})
	require.NoError(t, err)
	assert.Equal(t, []string{"Bob bob@example.org [1 4]", "Ann ann@example.org [2]"}, told)
	assert.Equal(t, []string{"N1 (no lead)", "C1 (Cyd)"}, done.Unwritten)
	assert.Len(t, done.Sent, 2)

	full := errors.New("the disk is full")
	done, err = r.Send(func(lead, _ string, _ []int) (letter.Message, error) {
		if lead == "Ann" {
			return letter.Message{}, full
		}
		return letter.Message{File: "b.eml"}, nil
	})
	assert.ErrorIs(t, err, full)
	assert.Len(t, done.Sent, 1)
}
