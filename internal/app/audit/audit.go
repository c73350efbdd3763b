package audit

import (
	"context"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/kept"
)

// Query narrows the trail; the zero value is all of it. Before pages: only entries older than that one.
type Query struct {
	Text, Who, Act string
	Before         int64
	Limit          int
}

// List lists entries, newest first.
func (o *Office) List(ctx context.Context, q Query) ([]kept.Entry, error) {
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
	v.Wrong, err = o.store.HoldTrail(ctx, func(e *kept.Entry) {
		v.Entries++
		if v.Broken == 0 && (e.Former != former || e.Digest != e.Seal() || e.ID != v.Entries) {
			v.Broken = e.ID
		}
		former = e.Digest
	})
	return v, err
}

// Entry makes an entry for what the actor does now.
func (o *Office) Entry(ctx context.Context, act, subject, before, after string) kept.Entry {
	who := "nobody"
	if a := access.ActorOf(ctx); a != nil {
		who = a.Name
	}
	return kept.Entry{At: o.now().UTC().Truncate(time.Second), Who: who, Act: act, Subject: subject, Before: before, After: after}
}
