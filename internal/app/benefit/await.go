package benefit

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/audit"
	"turret/internal/app/letter"
	core "turret/internal/core/benefit"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/money"
	"turret/internal/core/write"
)

// Reminding is the act that the trail names a reminder by; its subject is the project with the code of the benefit.
const Reminding = "remind of a benefit"

// Awaited is a benefit of which its owner is asked what came.
type Awaited struct {
	Project           *measure.Project
	Code, Name, Owner string
	First             *core.Benefit // its first month, which tells what it is counted in
	core.Awaiting
	Reminded int       // how often
	Last     time.Time // the last time; zero for never
}

// Amount writes an amount of a benefit: money in its currency, else in its unit.
func Amount(a money.Amount, b *core.Benefit) string {
	if b.InMoney() {
		return a.Human(b.Currency)
	}
	return write.Trimmed(int64(a), b.Currency.Decimals()) + " " + b.Unit
}

// Says tells what is asked for, in a sentence.
func (x *Awaited) Says() string {
	var list []string
	if x.Short() {
		list = append(list, Amount(x.Come, x.First)+" came of "+Amount(x.Due, x.First)+" that were due")
	}
	if n := len(x.Untold); n > 0 {
		text := "nothing is told of " + monthName(x.Untold[0])
		if n > 1 {
			text += " and " + write.Count(n-1, "month", "months") + " since"
		}
		list = append(list, text)
	}
	return strings.Join(list, "; ")
}

func monthName(m calendar.Month) string { return calendar.Period(m).Name() }

// Await lists the benefits of projects of which something is asked for, those that have waited longest first. Proposed projects bring
// nothing yet, and cancelled ones never do.
func (o *Office) Await(ctx context.Context, a *assess.Assessment, projects []*measure.Project) ([]Awaited, error) {
	if _, err := assess.PermitMoney(ctx, "read"); err != nil {
		return nil, err
	}
	reminded, err := o.reminded(ctx)
	if err != nil {
		return nil, err
	}
	var list []Awaited
	for _, p := range projects {
		if p.Status == measure.Proposed || p.Status == measure.Cancelled {
			continue
		}
		for _, months := range core.ByCode(p.Benefits) {
			first := months[0]
			x := Awaited{Project: p, Code: first.Code, Name: first.Name, Owner: a.Settings.OwnerOf(ownerOf(months)), First: first,
				Awaiting: core.Await(months, a.Env.AsOf)}
			if !x.Wanted() {
				continue
			}
			if list := reminded[subject(p.Code, x.Code)]; len(list) > 0 {
				x.Reminded, x.Last = len(list), list[0]
			}
			list = append(list, x)
		}
	}
	slices.SortStableFunc(list, func(x, y Awaited) int { return cmp.Compare(since(&x), since(&y)) })
	return list, nil
}

// ownerOf is who answers for the last month that names somebody.
func ownerOf(months []*core.Benefit) (owner string) {
	for _, b := range months {
		owner = cmp.Or(b.Owner, owner)
	}
	return owner
}

// since orders what is asked for: by the first month of which nothing is told, then by the month in which it was to begin.
func since(x *Awaited) calendar.Month {
	if len(x.Untold) > 0 {
		return x.Untold[0]
	}
	return x.First.Month
}

func subject(project, code string) string { return project + " " + code }

// reminded are the moments of reminders by what they were of, the last one first.
func (o *Office) reminded(ctx context.Context) (map[string][]time.Time, error) {
	list, err := o.store.Audit(ctx, audit.Query{Act: Reminding, Limit: mostReminders})
	by := map[string][]time.Time{}
	for i := range list {
		by[list[i].Subject] = append(by[list[i].Subject], list[i].At)
	}
	return by, err
}

// mostReminders bounds how many reminders are counted, the last ones.
const mostReminders = 5_000

// Remind writes to those who answer for what is asked for, a letter each. Amounts are not written to those from whom costs are kept.
func (o *Office) Remind(ctx context.Context, a *assess.Assessment, projects []*measure.Project) (*letter.Reminded, error) {
	actor, err := access.Permit(ctx, access.Remind)
	if err != nil {
		return nil, err
	}
	list, err := o.Await(ctx, a, projects)
	if err != nil {
		return nil, err
	}
	addresses, blind, err := o.letter.Reached(ctx)
	if err != nil {
		return nil, err
	}
	round := letter.NewRound[*Awaited](addresses)
	for i := range list {
		round.Tell(list[i].Owner, list[i].Project.Code, &list[i])
	}
	return round.Send(func(owner, to string, of []*Awaited) (m letter.Message, err error) {
		m = letterTo(owner, to, letter.Signature(actor, a.Settings), a.Env.AsOf, of, blind[owner], o.now())
		if m.File, err = o.letter.Put(ctx, m); err != nil {
			return m, err
		}
		for _, x := range of {
			if err := o.store.Note(ctx, o.audit.Entry(ctx, Reminding, subject(x.Project.Code, x.Code), "",
				owner+": "+m.Subject)); err != nil {
				return m, err
			}
		}
		return m, nil
	})
}

func letterTo(owner, to, from string, asOf calendar.Date, of []*Awaited, blind bool, at time.Time) letter.Message {
	var b strings.Builder
	fmt.Fprintf(&b, "%s,\n\nwhat came of these benefits, as of %s?\n", owner, asOf.Human())
	for _, x := range of {
		says := x.Says()
		if blind && x.First.InMoney() {
			says = "please tell what came"
		}
		fmt.Fprintf(&b, "\n%s %s\n  - %s: %s.", x.Project.Code, x.Project.Name, x.Name, says)
		if x.First.Proof != "" {
			fmt.Fprintf(&b, " Counted by: %s.", x.First.Proof)
		}
		if x.Reminded > 0 {
			fmt.Fprintf(&b, " You were asked %s before.", write.Count(x.Reminded, "time", "times"))
		}
		b.WriteString("\n")
	}
	fmt.Fprintf(&b, "\nPlease send what was achieved, month by month, or say what stands in its way.\n\n%s\n", from)
	return letter.Message{To: to, Subject: "What came of " + write.Count(len(of), "benefit", "benefits"), Text: b.String(), At: at}
}
