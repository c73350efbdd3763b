package kept

import (
	"fmt"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/core/measure"
)

// Period is a reporting period that was closed: its figures never change. Reopened and closed again it has a further issue, and the
// former stays.
type Period struct {
	Serial     int64 // in the order of closing
	Span       calendar.Period
	Issue      int // from 1
	AsOf       calendar.Date
	Load       int64  // the last load that it was computed from
	Settings   string // as JSON, that it was computed under
	At         time.Time
	Who        string
	Digest     string    // SHA-256 over its loads and figures, hexadecimal
	Rules      int       // by which both were made; see PeriodRules
	ReopenedAt time.Time // zero where it stands
	ReopenedBy string
	Reason     string // of reopening
}

// PeriodRules number the rules by which figures and digests of periods are made. Those closed by earlier ones stand as they were kept and
// cannot be computed again.
const PeriodRules = 3

// Reopened says whether another issue follows, or is to follow.
func (p *Period) Reopened() bool { return !p.ReopenedAt.IsZero() }

// Name is the period and, from the second on, its issue.
func (p *Period) Name() string {
	if p.Issue < 2 {
		return p.Span.Name()
	}
	return fmt.Sprintf("%s, issue %d", p.Span.Name(), p.Issue)
}

// Bound is what the period was computed from.
func (p *Period) Bound() Bound { return Bound{Load: p.Load, Period: p.Span, Serial: p.Serial} }

// Bound limits what is read: to loads up to one that were sent up to a period, and to the issues of periods that stood before
// a serial; of serial 0, to those that stand now.
type Bound struct {
	Load   int64
	Period calendar.Period
	Serial int64
}

// Pin is a load that a period was computed from, with the SHA-256 over what it brought, hexadecimal.
type Pin struct {
	Load int64
	Rows string
}

// PeriodValue is a figure of a closed period. The scope is the id of a project, that of a node with a minus, or 0 for all.
type PeriodValue struct {
	Measure measure.Key
	Scope   int64
	Period  calendar.Period
	Value   measure.Value
}

// PeriodFinding is a finding that counted when a period was closed.
type PeriodFinding struct {
	Project      int64
	Rule, Record string
}
