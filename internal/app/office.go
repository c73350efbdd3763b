// Package app is the office: the doors to all that people do with Turret, one for each capability.
//
// Each capability is a package of its own that declares the store it needs and leaves reading files, pages and reports to others. None
// reads a clock of its own. Whoever asks stands in the context (access.As); what they may not see or do, it keeps from them.
package app

import (
	"context"
	"runtime"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/agenda"
	"turret/internal/app/assess"
	"turret/internal/app/attach"
	"turret/internal/app/audit"
	"turret/internal/app/backlog"
	"turret/internal/app/benefit"
	"turret/internal/app/closing"
	"turret/internal/app/desk"
	"turret/internal/app/draft"
	"turret/internal/app/edit"
	"turret/internal/app/explain"
	"turret/internal/app/feed"
	"turret/internal/app/forecast"
	"turret/internal/app/gate"
	"turret/internal/app/gather"
	"turret/internal/app/hours"
	"turret/internal/app/intake"
	"turret/internal/app/judge"
	"turret/internal/app/letter"
	"turret/internal/app/load"
	"turret/internal/app/lookout"
	"turret/internal/app/mailing"
	"turret/internal/app/meeting"
	"turret/internal/app/money"
	"turret/internal/app/people"
	"turret/internal/app/pipeline"
	"turret/internal/app/plan"
	"turret/internal/app/publish"
	"turret/internal/app/records"
	"turret/internal/app/register"
	"turret/internal/app/report"
	"turret/internal/app/saved"
	"turret/internal/app/setting"
	"turret/internal/app/trace"
)

// Store keeps loads and what they brought, and everything around them.
type Store interface {
	account.Store
	agenda.Store
	assess.Store
	audit.Store
	benefit.Store
	desk.Store
	draft.Store
	edit.Store
	explain.Store
	feed.Store
	gate.Store
	gather.Store
	hours.Store
	intake.Store
	judge.Store
	letter.Store
	load.Store
	lookout.Store
	mailing.Store
	meeting.Store
	money.Store
	people.Store
	pipeline.Store
	plan.Store
	publish.Store
	records.Store
	register.Store
	report.Store
	saved.Store
	setting.Store
	trace.Store

	// Backup writes a whole copy of the file to a path.
	Backup(ctx context.Context, path string) error
}

// Office is all doors together, over one store.
type Office struct {
	Agenda   *agenda.Office
	Account  *account.Office
	Assess   *assess.Office
	Attach   *attach.Office
	Audit    *audit.Office
	Backlog  *backlog.Office
	Benefit  *benefit.Office
	Closing  *closing.Office
	Desk     *desk.Office
	Draft    *draft.Office
	Edit     *edit.Office
	Explain  *explain.Office
	Feed     *feed.Office
	Forecast *forecast.Office
	Gate     *gate.Office
	Gather   *gather.Office
	Hours    *hours.Office
	Intake   *intake.Office
	Judge    *judge.Office
	Letter   *letter.Office
	Load     *load.Office
	Lookout  *lookout.Office
	Mailing  *mailing.Office
	Meeting  *meeting.Office
	Money    *money.Office
	People   *people.Office
	Pipeline *pipeline.Office
	Plan     *plan.Office
	Publish  *publish.Office
	Records  *records.Office
	Register *register.Office
	Report   *report.Office
	Saved    *saved.Office
	Setting  *setting.Office
	Trace    *trace.Office
}

// Parts are what an office works with besides its store; a part left out is not to be had.
type Parts struct {
	Reader intake.Reader
	Drafts draft.Drafts
	Outbox letter.Outbox
	Files  attach.Files
	Print  mailing.Printer
}

// mostReading is how many files one person may have read at once, the one at work included.
const mostReading = 4

