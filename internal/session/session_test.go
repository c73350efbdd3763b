package session

import (
	"context"
	"fmt"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestSessionsEnd(t *testing.T) {
	ctx := context.Background()
	at := time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)
	path := filepath.Join(t.TempDir(), "a #b.sessions")
	s, err := Open(ctx, path, func() time.Time { return at })
	require.NoError(t, err)
	key, x, err := s.Begin(ctx, 7, "1.2.3.4", "a browser")
	require.NoError(t, err)
	require.NoError(t, s.Close())
	s, err = Open(ctx, path, func() time.Time { return at })
	require.NoError(t, err)
	defer s.Close()
	found, err := s.Find(ctx, key)
	require.NoError(t, err)
	require.NotNil(t, found, "a session outlives the program")
	assert.Equal(t, []any{int64(7), x.Token}, []any{found.Account, found.Token})
	var held string
	require.NoError(t, s.db.Get(&held, `SELECT digest FROM sessions`))
	assert.NotContains(t, held, key, "the key itself is not kept")
	for _, wrong := range []string{"", "x", key[:42] + "!", key + "x"} {
		none, err := s.Find(ctx, wrong)
		require.NoError(t, err)
		assert.Nil(t, none)
	}
	for range 5 { // used every ten hours it lives on
		at = at.Add(10 * time.Hour)
		found, err = s.Find(ctx, key)
		require.NoError(t, err)
		require.NotNil(t, found)
	}
	at = at.Add(Idle + time.Minute)
	found, err = s.Find(ctx, key)
	require.NoError(t, err)
	assert.Nil(t, found, "unused for too long")

	key, _, _ = s.Begin(ctx, 7, "", "")
	until := at.Add(Longest)
	for at.Before(until) {
		at = at.Add(11 * time.Hour)
		found, err = s.Find(ctx, key)
		require.NoError(t, err)
	}
	assert.Nil(t, found, "a week at the longest")

	one, a, _ := s.Begin(ctx, 7, "", "")
	two, _, _ := s.Begin(ctx, 7, "", "")
	other, _, _ := s.Begin(ctx, 8, "", "")
	require.NoError(t, s.EndOthers(ctx, 7, a.ID))
	for k, lives := range map[string]bool{one: true, two: false, other: true} {
		found, err := s.Find(ctx, k)
		require.NoError(t, err)
		assert.Equal(t, lives, found != nil)
	}
	require.NoError(t, s.End(ctx, 8, a.ID))
	found, _ = s.Find(ctx, one)
	assert.NotNil(t, found, "nobody ends another's session")
}

// Five failures lock a name from an address, in whatever spelling; 25 the name from everywhere, and 30 the address. Another address alone
// locks nobody out, and a new password, or signing in, releases the name.
func TestFailuresLockANameAndAnAddress(t *testing.T) {
	ctx := context.Background()
	at := time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)
	s, err := Open(ctx, ":memory:", func() time.Time { return at })
	require.NoError(t, err)
	defer s.Close()
	locked := func(name, from string) bool {
		l, err := s.Locked(ctx, name, from)
		require.NoError(t, err)
		return l
	}
	fail := func(n int, name, from string) {
		for range n {
			require.NoError(t, s.Failed(ctx, name, from))
		}
	}
	spellings := []string{"sasha", " SASHA", "Sasha ", "ſasha", "saſha\t"}
	for _, name := range spellings {
		assert.False(t, locked("sasha", "1.1.1.1"))
		fail(1, name, "1.1.1.1")
	}
	for _, name := range spellings {
		assert.True(t, locked(name, "1.1.1.1"), name)
		assert.False(t, locked(name, "2.2.2.2"), "an outsider locks nobody out elsewhere")
	}
	assert.False(t, locked("bob", "1.1.1.1"), "not the address yet")
	for i := range 4 {
		fail(5, "sasha", fmt.Sprint("3.3.3.", i))
	}
	assert.True(t, locked("sasha", "2.2.2.2"), "25 from everywhere")
	require.NoError(t, s.Release(ctx, "Saſha "))
	assert.False(t, locked("sasha", "1.1.1.1"))
	assert.False(t, locked("sasha", "2.2.2.2"))
	for i := range TriesAt - 5 {
		fail(1, string(rune('a'+i)), "1.1.1.1")
	}
	assert.True(t, locked("bob", "1.1.1.1"))
	at = at.Add(LockedBy + time.Minute)
	assert.False(t, locked("bob", "1.1.1.1"))
	fail(1, "sasha", "1.1.1.1")
	assert.False(t, locked("sasha", "1.1.1.1"), "the count begins anew")
	fail(5, "ahead", "6.6.6.6")
	at = at.Add(-time.Minute)
	assert.True(t, locked("ahead", "6.6.6.6"), "the clock was put right by a little")
	at = at.Add(-365 * 24 * time.Hour)
	assert.False(t, locked("ahead", "6.6.6.6"), "what failed while the clock was a year ahead locks nobody for a year")
	fail(4, "ahead", "6.6.6.6")
	assert.False(t, locked("ahead", "6.6.6.6"))
	long := strings.Repeat("x", 500)
	fail(5, long, "4.4.4.4")
	assert.True(t, locked(long, "4.4.4.4"))
}

// A clock that jumps ends no session that is in use by a little, and lets none live longer than it would have.
func TestAClockThatJumps(t *testing.T) {
	ctx := context.Background()
	at := time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)
	s, err := Open(ctx, ":memory:", func() time.Time { return at })
	require.NoError(t, err)
	defer s.Close()
	lives := func(key string) bool {
		x, err := s.Find(ctx, key)
		require.NoError(t, err)
		return x != nil
	}
	key, _, err := s.Begin(ctx, 7, "", "")
	require.NoError(t, err)
	at = at.Add(-5 * time.Minute)
	assert.True(t, lives(key), "five minutes back")
	at = at.Add(Idle - time.Minute)
	assert.True(t, lives(key))
	at = at.Add(-3 * time.Hour)
	assert.True(t, lives(key), "it is noted as seen now, not three hours ahead")
	at = at.Add(Idle + time.Minute)
	assert.False(t, lives(key), "unused for too long since")

	at = at.AddDate(1, 0, 0)
	key, _, err = s.Begin(ctx, 7, "", "")
	require.NoError(t, err)
	at = at.AddDate(-1, 0, 0)
	assert.False(t, lives(key), "made while the clock was a year ahead")
}
