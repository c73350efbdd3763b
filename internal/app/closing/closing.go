// Package closing says what must be done before a project is closed, and closes it.
package closing

import (
	"context"
	"fmt"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/kept"
	"turret/internal/app/say"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/measure"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// Part is a part of what must be done.
type Part string

// The parts, in their order.
const (
	Work        Part = "work"
	Actions     Part = "actions"
	Issues      Part = "issues"
	Risks       Part = "risks"
	Decisions   Part = "decisions"
	Accruals    Part = "accruals"
	Commitments Part = "commitments"
	Forecast    Part = "forecast"
	Benefits    Part = "benefits"
	People      Part = "people"
	Lessons     Part = "lessons"
)

// Item is one thing to be done before a project is closed.
type Item struct {
	Part Part
	Says string   // what is asked for
	Left []string // what is still to be done, each in words; empty where nothing is
}

// List is what closing a project asks for.
type List struct {
	Project *measure.Project
	Items   []Item
	Hidden  bool // items of money are left out, since costs are kept from the reader
}

// Left counts the items that are not done.
func (l *List) Left() (n int) {
	for i := range l.Items {
		if len(l.Items[i].Left) > 0 {
			n++
		}
	}
	return n
}

// Of lists what closing a project asks for, as it stands on the day assessed.
func Of(ctx context.Context, a *assess.Assessment, p *measure.Project) (*List, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	l := &List{Project: p, Hidden: a.NoMoney}
	asOf := a.Env.AsOf
	l.add(Work, "Finish what is in its plan", unfinished(p, asOf))
	l.add(Actions, "Close its actions", open(p.Actions, func(x *risk.Action) bool { return x.Open(asOf) },
		func(x *risk.Action) string { return say.Named(x.Code, x.Title) }))
	l.add(Issues, "Close its issues", open(p.Issues, func(x *risk.Issue) bool { return x.Open(asOf) },
		func(x *risk.Issue) string { return say.Named(x.Code, x.Title) }))
	l.add(Risks, "Close its risks", open(p.Risks, func(x *risk.Risk) bool { return x.Open(asOf) },
		func(x *risk.Risk) string { return say.Named(x.Code, x.Title) }))
	l.add(Decisions, "Take the decisions asked for", open(p.Decisions, func(x *risk.Decision) bool { return x.Open(asOf) },
		func(x *risk.Decision) string { return say.Named(x.Code, x.Title) }))
	if !a.NoMoney {
		if err := l.orders(ctx, a, p); err != nil {
			return nil, err
		}
		l.add(Forecast, "Send a last forecast that expects nothing more", expected(a, p))
	}
	l.add(Benefits, "Give each benefit to come an owner", unowned(p, asOf))
	l.add(People, "Free who is booked on it", booked(p, asOf))
	lessons, err := a.Reading.Rows(ctx, record.Lessons, kept.Selection{Projects: []int64{p.ID}, Limit: 1})
	if err != nil {
		return nil, err
	}
	var none []string
	if lessons.Len() == 0 {
		none = []string{"none is written down"}
	}
	l.add(Lessons, "Write down what was learned", none)
	return l, nil
}

func (l *List) add(part Part, says string, left []string) {
	l.Items = append(l.Items, Item{Part: part, Says: says, Left: left})
}

func unfinished(p *measure.Project, asOf calendar.Date) (list []string) {
	for i := range p.Activities {
		if a := &p.Activities[i]; a.Kind != schedule.Summary && !a.Withdrawn() && !a.Done(asOf) {
			list = append(list, say.Named(a.Code, a.Name))
		}
	}
	return list
}

// open lists the records of a register that are open.
func open[T any](records []T, isOpen func(*T) bool, name func(*T) string) (list []string) {
	for i := range records {
		if isOpen(&records[i]) {
			list = append(list, name(&records[i]))
		}
	}
	return list
}

// orders tells what is ordered and not invoiced: what is due by now is to be accrued, the rest to be taken or cancelled.
func (l *List) orders(ctx context.Context, a *assess.Assessment, p *measure.Project) error {
	var due, later []string
	err := a.Reading.Commitments(ctx, []int64{p.ID}, func(_ int64, c cost.Commitment) {
		if c.Amount == 0 {
			return
		}
		text := fmt.Sprintf("%s, %s", c.Document, c.Amount.Human(c.Currency))
		if c.Supplier != "" {
			text += ", " + c.Supplier
		}
		if c.Due != 0 && c.Due <= a.Env.AsOf {
			due = append(due, text+", due "+c.Due.Human())
		} else {
			later = append(later, text)
		}
	})
	l.add(Accruals, "Accrue what is due and not invoiced", due)
	l.add(Commitments, "Settle the other orders", later)
	return err
}

// expected tells what the forecast still expects.
func expected(a *assess.Assessment, p *measure.Project) []string {
	v := p.Value(measure.ForecastToGo)
	switch {
	case !v.Known:
		return []string{v.Reason}
	case v.N != 0:
		return []string{v.Amount().Human(a.Env.Currency) + " to go"}
	}
	return nil
}

// unowned lists the benefits with months to come that nobody answers for.
func unowned(p *measure.Project, asOf calendar.Date) (list []string) {
	told := map[string]bool{}
	for i := range p.Benefits {
		b := &p.Benefits[i]
		if b.Month > asOf.Month() && b.Owner == "" && !told[b.Code] {
			told[b.Code] = true
			list = append(list, say.Named(b.Code, b.Name))
		}
	}
	return list
}

// booked lists who is assigned to the project after a day.
func booked(p *measure.Project, asOf calendar.Date) (list []string) {
	for i := range p.Shares {
		if s := &p.Shares[i]; s.To > asOf {
			list = append(list, fmt.Sprintf("%s until %s", s.Who, s.To.Human()))
		}
	}
	return list
}
