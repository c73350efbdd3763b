package kept

import (
	"time"

	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/health"
)

// OverrideFact is a status that a person set, as kept.
type OverrideFact struct {
	ID, Project int64
	Code        string // of the project
	health.Override
	Since   calendar.Date // the as-of date that it was set for
	At      time.Time
	EndedAt time.Time // zero while it was not ended
	EndedBy string
}

// AcceptanceFact is a finding that somebody accepted, as kept.
type AcceptanceFact struct {
	check.Acceptance
	Project int64
	Code    string // of the project
	At      time.Time
	EndedAt time.Time
	EndedBy string
}

// Commentary is what a person wrote to the figures of a period: of a project, of a node (its id with a minus) or of the whole (0), about
// a dimension or overall. ID is that of the text; in one to be saved, that of the text it was written over, 0 for none.
type Commentary struct {
	ID     int64
	Scope  int64
	Period calendar.Period
	On     health.Dimension
	Text   string // in light Markdown
	Who    string
	At     time.Time
}
