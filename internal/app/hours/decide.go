package hours

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/record"
)

// MayDecide reports whether the one who asks may approve hours: of projects that are theirs, and their own only where nobody bounds them.
func MayDecide(a *assess.Assessment, actor *access.Actor, p *Part) bool {
	if !actor.May(access.Send) || a.ByCode[p.Project] == nil {
		return false
	}
	own := PersonOf(a, actor)
	return own == nil || own.Code != p.Person || actor.May(access.Judge)
}

// Waiting are the parts that wait for the one who asks to approve them.
func (o *Office) Waiting(ctx context.Context, a *assess.Assessment) ([]Part, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return nil, err
	}
	list, err := o.store.WaitingParts(ctx)
	return slices.DeleteFunc(list, func(p Part) bool { return !MayDecide(a, actor, &p) }), err
}

// Decided says what came of deciding on parts of sheets.
type Decided struct {
	Parts []Part
	Hours int64
	Loads []kept.Load
}

// mostReason bounds the reason for sending hours back, in letters.
const mostReason = 500

// SendBack sends parts back with a reason.
func (o *Office) SendBack(ctx context.Context, a *assess.Assessment, ids []int64, reason string) (*Decided, error) {
	if reason = strings.TrimSpace(reason); reason == "" || utf8.RuneCountInString(reason) > mostReason {
		return nil, fault.Field("reason", fault.Clip(reason, 60), fmt.Sprintf("why, in at most %d letters", mostReason))
	}
	return o.decide(ctx, a, ids, func(ctx context.Context, parts []Part) (*Decided, error) {
		return o.decided(ctx, parts, Back, reason)
	})
}

