package explain

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/app/letter"
	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
)

// Remark is what the office and a lead say to each other about a project in a period. One that asks stands open until it is answered.
type Remark struct {
	ID         int64
	Project    int64
	Period     calendar.Period
	Part       string // a dimension, or done: the lead has finished with the period
	Text       string
	Asks       bool
	Who, Login string
	At         time.Time
	AnsweredAt time.Time
	AnsweredBy string
}

// DonePart is the part of a remark by which a lead says that everything for the period is sent.
const DonePart = "done"

// Open reports whether the remark waits for an answer.
func (r *Remark) Open() bool { return r.Asks && r.AnsweredAt.IsZero() }

// maxRemark bounds a remark, in characters.
const maxRemark = 2000

// Remarks lists what was said about a project in the period assessed, in its order.
func (o *Office) Remarks(ctx context.Context, a *assess.Assessment, code string) ([]Remark, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	p, err := a.Project(code)
	if err != nil {
		return nil, err
	}
	list, err := o.store.Remarks(ctx, a.Env.Period(), []int64{p.ID})
	return slices.DeleteFunc(list, func(r Remark) bool { return a.NoMoney && r.Part == health.Cost.String() }), err
}

// Asked are the remarks that wait for an answer in the period assessed, of the projects that the one who asks sees.
func (o *Office) Asked(ctx context.Context, a *assess.Assessment) ([]Remark, map[int64]*measure.Project, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, nil, err
	}
	list, err := o.store.Remarks(ctx, a.Env.Period(), nil)
	if err != nil {
		return nil, nil, err
	}
	by := make(map[int64]*measure.Project, len(a.Projects))
	for _, p := range a.Projects {
		by[p.ID] = p
	}
	return slices.DeleteFunc(list, func(r Remark) bool {
		return !r.Open() || by[r.Project] == nil || a.NoMoney && r.Part == health.Cost.String()
	}), by, nil
}

// Say keeps a remark about a project; asking is for those who judge, and writes to the lead. answers is the number of the remark that it
// answers, 0 for none.
func (o *Office) Say(ctx context.Context, a *assess.Assessment, code string, r Remark, answers int64) error {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return err
	}
	if r.Asks {
		if _, err := access.Permit(ctx, access.Judge); err != nil {
			return err
		}
	}
	p, err := a.Project(code)
	if err != nil {
		return err
	}
	if a.Closed != nil {
		return fault.Conflict("%s is closed: what was said about it stays", a.Closed.Span.Name())
	}
	_, known := health.ParseDimension(r.Part)
	if !known && r.Part != DonePart {
		return fault.Field("part", r.Part, "a dimension of health, or done")
	}
	r.Text = strings.TrimSpace(strings.ReplaceAll(r.Text, "\r\n", "\n"))
	if r.Part == DonePart && r.Text == "" {
		r.Text = "Everything for " + a.Env.Period().Name() + " is sent."
	}
	if n := len([]rune(r.Text)); n == 0 || n > maxRemark {
		return fault.Field("remark", fault.Clip(r.Text, 60), fmt.Sprintf("1 to %d characters", maxRemark))
	}
	r.Project, r.Period, r.Who, r.Login, r.At = p.ID, a.Env.Period(), actor.Name, actor.Login, o.now()
	act := "say"
	if r.Asks {
		act = "ask back"
	}
	err = o.store.SaveRemark(ctx, r, answers, o.audit.Entry(ctx, act, code+" "+r.Period.String(), "", r.Part))
	if errors.Is(err, fault.ErrConflict) {
		return &fault.StateError{Says: "That was answered meanwhile"}
	}
	if err != nil || !r.Asks || o.mail == nil {
		return err
	}
	return o.askLead(ctx, p, &r)
}

// askLead writes to the lead of a project what is asked.
func (o *Office) askLead(ctx context.Context, p *measure.Project, r *Remark) error {
	addresses, err := o.letter.Addresses(ctx)
	if err != nil || addresses[p.Lead] == "" {
		return err
	}
	settings, err := o.setting.Now(ctx)
	if err != nil {
		return err
	}
	at := letter.Home
	if settings.Address != "" {
		at = settings.Address
	}
	_, err = o.letter.Put(ctx, letter.Message{To: addresses[p.Lead], At: r.At, Subject: fmt.Sprintf("%s, %s: a question about %s", p.Code,
		r.Period.Name(), r.Part),
		Text: fmt.Sprintf("Dear %s,\n\nabout %s %s, %s:\n\n%s\n\nPlease answer here:\n\n%s/projects/%s/explain?asof=%s\n\n%s\n",
			p.Lead, p.Code, p.Name, r.Part, r.Text, at, p.Code, r.Period.Last(), letter.Signature(access.ActorOf(ctx), settings))})
	return err
}

// History lists every text that was written to a project in the period assessed, oldest first.
func (o *Office) History(ctx context.Context, a *assess.Assessment, code string) ([]kept.Commentary, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	p, err := a.Project(code)
	if err != nil {
		return nil, err
	}
	list, err := o.store.CommentaryHistory(ctx, p.ID, a.Env.Period(), a.Known())
	if w, ok := assess.SentWords(p, a.Env.Period()); ok {
		list = slices.Insert(list, 0, kept.Commentary{On: w.On, Text: w.Text, Who: w.Who, Period: a.Env.Period()})
	}
	return slices.DeleteFunc(list, func(c kept.Commentary) bool { return a.NoMoney && c.On == health.Cost }), err
}
