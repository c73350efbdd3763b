package audit_test

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/access"
	"turret/internal/app/audit"
	"turret/internal/app/kept"
	"turret/internal/demotest"
)

// trail is one that lies in memory, so that it can be tampered with.
type trail []kept.Entry

func (t trail) Audit(_ context.Context, q audit.Query) ([]kept.Entry, error) {
	return t[:min(len(t), q.Limit)], nil
}

func (t trail) HoldTrail(_ context.Context, each func(*kept.Entry)) ([]string, error) {
	for i := range t {
		each(&t[i])
	}
	return nil, nil
}

var at = time.Date(2026, 11, 3, 8, 0, 0, 0, time.UTC)

func three() trail {
	var list trail
	former := ""
	for i, act := range []string{"load", "edit", "close"} {
		e := kept.Entry{ID: int64(i + 1), At: at, Who: "Ann", Act: act, Subject: "x", Former: former}
		e.Digest = e.Seal()
		former = e.Digest
		list = append(list, e)
	}
	return list
}

// The seal is SHA-256 over what the entry says and the one before, as a JSON array written out here by hand.
func TestTheSealOfAnEntry(t *testing.T) {
	e := kept.Entry{ID: 7, At: at, Who: "Ann", Act: "edit", Subject: "Plan A", Before: "1", After: "2", Former: "ff"}
	plain := func(text string) string {
		sum := sha256.Sum256([]byte(text))
		return hex.EncodeToString(sum[:])
	}
	assert.Equal(t, plain(`[7,"2026-11-03T08:00:00Z","Ann","edit","Plan A","1","2","ff"]`), e.Seal())
	e.Made = `{"rows":"ab"}`
	assert.Equal(t, plain(`[7,"2026-11-03T08:00:00Z","Ann","edit","Plan A","1","2","ff","{\"rows\":\"ab\"}"]`), e.Seal())
}

// Whatever is changed, left out or put in, the first entry that does not fit is named.
func TestATrailThatWasTamperedWith(t *testing.T) {
	ctx := access.As(context.Background(), access.Operator("a test"))
	for says, c := range map[string]struct {
		spoil  func(trail) trail
		broken int64
	}{
		"nothing":        {func(l trail) trail { return l }, 0},
		"a word":         {func(l trail) trail { l[1].After = "y"; return l }, 2},
		"a name, sealed": {func(l trail) trail { l[1].Who = "Bob"; l[1].Digest = l[1].Seal(); return l }, 3},
		"one left out":   {func(l trail) trail { return append(l[:1:1], l[2]) }, 3},
		"the last":       {func(l trail) trail { l[2].Digest = "0"; return l }, 3},
	} {
		v, err := audit.NewOffice(c.spoil(three()), demotest.Now).Verify(ctx)
		require.NoError(t, err)
		assert.Equal(t, c.broken, v.Broken, says)
	}
}

// A list is a hundred long where nobody says, and never more than five hundred.
func TestHowMuchOfTheTrailIsListed(t *testing.T) {
	ctx := access.As(context.Background(), access.Operator("a test"))
	o := audit.NewOffice(make(trail, 900), demotest.Now)
	for asked, want := range map[int]int{0: 100, -1: 100, 1: 1, 500: 500, 501: 100} {
		list, err := o.List(ctx, audit.Query{Limit: asked})
		require.NoError(t, err)
		assert.Len(t, list, want, asked)
	}
	for _, who := range []*access.Actor{{Role: access.Lead}, {Role: access.Executive},
		{Role: access.Administrator, Scopes: []string{"A"}}} {
		_, err := o.List(access.As(context.Background(), who), audit.Query{})
		assert.ErrorIs(t, err, access.ErrForbidden, who.Role)
		_, err = o.Verify(access.As(context.Background(), who))
		assert.ErrorIs(t, err, access.ErrForbidden, who.Role)
	}
}

// An entry is of who asks; where nobody stands behind an act it is nobody's.
func TestWhoseAnEntryIs(t *testing.T) {
	o := audit.NewOffice(trail{}, func() time.Time { return at.Add(123 * time.Millisecond) })
	assert.Equal(t, "nobody", o.Entry(context.Background(), "a", "b", "", "").Who)
	e := o.Entry(access.As(context.Background(), &access.Actor{Name: "Ann"}), "a", "b", "c", "d")
	assert.Equal(t, kept.Entry{At: at, Who: "Ann", Act: "a", Subject: "b", Before: "c", After: "d"}, e)
}
