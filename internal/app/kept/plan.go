package kept

import (
	"fmt"
	"strings"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/core/write"
)

// BaselineFact is a named baseline: the revision whose baseline dates it is. Change is the approved change it was set for, if any.
type BaselineFact struct {
	ID, Load             int64
	Project              string
	Name, Reason, Change string
	Who                  string
	At                   time.Time
}

// Agreement is what giver and taker of a dependency between projects settled: the day promised, and whether both agree.
type Agreement struct {
	Giver, From, Taker, To string
	Promised               calendar.Date // 0 where no other day than the plan's is promised
	Agreed                 bool
	Note, Who              string
	At                     time.Time
}

// RehearsedMove is one thing supposed in a rehearsal: an activity put off or made longer by working days, or set to a day.
type RehearsedMove struct {
	Project  string        `json:"project"`
	Activity string        `json:"activity"`
	Shift    int           `json:"shift,omitempty"`
	Stretch  int           `json:"stretch,omitempty"`
	By       calendar.Date `json:"by,omitempty"`
}

// Text is the move in words.
func (m RehearsedMove) Text() string {
	var parts []string
	if m.Shift != 0 {
		parts = append(parts, fmt.Sprintf("%s by %s", map[bool]string{true: "later", false: "earlier"}[m.Shift > 0],
			write.Days(max(m.Shift, -m.Shift))))
	}
	if m.Stretch != 0 {
		parts = append(parts, fmt.Sprintf("%s by %s", map[bool]string{true: "longer", false: "shorter"}[m.Stretch > 0],
			write.Days(max(m.Stretch, -m.Stretch))))
	}
	if m.By != 0 {
		parts = append(parts, "finishing on "+m.By.Human())
	}
	return strings.Join(parts, ", ")
}

// Rehearsal is a what-if kept by name. It is never written over the plans.
type Rehearsal struct {
	ID         int64
	Name, Note string
	AsOf       calendar.Date
	Moves      []RehearsedMove
	Account    int64
	Who        string
	At         time.Time
}

// MoneyLoad is a load that brought a budget or forecast of a project, with the name that somebody gave it.
type MoneyLoad struct {
	Load
	Name string
}
