package people

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
	"turret/internal/core/money"
	"turret/internal/record"
)

// Store keeps what planning people needs.
type Store interface {
	Asks(ctx context.Context) ([]Request, error)
	KeepAsk(ctx context.Context, r Request) error
	// Do keeps all that f writes by its context, or nothing of it.
	Do(ctx context.Context, f func(context.Context) error) error
}

// ErrAnswered tells that a request was answered meanwhile.
var ErrAnswered = errors.New("it was answered meanwhile")

// RequestState is what became of a request.
type RequestState string

// The states of a request. Somebody asked for is assigned once it is agreed.
const (
	Asked   RequestState = "asked"
	Agreed  RequestState = "agreed"
	Offered RequestState = "offered"
	Refused RequestState = "refused"
	Retired RequestState = "taken back"
)

// Request asks for a person, or for anybody of a role, for a project. Like parts of sheets its rows never change.
type Request struct {
	ID, Of            int64 // its own number, and that which all its states share
	Project           string
	Person, Role      string // one of them
	From, To          calendar.Date
	Percent           int64 // hundredths of a percent of a working day
	Note              string
	State             RequestState
	Asker, AskerLogin string
	Who, Answer       string // of the last answer
	Offer             string // code of the person offered instead
	At                time.Time
}

// Open reports whether somebody has to do something about it.
func (r *Request) Open() bool { return r.State == Asked || r.State == Offered }

// MayAnswer reports whether the one who asks gives people to projects.
func MayAnswer(ctx context.Context) bool {
	_, err := access.Permit(ctx, access.Judge)
	return err == nil
}

// Requests are those of projects that the one who asks sees, open ones first, the oldest before the others.
func (o *Office) Requests(ctx context.Context, a *assess.Assessment) ([]Request, error) {
	if err := MayName(ctx); err != nil {
		return nil, err
	}
	list, err := o.store.Asks(ctx)
	list = slices.DeleteFunc(list, func(r Request) bool { return a.ByCode[r.Project] == nil })
	slices.SortStableFunc(list, func(x, y Request) int {
		switch {
		case x.Open() == y.Open():
			return int(x.Of - y.Of)
		case x.Open():
			return -1
		}
		return 1
	})
	return list, err
}

// mostPercent bounds what is asked of somebody, in hundredths of a percent.
const mostPercent = 1000 * 100

// Ask asks for a person, or for anybody of a role.
func (o *Office) Ask(ctx context.Context, a *assess.Assessment, r Request) error {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return err
	}
	if _, err := a.Project(r.Project); err != nil {
		return err
	}
	switch {
	case (r.Person == "") == (r.Role == ""):
		return fault.Field("who", strings.TrimSpace(r.Person+" "+r.Role), "a person, or a role")
	case r.Person != "" && find(a, r.Person) < 0:
		return fault.Field("who", fault.Clip(r.Person, 40), "a person of the register")
	case r.From == 0 || r.To < r.From:
		return fault.Field("to", r.To.String(), "a day on or after the first one")
	case r.Percent <= 0 || r.Percent > mostPercent:
		return fault.Field("percent", money.Plain(r.Percent, 2), "more than 0, and at most 1000 % of a day")
	case utf8.RuneCountInString(r.Note) > mostNote:
		return fault.Field("note", fault.Clip(r.Note, 40), fmt.Sprintf("at most %d letters", mostNote))
	}
	r.ID, r.Of, r.State, r.Asker, r.AskerLogin, r.Who, r.At = 0, 0, Asked, actor.Name, actor.Login, actor.Name, o.now()
	return o.store.KeepAsk(ctx, r)
}

const mostNote = 500

func find(a *assess.Assessment, code string) int {
	return slices.IndexFunc(a.People, func(p capacity.Person) bool { return p.Code == code })
}

// Reply is what is said to a request.
type Reply struct {
	ID     int64 // of the request as it was seen
	State  RequestState
	Offer  string // code of somebody else, where one is offered, or of whoever is given where a role was asked for
	Answer string
}