// decide has what is decided on parts kept whole, or nothing of it.
func (o *Office) decide(ctx context.Context, a *assess.Assessment, ids []int64,
	f func(context.Context, []Part) (*Decided, error)) (d *Decided, err error) {
	err = o.store.Do(ctx, func(ctx context.Context) error {
		parts, err := o.asked(ctx, a, ids)
		if err == nil {
			d, err = f(ctx, parts)
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	return d, nil
}

// Approve books the hours of parts by a load of the open period, one file for each project: where a sheet was approved before, what is
// different by now.
func (o *Office) Approve(ctx context.Context, a *assess.Assessment, ids []int64) (*Decided, error) {
	return o.decide(ctx, a, ids, func(ctx context.Context, parts []Part) (*Decided, error) {
		loads, err := o.book(ctx, parts)
		if err != nil {
			return nil, err
		}
		d, err := o.decided(ctx, parts, Approved, "")
		if d != nil {
			d.Loads = loads
		}
		return d, err
	})
}

// asked are the parts of some numbers, all of which must wait for the one who asks.
func (o *Office) asked(ctx context.Context, a *assess.Assessment, ids []int64) ([]Part, error) {
	actor, err := access.Permit(ctx, access.Send)
	if err != nil {
		return nil, err
	}
	slices.Sort(ids)
	ids = slices.Compact(ids)
	if len(ids) == 0 {
		return nil, fault.Field("hours", "", "at least one sheet")
	}
	parts, err := o.store.PartsByID(ctx, ids)
	if err != nil {
		return nil, err
	}
	waiting := 0
	for i := range parts {
		if !MayDecide(a, actor, &parts[i]) {
			return nil, fmt.Errorf("hours on %s: %w", fault.Clip(parts[i].Project, 40), access.ErrForbidden)
		}
		if parts[i].State == Sent {
			waiting++
		}
	}
	if waiting < len(ids) {
		return nil, fmt.Errorf("%w: some of these hours were changed or decided meanwhile; nothing was done", fault.ErrRefused)
	}
	return parts, nil
}

func (o *Office) decided(ctx context.Context, parts []Part, state State, reason string) (*Decided, error) {
	actor := access.ActorOf(ctx)
	d := &Decided{Parts: parts}
	for i := range parts {
		p := &parts[i]
		p.State, p.Reason, p.Who, p.Login, p.At = state, reason, actor.Name, actor.Login, o.now()
		d.Hours += p.Total()
	}
	err := o.store.KeepParts(ctx, parts)
	if errors.Is(err, ErrMoved) {
		return nil, fmt.Errorf("%w: some of these hours were changed meanwhile", fault.ErrRefused)
	}
	if err != nil {
		return nil, err
	}
	for i := range parts {
		p := &parts[i]
		subject := fmt.Sprintf("hours of %s on %s, week of %s", p.Person, p.Project, p.Week)
		if err := o.store.Note(ctx, o.audit.Entry(ctx, "hours", subject, string(Sent),
			strings.TrimSpace(string(state)+" "+reason))); err != nil {
			return nil, err
		}
	}
	return d, nil
}

// book writes what is missing of parts into the timesheets.
func (o *Office) book(ctx context.Context, parts []Part) ([]kept.Load, error) {
	posted, err := o.posted(ctx, parts)
	if err != nil {
		return nil, err
	}
	rows := map[string][][]string{}
	for i := range parts {
		p := &parts[i]
		rows[p.Project] = append(rows[p.Project], booking(p, difference(p, posted[sheetOf{p.Person, p.Week}]))...)
	}
	files, err := o.files(rows)
	if err != nil || len(files) == 0 {
		return nil, err
	}
	return o.load(ctx, files)
}

// sheetOf names the sheet of a person and a week.
type sheetOf struct {
	person string
	week   calendar.Date
}

// posted is what stands of sheets in the weeks of some parts.
func (o *Office) posted(ctx context.Context, parts []Part) (map[sheetOf]map[slot]int64, error) {
	by := map[sheetOf]map[slot]int64{}
	if len(parts) == 0 {
		return by, nil
	}
	person, first, last := parts[0].Person, parts[0].Week, parts[0].Week
	for i := range parts {
		p := &parts[i]
		by[sheetOf{p.Person, p.Week}] = map[slot]int64{}
		if first, last = min(first, p.Week), max(last, p.Week); p.Person != person {
			person = ""
		}
	}
	return by, o.store.Worked(ctx, person, first, last+6, func(x *Worked) {
		monday := Monday(x.Date)
		if of := by[sheetOf{x.Person, monday}]; of != nil && x.FromSheet {
			of[slot{x.Project, x.Work, int(x.Date - monday)}] += x.Hours
		}
	})
}

// booking are rows of a timesheet.
func booking(p *Part, by map[slot]int64) [][]string {
	var list [][]string
	for k, h := range by {
		billable := "no"
		if k.Billable {
			billable = "yes"
		}
		list = append(list, []string{p.Person, p.Project, (p.Week + calendar.Date(k.day)).String(), money.Plain(h, 4), k.Activity,
			billable, k.CostCode})
	}
	slices.SortFunc(list, func(x, y []string) int { return slices.Compare(x, y) })
	return list
}

// files are a timesheet for each project.
func (o *Office) files(rows map[string][][]string) ([]*kept.File, error) {
	var files []*kept.File
	for project, list := range rows {
		if len(list) == 0 {
			continue
		}
		f, problems := o.reader.Typed(record.Timesheets, list)
		if len(problems) > 0 {
			return nil, fmt.Errorf("%w: %s", fault.ErrRefused, problems[0])
		}
		f.Name, f.Recognised = "week sheets: "+project, "week sheets"
		f.Digest, f.Size = edit.DigestRows(list)
		files = append(files, f)
	}
	slices.SortFunc(files, func(x, y *kept.File) int { return cmp.Compare(x.Name, y.Name) })
	return files, nil
}

// load takes the files in. That the projects are those of whoever approves is known by now; the kind is one that leads need not be asked
// for.
func (o *Office) load(ctx context.Context, files []*kept.File) ([]kept.Load, error) {
	period, err := o.intake.PeriodFor(ctx)
	if err != nil {
		return nil, err
	}
	ctx = access.Lend(ctx)
	actor := access.ActorOf(ctx)
	if _, err := intake.Checked(ctx, o.store, files); err != nil {
		return nil, err
	}
	return o.intake.Save(ctx, kept.Batch{Files: files, Source: Source, Author: actor.Name, At: o.now(), Period: period,
		Reason: "approved by " + actor.Name,
		Check:  func(kept.Reading) error { return nil }, Note: func(l kept.Load) kept.Entry {
			return o.audit.Entry(ctx, "load", fmt.Sprintf("%s, load %d", l.File, l.ID), "", Source)
		}})
}
