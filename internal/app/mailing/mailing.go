package mailing

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"turret/internal/app/access"
	"turret/internal/app/account"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/letter"
	"turret/internal/core/calendar"

	appreport "turret/internal/app/report"
	"turret/internal/app/setting"
)

// Mailing is a list: who gets which report, in which form, and when.
type Mailing struct {
	ID     int64
	Name   string
	Report string // key of one that ships, or number of one that is kept
	Format string // of ReportFormats
	Attach bool   // with the message; else only linked
	Day    int    // of each month; 0 is whenever a period is closed
	Logins []string
	Roles  []access.Role
	Who    string
	At     time.Time // days of months before it was made are not sent for
	After  int64     // serial of the last closing when it was made; those after it are sent for
}

// ReportFormats are the forms in which reports are written.
func ReportFormats() []string { return []string{"pdf", "html", "xlsx", "csv"} }

// Sending is a message of a list to one person.
type Sending struct {
	ID                 int64
	Mailing            int64
	List               string // its name
	Occasion           string // what for: a closing, a month, or by hand
	Login, Name, Email string
	Report             string // its name
	AsOf               calendar.Date
	File, Kept         string // the message, and what it brings or links to
	Failed             string // why it could not be sent
	At                 time.Time
	Opened             time.Time // first by the one it was sent to; zero for not yet
	Openings           int
}

// Printer writes a report in a form and tells the ending and media type of its file.
type Printer func(w io.Writer, format string, c *appreport.Content) (ending, media string, err error)

const maxMailings = 100

// List lists who gets which report.
func (o *Office) List(ctx context.Context) ([]Mailing, error) {
	if _, err := access.PermitWhole(ctx, access.Publish); err != nil {
		return nil, err
	}
	return o.store.Mailings(ctx)
}

// Recipients are the people whom lists can name, by name.
func (o *Office) Recipients(ctx context.Context) ([]account.Account, error) {
	if _, err := access.PermitWhole(ctx, access.Publish); err != nil {
		return nil, err
	}
	list, err := o.store.Accounts(ctx)
	list = slices.DeleteFunc(list, func(a account.Account) bool { return !a.Active })
	slices.SortFunc(list, func(a, b account.Account) int { return cmp.Compare(a.Name, b.Name) })
	return list, err
}

// Save keeps a list, in the place of the one of its name. One that names nobody, or a report that cannot be had, is a FieldError.
func (o *Office) Save(ctx context.Context, m Mailing) error {
	actor, err := access.PermitWhole(ctx, access.Publish)
	if err != nil {
		return err
	}
	if err := o.checkMailing(ctx, &m); err != nil {
		return err
	}
	list, err := o.store.Mailings(ctx)
	if err != nil {
		return err
	}
	var former int64
	for _, x := range list {
		if x.Name == m.Name {
			former = x.ID
		}
	}
	if former == 0 && len(list) >= maxMailings {
		return fault.Field("name", m.Name, fmt.Sprintf("at most %d lists", maxMailings))
	}
	closings, err := o.store.Closings(ctx)
	if err != nil {
		return err
	}
	for i := range closings {
		m.After = max(m.After, closings[i].Serial)
	}
	m.Who, m.At = actor.Name, o.now()
	return o.store.SaveMailing(ctx, m, former, o.audit.Entry(ctx, "send reports", m.Name, "", m.says()))
}

