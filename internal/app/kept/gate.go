package kept

import (
	"time"

	"turret/internal/core/calendar"
)

// Snapshot is what a project was when it passed a gate: its figures as JSON, and what they are computed from again.
type Snapshot struct {
	ID        int64
	ProjectID int64  // of the store
	Project   string // code
	Stage     string
	AsOf      calendar.Date
	Bound
	Rules    int    // by which they were computed; see PeriodRules
	Settings string // as JSON, that they were computed under
	At       time.Time
	Who      string
	Figures  string
	Digest   string // SHA-256 over Figures, hexadecimal
}

// Closed is the snapshot as if a period were closed with it, which is how it is computed.
func (s *Snapshot) Closed() *Period {
	return &Period{AsOf: s.AsOf, Load: s.Load, Settings: s.Settings, At: s.At, Who: s.Who, Rules: s.Rules, Span: s.Period}
}
