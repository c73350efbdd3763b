// Package app holds what people do with Turret: taking in files, assessing a date, asking where a figure comes from.
//
// It declares the store it needs and leaves reading files, pages and reports to others. It never reads a clock of its own.
package app

import (
	"context"
	"runtime"
	"sync"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/job"
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

// Withdrawn reports whether the load no longer counts.
func (l *Load) Withdrawn() bool { return !l.WithdrawnAt.IsZero() }

// Node is a portfolio or programme.
type Node struct {
	ID                       int64
	Code, Name, Level, Owner string
	Parent                   int64 // 0 at the top
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
}

// Masters are the small tables that everything refers to. Projects stand in the order of their codes.
type Masters struct {
	Reporting money.Currency
	Nodes     []Node
	Projects  []measure.Info
	CostCodes []CostCode
	Calendars []CalendarRow // of the newest load of each calendar
	Rates     []cost.RateRow
	People    []Person
	Tariffs   *cost.Tariffs

	Allocations []Allocation
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
	Declared(ctx context.Context, projects []int64, each func(project int64, d measure.Declared)) error
	Commitments(ctx context.Context, projects []int64, each func(project int64, c cost.Commitment)) error
	Changes(ctx context.Context, projects []int64, each func(project int64, c cost.Change)) error
	Shares(ctx context.Context, projects []int64, each func(project int64, s cost.Share)) error
	Billings(ctx context.Context, projects []int64, each func(project int64, b cost.Billing)) error
	// Bookings passes the rows of timesheets; the row is the same one each time.
	Bookings(ctx context.Context, projects []int64, each func(project int64, b *Booked)) error
	// History passes the milestones and deliverables that projects sent for each period, from the newest standing revision of each.
	History(ctx context.Context, projects []int64, each func(project int64, period calendar.Period, a *ActivityFact)) error
	// Standing is the load whose revision of a kind is the current one of a project; 0 where there is none.
	Standing(ctx context.Context, kind record.Kind, project int64) (load int64, err error)
	// PlanLoads lists the standing loads that brought a schedule of the project, newest first.
	PlanLoads(ctx context.Context, project int64) ([]Load, error)
	// MoneyLoads lists the standing loads that brought a budget or forecast of the project, newest first, with the names given to them.
	MoneyLoads(ctx context.Context, kind record.Kind, project int64) ([]MoneyLoad, error)
	// LinesAt passes the lines that a load brought for a project.
	LinesAt(ctx context.Context, kind record.Kind, project, load int64, each func(cost.Line)) error
	// LinksAt passes the dependencies of a project that stood beside its schedule of a load.
	LinksAt(ctx context.Context, project, load int64, each func(*LinkFact)) error
	Risks(ctx context.Context, projects []int64, each func(project int64, r risk.Risk)) error
	Issues(ctx context.Context, projects []int64, each func(project int64, i risk.Issue)) error
	Actions(ctx context.Context, projects []int64, each func(project int64, a risk.Action)) error
	Items(ctx context.Context, projects []int64, each func(project int64, i backlog.Item)) error
	Benefits(ctx context.Context, projects []int64, each func(project int64, b benefit.Benefit)) error
	// LastDelivered passes the latest period that each kind of input was received for, by project.
	LastDelivered(ctx context.Context, projects []int64, each func(project int64, kind record.Kind, period calendar.Period)) error
	// Begun reports whether anything of projects has come for a period, or a later one.
	Begun(ctx context.Context, period calendar.Period) (bool, error)
	// Overrides lists the statuses that people set, also those that lapsed or were taken back, in the order in which they were set.
	Overrides(ctx context.Context) ([]OverrideFact, error)
	Acceptances(ctx context.Context) ([]AcceptanceFact, error)
	// Periods lists the closed periods, ascending.
	Periods(ctx context.Context) ([]Period, error)
	// PeriodValues passes the figures of measures in the closed periods from one month up to before another; 0 is open. Scopes of nil
	// mean all of them.
	PeriodValues(ctx context.Context, measures []string, scopes []int64, from, before calendar.Period, each func(PeriodValue)) error
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
}

// Store keeps loads and what they brought, and everything around them.
type Store interface {
	Reading
	// Stirred lists the projects that changed since a head; whole says that figures of all of them depend on what did.
	Stirred(ctx context.Context, head int64) (projects []int64, whole bool, err error)
	// At reads as if no load outside a bound had come.
	At(b Bound) Reading
	// Reach tells the last standing load, and how many were sent for periods after a month and up to it.
	Reach(ctx context.Context, month calendar.Period) (last int64, after, upTo int, err error)
	// Pins are loads with the digests of what each brought, known from when it was first pinned or computed.
	Pins(ctx context.Context, loads []int64) ([]Pin, error)
	// FindingsOf lists the findings that counted at a closing.
	FindingsOf(ctx context.Context, serial int64) ([]PeriodFinding, error)
	// RowsDigests computes the digests of what loads brought.
	RowsDigests(ctx context.Context, loads []int64) (map[int64]string, error)
	// ClosePeriod keeps a period with the loads and figures it froze, as its next issue, and numbers it. It is an error wrapping
	// ErrConflict where the period is closed.
	ClosePeriod(ctx context.Context, p *Period, pins []Pin, values []PeriodValue, findings []PeriodFinding, e Entry) error
	// Reopen ends an issue of a period; what it froze stays.
	Reopen(ctx context.Context, serial int64, at time.Time, who, reason string, e Entry) error
	// Closings lists every closing in its order, also of periods reopened since.
	Closings(ctx context.Context) ([]Period, error)
	// Frozen are what an issue of a period pinned and the figures it froze.
	Frozen(ctx context.Context, serial int64) (pins []Pin, values []PeriodValue, err error)
	// SaveCommentaries keeps what was written, each over the text of its ID; ErrConflict where a newer one is there.
	SaveCommentaries(ctx context.Context, list []Commentary, e Entry) error
	// Remarks lists what was said in a period about projects, of nil about all.
	Remarks(ctx context.Context, month calendar.Period, projects []int64) ([]Remark, error)
	SaveRemark(ctx context.Context, r Remark, answers int64, e Entry) error
	// CommentaryHistory lists all that was written to a scope in a period by a moment, zero for now, oldest first.
	CommentaryHistory(ctx context.Context, scope int64, month calendar.Period, by time.Time) ([]Commentary, error)
	Review(ctx context.Context, month calendar.Period) (Review, error)
	SaveReview(ctx context.Context, month calendar.Period, r Review, e Entry) error
	SaveWaivers(ctx context.Context, list []Waiver, e Entry) error
	EndWaiver(ctx context.Context, id int64, who string, at time.Time, e Entry) error
	// Waivers lists what is let pass in a period.
	Waivers(ctx context.Context, month calendar.Period) ([]Waiver, error)
	PeriodFindings(ctx context.Context, month calendar.Period) ([]PeriodFinding, error)
	SaveOverride(ctx context.Context, f OverrideFact, e Entry) error
	EndOverride(ctx context.Context, project, id int64, who string, at time.Time, e Entry) error
	SaveAcceptance(ctx context.Context, f AcceptanceFact, e Entry) error
	SavedViews(ctx context.Context, sort ViewSort) ([]SavedView, error)
	// SaveView keeps a view in the place of a former one (0 for none) and returns its number.
	SaveView(ctx context.Context, v SavedView, others ...int64) (int64, error)
	EndView(ctx context.Context, id int64, at time.Time) error
	// Mark is the organisation's picture, nil for none; one without bytes takes it away.
	Mark(ctx context.Context) (*Mark, error)
	SaveMark(ctx context.Context, m *Mark, e Entry) error
	// Mailings lists who gets which report, by name; SaveMailing keeps one in the place of a former one (0 for none).
	Mailings(ctx context.Context) ([]Mailing, error)
	SaveMailing(ctx context.Context, m Mailing, former int64, e Entry) error
	EndMailing(ctx context.Context, id int64, at time.Time, e Entry) error
	// ClaimSending writes down that something is about to be sent; false where it was for this occasion already.
	ClaimSending(ctx context.Context, s *Sending) (bool, error)
	// SaveSending completes it with what came of it.
	SaveSending(ctx context.Context, s *Sending, e Entry) error
	// Sendings lists what was sent, newest first; only one where an id is given.
	Sendings(ctx context.Context, id int64, limit int) ([]Sending, error)
	// Unopened lists what was sent to a person and not opened by them, newest first.
	Unopened(ctx context.Context, login string, limit int) ([]Sending, error)
	// Notice is the newest that has not ended; nil for none. SaveNotice ends those before.
	Notice(ctx context.Context) (*Notice, error)
	SaveNotice(ctx context.Context, n Notice, e Entry) error
	SaveOpening(ctx context.Context, sending int64, who string, at time.Time) error
	EndAcceptance(ctx context.Context, project, id int64, who string, at time.Time, e Entry) error
	// Save writes the files in one transaction and returns their loads in the same order.
	Save(ctx context.Context, b Batch) ([]Load, error)
	// Rehearse writes the files, passes what could then be read, and takes everything back.
	Rehearse(ctx context.Context, b Batch, then func(Reading) error) error
	// Withdraw makes a load no longer count. It is an error wrapping ErrPinned or ErrNeeded where it must stay.
	Withdraw(ctx context.Context, load int64, who, reason string, at time.Time, e Entry) error
	SaveSettings(ctx context.Context, text string, version int64, secrets map[string]string, e Entry) error

	Deliveries(ctx context.Context) ([]Delivery, error)
	Refuse(ctx context.Context, r Refused) error
	Refusals(ctx context.Context, period calendar.Period) ([]Refused, error)
	Sources(ctx context.Context, owner string) ([]string, error)
	Meanings(ctx context.Context, source, owner string) ([]Meaning, error)
	Secret(ctx context.Context, name string) (address string, err error)
	SaveMeaning(ctx context.Context, source, owner string, m Meaning, e Entry) error

	Accounts(ctx context.Context) ([]Account, error)
	// SaveAccount writes an account, a new one where its ID is 0, unless it was changed since its version (ErrConflict).
	SaveAccount(ctx context.Context, a Account, e Entry) (int64, error)
	Tokens(ctx context.Context, account int64) ([]Token, error)
	TokenOwner(ctx context.Context, digest string) (int64, error)
	SaveToken(ctx context.Context, t Token, e Entry) error
	EndToken(ctx context.Context, account, id int64, at time.Time, e Entry) error

	// NameMoney gives a standing plan of money a name.
	NameMoney(ctx context.Context, project, load int64, name, who string, at time.Time, e Entry) error
	SaveAgreement(ctx context.Context, a Agreement, e Entry) error
	SaveRehearsal(ctx context.Context, r Rehearsal, e Entry) (int64, error)
	EndRehearsal(ctx context.Context, id int64, at time.Time, e Entry) error

	Note(ctx context.Context, e Entry) error
	Audit(ctx context.Context, q AuditQuery) ([]Entry, error)
	AuditTrail(ctx context.Context, each func(*Entry)) error
	// HoldTrail passes it too, and tells what is not as the entries made it.
	HoldTrail(ctx context.Context, each func(*Entry)) (wrong []string, err error)

	FeedRuns(ctx context.Context, feed string, limit int) ([]FeedRun, error)
	// LastFeedRuns lists the last run of each feed.
	LastFeedRuns(ctx context.Context) ([]FeedRun, error)
	SaveFeedRun(ctx context.Context, r *FeedRun) error

	Backup(ctx context.Context, path string) error
}

// Office is the one service behind pages, commands and reports. It is safe for concurrent use. Whoever asks stands in the
// context (As); what they may not see or do, it keeps from them.
type Office struct {
	store  Store
	reader Reader
	desk   Drafts
	mail   Outbox
	print  Printer
	now    func() time.Time

	cache  *cache
	asking *access.Turns // for days to be computed

	mu       sync.Mutex
	gathered map[gatheredKey][2]int
	closing  sync.Mutex // one period is closed at a time

	jobs  *job.Jobs[*Receipt] // loads, by their drafts
	turns *access.Turns       // of reading files
	later sync.WaitGroup      // entries still to be written

	fed     sync.Mutex
	feeding map[string]bool // feeds that are asked now, under fed
}

// Parts are what an office works with besides its store; a part left out is not to be had.
type Parts struct {
	Reader Reader
	Drafts Drafts
	Outbox Outbox
	Print  Printer
}

// How much of what takes memory and time one person may have under way, the one at work included.
const (
	mostReading   = 4
	mostAssessing = 16
	mostAsking    = 1 << 10 // all together; they wait for their day to be computed, one at a time
)

// NewOffice makes an office over a store; now gives the time that loads are stamped with.
func NewOffice(store Store, now func() time.Time, parts Parts) *Office {
	return &Office{store: store, now: now, reader: parts.Reader, desk: parts.Drafts, mail: parts.Outbox, print: parts.Print,
		cache: newCache(MostKept), gathered: map[gatheredKey][2]int{}, jobs: job.New[*Receipt](time.Now),
		turns:  access.NewTurns(max(2, runtime.GOMAXPROCS(0)), mostReading, "files are being read"),
		asking: access.NewTurns(mostAsking, mostAssessing, "days are being computed"), feeding: map[string]bool{}}
}
