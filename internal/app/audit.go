package app

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"time"

	"turret/internal/app/access"
)

// Entry is one line of the audit trail. Before and After are texts or JSON, empty where there was or is nothing.
type Entry struct {
	ID            int64
	At            time.Time
	Who, Act      string
	Subject       string
	Before, After string
	Made          string // digests of what the act added and changed, as JSON
	Former        string // digest of the entry before
	Digest        string
}

// Seal computes the digest of the entry from its contents and the one before: SHA-256 over a JSON array of them.
func (e *Entry) Seal() string {
	parts := []any{e.ID, e.At.UTC().Format(time.RFC3339), e.Who, e.Act, e.Subject, e.Before, e.After, e.Former}
	if e.Made != "" {
		parts = append(parts, e.Made)
	}
	b, _ := json.Marshal(parts)
	sum := sha256.Sum256(b)
	return hex.EncodeToString(sum[:])
}

// AuditQuery narrows the trail; the zero value is all of it. Before pages: only entries older than that one.
type AuditQuery struct {
	Text, Who, Act string
	Before         int64
	Limit          int
}

// Audit lists entries, newest first.
func (o *Office) Audit(ctx context.Context, q AuditQuery) ([]Entry, error) {
	if _, err := access.PermitWhole(ctx, access.ReadAudit); err != nil {
		return nil, err
	}
	if q.Limit <= 0 || q.Limit > 500 {
		q.Limit = 100
	}
	return o.store.Audit(ctx, q)
}

// Verified is what a check of the trail found: the first entry that does not fit, 0 for none, and what is not as the entries made it.
type Verified struct {
	Entries int64
	Broken  int64
	Wrong   []string
}

// Verify recomputes the chain of the audit trail, and holds what the file keeps against it.
func (o *Office) Verify(ctx context.Context) (Verified, error) {
	if _, err := access.PermitWhole(ctx, access.ReadAudit); err != nil {
		return Verified{}, err
	}
	var v Verified
	former := ""
	var err error
	v.Wrong, err = o.store.HoldTrail(ctx, func(e *Entry) {
		v.Entries++
		if v.Broken == 0 && (e.Former != former || e.Digest != e.Seal() || e.ID != v.Entries) {
			v.Broken = e.ID
		}
		former = e.Digest
	})
	return v, err
}

// note makes an entry for what the actor does now.
func (o *Office) note(ctx context.Context, act, subject, before, after string) Entry {
	who := "nobody"
	if a := access.ActorOf(ctx); a != nil {
		who = a.Name
	}
	return Entry{At: o.now().UTC().Truncate(time.Second), Who: who, Act: act, Subject: subject, Before: before, After: after}
}
