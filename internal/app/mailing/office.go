// Package mailing holds who gets which report, and sends it when it is due.
package mailing

import (
	"context"
	"time"

	"turret/internal/app/account"
	"turret/internal/app/audit"
	"turret/internal/app/kept"
	"turret/internal/app/letter"
	"turret/internal/app/report"
	"turret/internal/app/setting"
)

// Store keeps what mailing needs.
type Store interface {
	Accounts(ctx context.Context) ([]account.Account, error)
	// ClaimSending writes down that something is about to be sent; not claimed where it was for this occasion already. What was claimed
	// before stale and is Unfinished is claimed again, and s.At is then when it was first.
	ClaimSending(ctx context.Context, s *Sending, stale time.Time) (claimed, again bool, err error)
	// Closings lists every closing in its order, also of periods reopened since.
	Closings(ctx context.Context) ([]kept.Period, error)
	EndMailing(ctx context.Context, id int64, at time.Time, e kept.Entry) error
	// Mailings lists who gets which report, by name; SaveMailing keeps one in the place of a former one (0 for none).
	Mailings(ctx context.Context) ([]Mailing, error)
	SaveMailing(ctx context.Context, m Mailing, former int64, e kept.Entry) error
	SaveOpening(ctx context.Context, sending int64, who string, at time.Time) error
	// SaveSending completes it with what came of it.
	SaveSending(ctx context.Context, s *Sending, e kept.Entry) error
	// Sendings lists what was sent, newest first; only one where an id is given.
	Sendings(ctx context.Context, id int64, limit int) ([]Sending, error)
}

// Office is the door to reports that are sent. It is safe for concurrent use.
type Office struct {
	store Store
	now   func() time.Time
	mail  letter.Outbox
	print Printer

	audit   *audit.Office
	setting *setting.Office
	letter  *letter.Office
	report  *report.Office
}

// NewOffice makes the door to reports that are sent.
func NewOffice(store Store, now func() time.Time, mail letter.Outbox, print Printer, audit *audit.Office, setting *setting.Office,
	letter *letter.Office, report *report.Office) *Office {
	return &Office{store: store, now: now, mail: mail, print: print, audit: audit, setting: setting, letter: letter, report: report}
}
