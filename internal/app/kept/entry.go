package kept

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"time"
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