// NewOffice makes an office over a store; now gives the time that everything is stamped with, and
// may jump back: two stamps of one office are in the order in which they were made.
func NewOffice(store Store, now func() time.Time, with Parts) *Office {
	now = rising(now)
	turns := access.NewTurns(max(2, runtime.GOMAXPROCS(0)), mostReading, "files are being read")
	o := &Office{Audit: audit.NewOffice(store, now), Saved: saved.NewOffice(store, now), Letter: letter.NewOffice(store, with.Outbox),
		Trace: trace.NewOffice(store)}
	o.Account = account.NewOffice(store, now, o.Audit)
	o.Setting = setting.NewOffice(store, now, o.Audit)
	o.Assess = assess.NewOffice(store, o.Setting)
	o.Forecast = forecast.NewOffice(o.Assess, o.Setting)
	o.Records = records.NewOffice(store, o.Assess)
	o.Intake = intake.NewOffice(store, now, o.Audit, o.Setting)
	o.Hours = hours.NewOffice(store, now, with.Reader, o.Audit, o.Setting, o.Letter, o.Intake)
	o.Edit = edit.NewOffice(store, now, with.Reader, o.Audit, o.Intake)
	o.Benefit = benefit.NewOffice(store, now, o.Audit, o.Letter)
	o.People = people.NewOffice(store, now, o.Edit, with.Reader)
	o.Backlog = backlog.NewOffice(store, o.Edit)
	o.Pipeline = pipeline.NewOffice(store, now, with.Reader, o.Intake, o.Edit, o.Setting, o.Saved)
	o.Gate = gate.NewOffice(store, now, o.Assess, o.Edit)
	o.Closing = closing.NewOffice(store, o.Edit)
	o.Register = register.NewOffice(store, now, o.Audit, o.Assess, o.Intake, o.Edit, o.Records)
	o.Attach = attach.NewOffice(with.Files, o.Register, o.Records)
	o.Meeting = meeting.NewOffice(store, now, o.Audit, o.Assess, o.Edit, o.Register, o.Letter)
	o.Judge = judge.NewOffice(store, now, o.Audit, o.Setting, o.Letter, o.Forecast)
	o.Plan = plan.NewOffice(store, now, with.Reader, o.Audit, o.Edit, o.Forecast)
	o.Money = money.NewOffice(store, now, with.Reader, o.Audit, o.Assess, o.Trace, o.Intake, o.Edit)
	o.Lookout = lookout.NewOffice(store, now, o.Assess, o.Saved)
	o.Explain = explain.NewOffice(store, now, with.Outbox, o.Audit, o.Setting, o.Letter)
	o.Desk = desk.NewOffice(store, now, o.Setting, o.Register, o.Explain)
	o.Report = report.NewOffice(store, o.Setting, o.Assess, o.Saved, o.Judge, o.Plan, o.Lookout, o.Explain,
		o.Forecast)
	o.Agenda = agenda.NewOffice(store, o.Edit, o.Register)
	o.Gather = gather.NewOffice(store, now, o.Audit, o.Setting, o.Assess, o.Letter, o.Intake)
	o.Draft = draft.NewOffice(store, now, with.Drafts, with.Reader, turns, o.Audit, o.Setting, o.Assess, o.Intake, o.Edit)
	o.Load = load.NewOffice(store, now, with.Drafts, turns, o.Audit, o.Assess, o.Intake, o.Draft)
	o.Feed = feed.NewOffice(store, now, o.Setting, o.Intake, o.Edit, o.Assess)
	o.Publish = publish.NewOffice(store, now, o.Audit, o.Setting, o.Assess, o.Plan, o.Explain, o.Gather)
	o.Mailing = mailing.NewOffice(store, now, with.Outbox, with.Print, o.Audit, o.Setting, o.Letter, o.Report)
	return o
}

// Settle ends the loads under way and waits for what is still to be written or computed, until the context ends.
func (o *Office) Settle(ctx context.Context) {
	o.Load.Settle(ctx)
	o.Account.Settle()
	o.Assess.Settle()
}