// Answer answers a request. Whoever gives people agrees, which assigns the person, offers somebody else, or refuses with a reason; whoever
// asked agrees to an offer, or takes the request back.
func (o *Office) Answer(ctx context.Context, a *assess.Assessment, y Reply) (*Request, *intake.Receipt, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return nil, nil, err
	}
	list, err := o.Requests(ctx, a)
	if err != nil {
		return nil, nil, err
	}
	i := slices.IndexFunc(list, func(r Request) bool { return r.ID == y.ID })
	if i < 0 || !list[i].Open() {
		return nil, nil, fmt.Errorf("%w: %w", fault.ErrRefused, ErrAnswered)
	}
	r := list[i]
	gives, own := MayAnswer(ctx), r.AskerLogin == actor.Login
	y.Answer = strings.TrimSpace(y.Answer)
	switch {
	case y.State == Retired && own, y.State == Agreed && (gives && r.State == Asked || own && r.State == Offered), y.State == Offered &&
		gives:
	case y.State == Refused && gives:
		if y.Answer == "" {
			return nil, nil, fault.Field("answer", "", "why not")
		}
	default:
		return nil, nil, fmt.Errorf("answering a request as %s: %w", y.State, access.ErrForbidden)
	}
	if utf8.RuneCountInString(y.Answer) > mostNote {
		return nil, nil, fault.Field("answer", fault.Clip(y.Answer, 40), fmt.Sprintf("at most %d letters", mostNote))
	}
	if y.Offer != "" && find(a, y.Offer) < 0 || y.State == Offered && y.Offer == "" {
		return nil, nil, fault.Field("who", fault.Clip(y.Offer, 40), "a person of the register")
	}
	if y.Offer != "" {
		r.Offer = y.Offer
	}
	r.State, r.Answer, r.Who, r.At = y.State, y.Answer, actor.Name, o.now()
	var receipt *intake.Receipt
	err = o.store.Do(ctx, func(ctx context.Context) error {
		if err := o.store.KeepAsk(ctx, r); err != nil || r.State != Agreed {
			return err
		}
		receipt, err = o.assign(ctx, &r)
		return err
	})
	if errors.Is(err, ErrAnswered) {
		err = fmt.Errorf("%w: %w", fault.ErrRefused, err)
	}
	if err != nil {
		return nil, nil, err
	}
	return &r, receipt, nil
}

// assign makes an assignment of a request that is agreed. It is given by whoever may, so that the lead who asked need not be asked for
// assignments.
func (o *Office) assign(ctx context.Context, r *Request) (*intake.Receipt, error) {
	cells := make([]string, len(record.Assignments.Input().Columns))
	put := func(name, value string) {
		cells[slices.IndexFunc(record.Assignments.Input().Columns, func(c record.Column) bool { return c.Name == name })] = value
	}
	switch {
	case r.Offer != "":
		put("person", r.Offer)
	case r.Person != "":
		put("person", r.Person)
	default:
		put("role", r.Role)
	}
	put("project", r.Project)
	put("from", r.From.String())
	put("to", r.To.String())
	put("percent", money.Plain(r.Percent, 2))
	return o.edit.SaveGridBecause(access.Lend(ctx), record.Assignments, r.Project, []intake.Edited{{New: cells}},
		fault.Clip(fmt.Sprintf("asked for by %s, agreed by %s. %s", r.Asker, r.Who, r.Note), fault.MaxPlanReason))
}

// StaffNow are the people with what all projects want of them, proposals left out.
func StaffNow(a *assess.Assessment) *capacity.Staff { return assess.StaffOf(a, a.All, false) }

// With is how full somebody would be with a request: the first day of the fullest week, and its load; none where nothing is there.
func With(a *assess.Assessment, r *Request, code string) (calendar.Date, float64) {
	who := find(a, code)
	if who < 0 {
		return 0, 0
	}
	staff := assess.StaffOf(a, a.All, false)
	staff.Assigned = slices.DeleteFunc(staff.Assigned, func(x capacity.Assignment) bool { return x.Person != int32(who) })
	staff.Assigned = append(staff.Assigned, capacity.Assignment{Person: int32(who), Project: int32(a.Index(r.Project)), From: r.From,
		To:      r.To,
		Percent: r.Percent})
	spans := capacity.Weeks(r.From, min(r.To, r.From+7*mostWeeks))
	var at calendar.Date
	worst := 0.0
	for _, row := range capacity.Table(assess.CapacityOf(a), staff, capacity.ByPerson, spans) {
		if load := row.Load(); row.Name == code && load.Given() && load.Float() > worst {
			at, worst = spans[row.Span].First, load.Float()
		}
	}
	return at, worst
}