func (o *Office) checkMailing(ctx context.Context, m *Mailing) error {
	m.Name = strings.TrimSpace(m.Name)
	switch {
	case m.Name == "" || utf8.RuneCountInString(m.Name) > 80:
		return fault.Field("name", m.Name, "a name of at most 80 characters")
	case m.Day < 0 || m.Day > 31:
		return fault.Field("day", fmt.Sprint(m.Day), "a day of the month, 1 to 31")
	case !slices.Contains(ReportFormats(), m.Format):
		return fault.Field("form", m.Format, "one of "+strings.Join(ReportFormats(), ", "))
	case len(m.Logins)+len(m.Roles) == 0:
		return fault.Field("to", "", "at least one person or role")
	}
	for _, r := range m.Roles {
		if !slices.Contains(access.Roles(), r) {
			return fault.Field("role", string(r), fmt.Sprint("one of ", access.Roles()))
		}
	}
	accounts, err := o.store.Accounts(ctx)
	if err != nil {
		return err
	}
	for _, login := range m.Logins {
		if !slices.ContainsFunc(accounts, func(a account.Account) bool { return a.Login == login }) {
			return fault.Field("to", login, "the login of a person under Setup, People")
		}
	}
	switch r, err := o.report.Get(ctx, m.Report); {
	case errors.Is(err, fault.ErrNotFound):
		return fault.Field("report", m.Report, "a report that ships or is kept")
	case err != nil:
		return err
	case r.Key == "" && !r.Shared:
		return fault.Field("report", r.Name, "a report that is kept for all to use")
	}
	return nil
}

// says tells a list in the trail.
func (m *Mailing) says() string {
	when := "when a period is closed"
	if m.Day > 0 {
		when = fmt.Sprintf("on day %d of the month", m.Day)
	}
	to := slices.Clone(m.Logins)
	for _, r := range m.Roles {
		to = append(to, "all of "+string(r))
	}
	return fmt.Sprintf("%s as %s, %s, to %s", m.Report, m.Format, when, strings.Join(to, ", "))
}

// End ends a list; what it sent stays.
func (o *Office) End(ctx context.Context, id int64) error {
	if _, err := access.PermitWhole(ctx, access.Publish); err != nil {
		return err
	}
	return o.store.EndMailing(ctx, id, o.now(), o.audit.Entry(ctx, "send reports no longer", fmt.Sprint("list ", id), "", ""))
}

// occasion is what a list is sent for.
type occasion struct {
	name string
	asOf calendar.Date
}

// Unfinished is what stands in the place of a failure while something is being sent, and for ever where the office ended then and
// nothing sent it again.
const Unfinished = "not finished"

// longestSending is how long one sending may take: after that it is not being sent any more.
const longestSending = 10 * time.Minute

// SendDue sends what has come due by a day: lists for each period closed since they were made, and those whose day of this month has
// come. What was sent for an occasion once is not sent for it again. It returns what it sent, failures among it.
func (o *Office) SendDue(ctx context.Context, today calendar.Date) ([]Sending, error) {
	return o.sendDue(ctx, today, "")
}

// HoldDue writes down what has come due as not sent, so that it is not sent later either.
func (o *Office) HoldDue(ctx context.Context, today calendar.Date) ([]Sending, error) {
	return o.sendDue(ctx, today, "held back: the period was closed without sending")
}

// OnClosing are the names of those to whom reports go when a period is closed.
func (o *Office) OnClosing(ctx context.Context) ([]string, error) {
	list, err := o.List(ctx)
	if err != nil {
		return nil, err
	}
	accounts, err := o.store.Accounts(ctx)
	if err != nil {
		return nil, err
	}
	var names []string
	for i := range accounts {
		a := &accounts[i]
		if a.Active && slices.ContainsFunc(list, func(m Mailing) bool { return m.Day == 0 && m.reaches(a) }) {
			names = append(names, a.Name)
		}
	}
	return names, nil
}

func (m *Mailing) reaches(a *account.Account) bool {
	return slices.Contains(m.Logins, a.Login) || slices.Contains(m.Roles, a.Role)
}

// sendDue sends what has come due, or writes down why it is held back.
func (o *Office) sendDue(ctx context.Context, today calendar.Date, held string) ([]Sending, error) {
	if _, err := access.PermitWhole(ctx, access.Publish); err != nil {
		return nil, err
	}
	list, err := o.store.Mailings(ctx)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	closings, err := o.store.Closings(ctx)
	if err != nil {
		return nil, err
	}
	settings, err := o.setting.Now(ctx)
	if err != nil {
		return nil, err
	}
	var sent []Sending
	for i := range list {
		for _, due := range list[i].due(closings, today, settings.Cycle()) {
			part, err := o.send(ctx, &list[i], due, held)
			sent = append(sent, part...)
			if err != nil {
				return sent, err
			}
		}
	}
	return sent, nil
}

