// Package kept holds the words of what is kept: loads, masters, rows of files, periods, and how they are read.
package kept

import (
	"context"
	"time"

	"turret/internal/core/backlog"
	"turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// Load is one file taken in.
type Load struct {
	ID         int64
	Kind       record.Kind
	File       string
	Digest     string
	Size       int64
	Rows       int
	Source     string
	Author     string
	ReceivedAt time.Time
	Recognised string
	Period     calendar.Period // the period it was received for; 0 is not known
	Note       string          // why it was made, where a person said so

	WithdrawnAt         time.Time // zero while it stands
	WithdrawnBy, Reason string
}

// ByHand is the source of what the office types in: corrections, which do not make an input come. A lead types in the own name.
const ByHand = "typed in"

// Withdrawn reports whether the load no longer counts.
func (l *Load) Withdrawn() bool { return !l.WithdrawnAt.IsZero() }

// Node is a portfolio or programme.
type Node struct {
	ID                       int64
	Code, Name, Level, Owner string
	Parent                   int64 // 0 at the top
	Holder                   int64 // the id among those of projects that its records are kept by; 0 where it never had any
	Ref                      fact.Ref
}

// CostCode is an entry of the tree of cost codes.
type CostCode struct {
	ID         int64
	Code, Name string
	Parent     string
	Type       string
	Closed     bool

	Contingency bool
	Labour      bool
}

// Masters are the small tables that everything refers to. Projects stand in the order of their codes.
type Masters struct {
	Reporting money.Currency
	Nodes     []Node
	Projects  []measure.Info
	Own       []record.Column // that the office made for projects, without those that are closed
	CostCodes []CostCode
	Calendars []CalendarRow // of the newest load of each calendar
	Rates     []cost.RateRow
	People    []Person
	Tariffs   *cost.Tariffs

	Allocations []Allocation
	Staged      bool // stages are known that projects go through
}

// Holder is the id that the records of a project or node of a code are kept by; 0 where it has none.
func (m *Masters) Holder(code string) int64 {
	for i := range m.Projects {
		if m.Projects[i].Code == code {
			return m.Projects[i].ID
		}
	}
	if n := m.Node(code); n != nil {
		return n.Holder
	}
	return 0
}

// Holders are the ids that the records of projects and nodes are kept by, by their codes.
func (m *Masters) Holders() map[string]int64 {
	ids := make(map[string]int64, len(m.Projects)+len(m.Nodes))
	for i := range m.Nodes {
		ids[m.Nodes[i].Code] = m.Nodes[i].Holder
	}
	for i := range m.Projects {
		ids[m.Projects[i].Code] = m.Projects[i].ID
	}
	return ids
}

// Node finds a node by its code; nil where there is none.
func (m *Masters) Node(code string) *Node {
	for i := range m.Nodes {
		if m.Nodes[i].Code == code {
			return &m.Nodes[i]
		}
	}
	return nil
}

// ActivityFact is a stored activity; Calendar names the one it follows.
type ActivityFact struct {
	schedule.Activity
	CalendarName string
}

// LinkFact is a stored dependency; FromProject and ToProject are empty where they are the project itself.
type LinkFact struct {
	FromProject, From, ToProject, To string
	Type                             schedule.LinkType
	Lag                              int32
	Ref                              fact.Ref
}

// PostingAt is a posting of a project.
type PostingAt struct {
	Project int64
	Ref     fact.Ref
}

// Reading is what can be asked of the facts. Project ids of nil mean all projects; rows come in the order of the files.
type Reading interface {
	// Head changes whenever anything that figures depend on has changed.
	Head(ctx context.Context) (int64, error)
	Masters(ctx context.Context) (*Masters, error)
	Activities(ctx context.Context, projects []int64, each func(project int64, a *ActivityFact)) error
	// Links passes the current dependencies; with crossing only those that name another project.
	Links(ctx context.Context, projects []int64, crossing bool, each func(project int64, l *LinkFact)) error
	Lines(ctx context.Context, kind record.Kind, projects []int64, each func(project int64, l cost.Line)) error
	// Amounts passes the postings without their texts; the posting is the same one each time.
	Amounts(ctx context.Context, projects []int64, each func(project int64, p *cost.Posting)) error
	Postings(ctx context.Context, project int64) ([]cost.Posting, error)
	// Ledger passes the sums of postings, which are taken or not; then the postings of those that were not, by load and row. Both are the
	// same one each time.
	Ledger(ctx context.Context, projects []int64, take func(project, load int64, s *cost.MonthSum) bool,
		row func(project int64, p *cost.Posting)) error
	// Documents are those of postings.
	Documents(ctx context.Context, list []PostingAt) (map[PostingAt]string, error)
	Declared(ctx context.Context, projects []int64, each func(project int64, d measure.Declared)) error
	Commitments(ctx context.Context, projects []int64, each func(project int64, c cost.Commitment)) error
	Changes(ctx context.Context, projects []int64, each func(project int64, c cost.Change)) error
	Shares(ctx context.Context, projects []int64, each func(project int64, s cost.Share)) error
	Billings(ctx context.Context, projects []int64, each func(project int64, b cost.Billing)) error
	// Bookings passes the rows of timesheets; the row is the same one each time.
	Bookings(ctx context.Context, projects []int64, each func(project int64, b *cost.Booking)) error
	// History passes the milestones and deliverables that projects sent for each period, from the newest standing revision of each.
	History(ctx context.Context, projects []int64, each func(project int64, period calendar.Period, a *ActivityFact)) error
	// CurrentLoad is the load whose revision of a kind is the current one of a project; 0 where there is none.
	CurrentLoad(ctx context.Context, kind record.Kind, project int64) (load int64, err error)
	// LoadsOf lists the standing loads that brought a kind of the project, newest first.
	LoadsOf(ctx context.Context, kind record.Kind, project int64) ([]Load, error)
	// MoneyLoads lists the standing loads that brought a budget or forecast of the project, newest first, with the names given to them.
	MoneyLoads(ctx context.Context, kind record.Kind, project int64) ([]MoneyLoad, error)
	// LinesAt passes the lines that a load brought for a project.
	LinesAt(ctx context.Context, kind record.Kind, project, load int64, each func(cost.Line)) error
	// LinksAt passes the dependencies of a project that stood beside its schedule of a load.
	LinksAt(ctx context.Context, project, load int64, each func(*LinkFact)) error
	Risks(ctx context.Context, projects []int64, each func(project int64, r risk.Risk)) error
	// Backlogs passes the items of backlogs, then the iterations.
	Backlogs(ctx context.Context, projects []int64, item func(project int64, i backlog.Item),
		iteration func(project int64, i backlog.Iteration)) error
	Benefits(ctx context.Context, projects []int64, each func(project int64, b benefit.Benefit)) error
	// LastDelivered passes the latest delivery of each kind of input, by project.
	LastDelivered(ctx context.Context, projects []int64, each func(Delivery)) error
	// Begun reports whether anything of projects has come for a period, or a later one, and which sources sent a ledger for it.
	Begun(ctx context.Context, period calendar.Period) (begun bool, ledgers []string, err error)
	// Overrides lists the statuses that people set, also those that lapsed or were taken back, in the order in which they were set.
	Overrides(ctx context.Context) ([]OverrideFact, error)
	Acceptances(ctx context.Context) ([]AcceptanceFact, error)
	// Periods lists the closed periods, ascending.
	Periods(ctx context.Context) ([]Period, error)
	// PeriodValues passes the figures of measures in the closed periods from one month up to before another; 0 is open. Scopes of nil
	// mean all of them.
	PeriodValues(ctx context.Context, keys []measure.Key, scopes []int64, from, before calendar.Period, each func(PeriodValue)) error
	// Commentaries passes what had been written last to the periods from one month to another by a moment, or by now where that is zero.
	// Scopes of nil mean all of them.
	Commentaries(ctx context.Context, scopes []int64, from, to calendar.Period, by time.Time, each func(Commentary)) error
	Baselines(ctx context.Context, project int64) ([]BaselineFact, error)
	Agreements(ctx context.Context) ([]Agreement, error)
	Rehearsals(ctx context.Context) ([]Rehearsal, error)
	// Loads lists all loads, also those withdrawn, newest first.
	Loads(ctx context.Context) ([]Load, error)
	// LoadOf finds a standing load of the kind with the digest; nil where there is none.
	LoadOf(ctx context.Context, kind record.Kind, digest string) (*Load, error)
	// Rows reads rows of a kind back into a file: those of a load, or the current ones.
	Rows(ctx context.Context, kind record.Kind, which Selection) (*File, error)
	// Settings returns the settings as JSON, empty for the defaults, and their version.
	Settings(ctx context.Context) (text string, version int64, err error)
}

// Delivery is the latest input of a kind that a project got; one typed by the office only where nothing else ever came.
type Delivery struct {
	Project int64
	Kind    record.Kind
	Period  calendar.Period // it was received for; 0 is not known
	Source  string
	Periods int // in which the kind was received so far
}

// Selection picks rows: of one load, or the current ones where that is 0; of some projects, or of all where those are nil.
type Selection struct {
	Load     int64
	Projects []int64
	From     int // rows to pass over
	Limit    int // rows at most; 0 for all
}

// Batch is what one transaction takes in.
type Batch struct {
	Files          []*File
	Source, Author string
	At             time.Time
	Period         calendar.Period
	// Check runs within the transaction before anything is written; its error stops it.
	Check func(Reading) error
	// Progress is told now and then how many rows of how many are written.
	Progress func(done, total int)
	Note     func(Load) Entry
	Reason   string        // kept with the loads
	Baseline *BaselineFact // set with the loads, nil for none
	Snapshot *Snapshot     // kept with the loads, nil for none
}