// repeats reports whether a period was closed before with the very figures of this closing, which were sent then.
func repeats(before []kept.Period, p *kept.Period) bool {
	return slices.ContainsFunc(before, func(x kept.Period) bool { return x.Span == p.Span && x.Digest == p.Digest })
}

func (m *Mailing) due(closings []kept.Period, today calendar.Date, cycle calendar.Cycle) []occasion {
	if m.Day > 0 {
		month := today.Month()
		day := min(month.First()+calendar.Date(m.Day-1), month.Last())
		if today < day || day < setting.DayOf(m.At) {
			return nil
		}
		return []occasion{{month.String(), (cycle.Of(today) - 1).Last()}}
	}
	var list []occasion
	for i := range closings {
		if p := &closings[i]; !p.Reopened() && p.Serial > m.After && !repeats(closings[:i], p) {
			list = append(list, occasion{fmt.Sprintf("%s issue %d", p.Span, p.Issue), p.AsOf})
		}
	}
	return list
}

// SendNow sends a list by hand, as of a day.
func (o *Office) SendNow(ctx context.Context, id int64, asOf calendar.Date) ([]Sending, error) {
	if _, err := access.PermitWhole(ctx, access.Publish); err != nil {
		return nil, err
	}
	list, err := o.store.Mailings(ctx)
	if err != nil {
		return nil, err
	}
	for i := range list {
		if list[i].ID == id {
			return o.send(ctx, &list[i], occasion{"by hand " + o.now().UTC().Format("2006-01-02 15:04:05"), asOf}, "")
		}
	}
	return nil, fmt.Errorf("list %d: %w", id, fault.ErrNotFound)
}

// printed is a report as people who see the same get it.
type printed struct {
	report, ending, media, kept string
	asOf                        calendar.Date
	bytes                       []byte
	err                         error
}

// send writes to everybody on a list. Who sees the same gets the same file.
func (o *Office) send(ctx context.Context, m *Mailing, why occasion, held string) ([]Sending, error) {
	accounts, err := o.store.Accounts(ctx)
	if err != nil {
		return nil, err
	}
	settings, err := o.setting.Now(ctx)
	if err != nil {
		return nil, err
	}
	report, gone := o.report.Get(ctx, m.Report)
	if gone != nil {
		report = &appreport.Report{Name: m.Report}
	}
	made := map[string]*printed{}
	var sent []Sending
	for i := range accounts {
		a := &accounts[i]
		if !a.Active || !m.reaches(a) {
			continue
		}
		s := Sending{List: m.Name, Occasion: why.name, Login: a.Login, Name: a.Name, Email: a.Email, Report: report.Name, AsOf: why.asOf,
			At: o.now()}
		claimed, again, err := o.store.ClaimSending(ctx, &s, s.At.Add(-longestSending))
		if err != nil {
			return sent, err
		}
		if !claimed {
			continue
		}
		p := &printed{err: gone}
		if gone == nil && held == "" {
			p = o.printFor(ctx, a, report, m.Format, why.asOf, made)
		}
		if s.Failed = cmp.Or(held, failing(a, p)); s.Failed == "" {
			s.Kept, s.AsOf = p.kept, p.asOf
			if s.File, err = o.put(ctx, letterWith(&s, m, p, settings, access.ActorOf(ctx)), again); err != nil {
				s.Failed = err.Error()
			}
		}
		if err := o.store.SaveSending(ctx, &s, o.audit.Entry(ctx, "send a report", a.Login, "", s.Report+" for "+s.Occasion)); err != nil {
			return sent, err
		}
		sent = append(sent, s)
	}
	return sent, nil
}

// put writes a message, unless it is one that was begun before and stands in the outbox already.
func (o *Office) put(ctx context.Context, m letter.Message, again bool) (string, error) {
	if !again {
		return o.letter.Put(ctx, m)
	}
	list, err := o.mail.List()
	if err != nil {
		return "", err
	}
	for i := range list {
		if x := &list[i]; x.To == m.To && x.Subject == m.Subject && x.At.Unix() == m.At.Unix() {
			return x.File, nil
		}
	}
	return o.letter.Put(ctx, m)
}

func failing(a *account.Account, p *printed) string {
	switch {
	case a.Email == "":
		return "no address is known"
	case p.err != nil:
		return p.err.Error()
	}
	return ""
}

// printFor makes a report as an account sees it, once for all that see the same.
func (o *Office) printFor(ctx context.Context, a *account.Account, r *appreport.Report, format string, asOf calendar.Date,
	made map[string]*printed) *printed {
	actor := a.Actor()
	key := fmt.Sprint(actor.HideMoney, actor.Scopes, actor.Role == access.Lead)
	if actor.Role == access.Lead {
		key += actor.Name
	}
	if p := made[key]; p != nil {
		return p
	}
	p := &printed{report: r.Name, asOf: asOf}
	made[key] = p
	c, err := o.report.Content(access.As(ctx, actor), r, asOf)
	if err != nil {
		p.err = err
		return p
	}
	var b strings.Builder
	p.asOf = c.Env.AsOf
	if p.ending, p.media, p.err = o.print(&b, format, c); p.err != nil {
		return p
	}
	p.bytes = []byte(b.String())
	p.kept, p.err = o.mail.Keep(p.ending, p.bytes)
	return p
}

func letterWith(s *Sending, m *Mailing, p *printed, set *setting.Settings, from *access.Actor) letter.Message {
	to := fmt.Sprintf("%s/sent/%d", cmp.Or(set.Address, letter.Home), s.ID)
	text := fmt.Sprintf("Dear %s,\n\n%s as of %s", s.Name, s.Report, s.AsOf.Human())
	msg := letter.Message{To: s.Email, At: s.At, Subject: s.Report + ", " + set.Cycle().Of(s.AsOf).Name()}
	if m.Attach {
		name := strings.ReplaceAll(strings.ToLower(s.Report), " ", "-") + "-" + s.AsOf.String() + p.ending
		msg.Attached = []letter.Attachment{{Name: name, Media: p.media, Bytes: p.bytes}}
		text += " is attached. It can be read here as well:\n\n"
	} else {
		text += " is here:\n\n"
	}
	msg.Text = text + to + "\n\n" + letter.Signature(from, set) + "\n"
	return msg
}

// Sent lists what was sent, newest first.
func (o *Office) Sent(ctx context.Context, limit int) ([]Sending, error) {
	if _, err := access.PermitWhole(ctx, access.Publish); err != nil {
		return nil, err
	}
	return o.store.Sendings(ctx, 0, limit)
}

// OpenSent reads what was sent, for the one it was sent to, which is written down, or for those who send reports. To others it is as if
// it were not there.
func (o *Office) OpenSent(ctx context.Context, id int64) (*Sending, []byte, error) {
	actor, err := access.Permit(ctx, access.Read)
	if err != nil {
		return nil, nil, err
	}
	list, err := o.store.Sendings(ctx, id, 1)
	if err != nil {
		return nil, nil, err
	}
	if len(list) == 0 || list[0].Kept == "" || list[0].Login != actor.Login && !actor.MayWhole(access.Publish) {
		return nil, nil, fmt.Errorf("report %d that was sent: %w", id, fault.ErrNotFound)
	}
	b, err := o.mail.Kept(list[0].Kept)
	if err != nil {
		return nil, nil, err
	}
	if list[0].Login == actor.Login {
		err = o.store.SaveOpening(ctx, id, actor.Name, o.now())
	}
	return &list[0], b, err
}
