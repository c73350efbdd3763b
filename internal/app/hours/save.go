package hours

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/money"
)

// Entry is a row as it was typed.
type Entry struct {
	Project string
	Work
	Cells [7]string
}

// Typed is a sheet as it was typed.
type Typed struct {
	Person  string
	Monday  calendar.Date
	Seen    map[string]int64 // by project, the number of the part that was shown
	Entries []Entry
	Send    bool // also send what is written
}

// Refused says by row and column what is wrong with a sheet. Rows count from 1.
type Refused struct{ Problems []fault.Problem }

func (e *Refused) Error() string {
	p := &e.Problems[0]
	text := fmt.Sprintf("row %d, %s: %q, expected %s", p.Row, p.Column, p.Value, p.Expected)
	if n := len(e.Problems) - 1; n > 0 {
		text += fmt.Sprintf(", and %d more", n)
	}
	return text
}

// Unwrap is fault.ErrRefused.
func (e *Refused) Unwrap() error { return fault.ErrRefused }

// Weekdays are the columns of a sheet.
var Weekdays = [7]string{"Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"}

// mostRows bounds the rows of a sheet, and a day the hours of one.
const (
	mostRows = 60
	aDay     = 24 * cost.HourUnits
)

// Saved says what came of saving a sheet.
type Saved struct {
	Changed int // parts that are other than before
	Sent    int
	Hours   int64 // of the week
}

// Save keeps a sheet: all of it, or nothing where anything in it is wrong. Hours that were sent and are changed have to be sent again.
func (o *Office) Save(ctx context.Context, a *assess.Assessment, t *Typed) (*Saved, error) {
	actor, err := access.Permit(ctx, access.Book)
	if err != nil {
		return nil, err
	}
	if t.Monday.Weekday() != 0 {
		return nil, fault.Field("week", t.Monday.String(), "a Monday")
	}
	w, err := o.Week(ctx, a, t.Person, t.Monday)
	if err != nil {
		return nil, err
	}
	r := &ruler{a: a, w: w}
	parts := r.read(t)
	if len(r.problems) == 0 {
		r.rules(parts)
	}
	if len(r.problems) == 0 {
		if err := o.taken(ctx, r, parts); err != nil {
			return nil, err
		}
	}
	if len(r.problems) > 0 {
		return nil, &Refused{r.problems}
	}
	done := &Saved{}
	var keep []Part
	for _, p := range parts {
		done.Hours += p.Total()
		next, changed := w.next(p, t.Send)
		if !changed {
			continue
		}
		if next.State == Sent {
			done.Sent++
		}
		next.ID, next.Who, next.Login, next.At = t.Seen[p.Project], actor.Name, actor.Login, o.now()
		keep = append(keep, next)
	}
	done.Changed = len(keep)
	if len(keep) == 0 {
		return done, nil
	}
	err = o.store.KeepParts(ctx, keep)
	if errors.Is(err, ErrMoved) {
		return nil, fmt.Errorf("%w: somebody else changed this week meanwhile; nothing was saved", fault.ErrRefused)
	}
	return done, err
}

// next is the part that stands from now on, and whether it is another than before.
func (w *Week) next(p Part, send bool) (Part, bool) {
	was := Part{State: Draft}
	if i := slices.IndexFunc(w.Parts, func(x Part) bool { return x.Project == p.Project }); i >= 0 {
		was = w.Parts[i]
	}
	p.Person, p.Week = w.Person.Code, w.Monday
	p.State, p.Reason = was.State, was.Reason
	changed := !slices.Equal(was.Rows, p.Rows)
	if changed {
		p.State, p.Reason = Draft, ""
	}
	adrift := w.Adrift[p.Project]
	if send && (p.State == Draft || p.State == Back || adrift) && (len(p.Rows) > 0 || len(difference(&p, w.posted)) > 0) {
		p.State, p.Reason = Sent, ""
	}
	return p, changed || p.State != was.State || adrift && p.State == Sent
}

// ruler reads a sheet and says what is wrong with it.
type ruler struct {
	a        *assess.Assessment
	w        *Week
	problems []fault.Problem
	rowOf    map[string]int // the first row of a project
}

func (r *ruler) fail(row int, column, value, expected string) {
	r.problems = append(r.problems, fault.Problem{Row: int32(row), Column: column, Value: fault.Clip(value, 60), Expected: expected})
}

// read makes parts of what was typed, one for each project that the week has or had; rows without hours are left out.
func (r *ruler) read(t *Typed) []Part {
	if len(t.Entries) > mostRows {
		r.fail(mostRows+1, "row", fmt.Sprint(len(t.Entries)), fmt.Sprintf("at most %d rows", mostRows))
		return nil
	}
	r.rowOf = map[string]int{}
	var parts []Part
	at := map[string]int{}
	part := func(project string) *Part {
		i, ok := at[project]
		if !ok {
			i = len(parts)
			at[project] = i
			parts = append(parts, Part{Project: project})
		}
		return &parts[i]
	}
	for i := range r.w.Parts {
		part(r.w.Parts[i].Project)
	}
	once := map[slot]bool{}
	for i := range t.Entries {
		e := &t.Entries[i]
		row, empty := r.row(i+1, e)
		if empty {
			continue
		}
		if e.Project == "" {
			r.fail(i+1, "project", "", "the project that the hours were worked on")
			continue
		}
		key := slot{project: e.Project, Work: row.Work}
		if once[key] {
			r.fail(i+1, "project", strings.TrimSpace(e.Project+" "+e.Words()), "one row for each project, activity and cost code")
		}
		once[key] = true
		if r.rowOf[e.Project] == 0 {
			r.rowOf[e.Project] = i + 1
		}
		p := part(e.Project)
		p.Rows = append(p.Rows, row)
	}
	return parts
}

// row reads the hours of a row.
func (r *ruler) row(n int, e *Entry) (row Row, empty bool) {
	row, empty = Row{Work: e.Work}, true
	for d, text := range e.Cells {
		h, err := ParseHours(text)
		if err != nil {
			r.fail(n, Weekdays[d], text, "hours such as 7.5 or 7:30, from -24 to 24")
			empty = false
			continue
		}
		if row.Hours[d] = h; h != 0 {
			empty = false
		}
	}
	return row, empty
}

// ParseHours reads hours as people write them, 7.5, 7,5 or 7:30, in ten-thousandths; nothing is none.
func ParseHours(text string) (int64, error) {
	text = strings.Replace(strings.TrimSpace(text), "−", "-", 1)
	if text == "" {
		return 0, nil
	}
	if whole, minutes, ok := strings.Cut(text, ":"); ok {
		h, err := money.ParseDecimal(whole, 0)
		m, err2 := money.ParseDecimal(minutes, 0)
		if err != nil || err2 != nil || len(minutes) != 2 || m < 0 || m > 59 || h < -24 || h > 24 {
			return 0, fault.Field("hours", text, "hours and minutes")
		}
		if strings.HasPrefix(whole, "-") {
			m = -m
		}
		return within(h*cost.HourUnits + int64(money.MulDiv(money.Amount(m), cost.HourUnits, 60)))
	}
	h, err := money.ParseDecimal(strings.Replace(text, ",", ".", 1), 4)
	if err != nil {
		return 0, err
	}
	return within(h)
}

func within(h int64) (int64, error) {
	if h < -aDay || h > aDay {
		return 0, fault.Field("hours", money.Plain(h, 4), "from -24 to 24")
	}
	return h, nil
}

// rules hold against the whole sheet.
func (r *ruler) rules(parts []Part) {
	sum := [7]int64{}
	for _, l := range r.w.Lines {
		if l.Elsewhere {
			for d, h := range l.Hours {
				sum[d] += h
			}
		}
	}
	for i := range parts {
		p := &parts[i]
		r.project(p)
		was := Part{Project: p.Project}
		if k := slices.IndexFunc(r.w.Parts, func(x Part) bool { return x.Project == p.Project }); k >= 0 {
			was = r.w.Parts[k]
		}
		r.locked(&was, p)
		for k := range p.Rows {
			for d, h := range p.Rows[k].Hours {
				sum[d] += h
				if h > 0 && !r.w.Days[d].Here {
					r.fail(r.rowOf[p.Project], Weekdays[d], hoursText(h), "no hours: "+r.w.Person.Name+" does not work here on that day")
				}
			}
		}
	}
	for d, h := range sum {
		if h > aDay {
			r.fail(1, Weekdays[d], hoursText(h), "at most 24 hours on a day, with those that came by files")
		}
	}
}

// project refuses new hours on what takes none, and activities that are not there.
func (r *ruler) project(p *Part) {
	if k := slices.IndexFunc(r.w.Parts, func(x Part) bool { return x.Project == p.Project }); k >= 0 && slices.Equal(r.w.Parts[k].Rows,
		p.Rows) {
		return
	}
	if len(p.Rows) > 0 && !slices.Contains(r.w.Projects, p.Project) {
		r.fail(r.rowOf[p.Project], "project", p.Project, "an open project of yours")
		return
	}
	for i := range p.Rows {
		if x := p.Rows[i].Activity; x != "" && !r.a.Lookup(int32(r.a.Index(p.Project)), x) {
			r.fail(r.rowOf[p.Project], "activity", x, "an activity of "+p.Project)
		}
		code := p.Rows[i].CostCode
		open := func(c kept.CostCode) bool { return c.Code == code && !c.Closed }
		if code != "" && !slices.ContainsFunc(r.a.Masters.CostCodes, open) {
			r.fail(r.rowOf[p.Project], "cost code", code, "an open cost code of the tree")
		}
	}
}

// locked refuses changes on days whose period is closed.
func (r *ruler) locked(was, is *Part) {
	before, after := was.slots(), is.slots()
	for d := range r.w.Days {
		if !r.w.Days[d].Locked {
			continue
		}
		for k, h := range before {
			if k.day == d && after[k] != h {
				r.fail(max(1, r.rowOf[is.Project]), Weekdays[d], hoursText(after[k]), hoursText(h)+", as it was: its period is closed; "+
					"correct it on a day of the open one, with hours below zero where they are too many")
			}
		}
		for k, h := range after {
			if k.day == d && before[k] == 0 {
				r.fail(r.rowOf[is.Project], Weekdays[d], hoursText(h), "nothing: its period is closed; write it on a day of the open one")
			}
		}
	}
}

func hoursText(h int64) string { return money.Plain(h, 4) + " h" }

// taken refuses to take back more than was booked on a project, activity and cost code.
func (o *Office) taken(ctx context.Context, r *ruler, parts []Part) error {
	type work struct{ project, activity, code string }
	sum := map[work]int64{}
	negative := false
	for i := range parts {
		for k := range parts[i].Rows {
			row := &parts[i].Rows[k]
			sum[work{parts[i].Project, row.Activity, row.CostCode}] += row.Total()
			negative = negative || slices.Min(row.Hours[:]) < 0
		}
	}
	if !negative {
		return nil
	}
	for k, h := range r.w.posted {
		sum[work{k.project, k.Activity, k.CostCode}] -= h
	}
	booked := map[work]int64{}
	err := o.store.Worked(ctx, r.w.Person.Code, 0, calendar.MaxDate, func(x *Worked) {
		booked[work{x.Project, x.Activity, x.CostCode}] += x.Hours
	})
	for i := range parts {
		for k := range parts[i].Rows {
			row := &parts[i].Rows[k]
			at := work{parts[i].Project, row.Activity, row.CostCode}
			if d := slices.Index(row.Hours[:], slices.Min(row.Hours[:])); row.Hours[d] < 0 && booked[at]+sum[at] < 0 {
				r.fail(r.rowOf[at.project], Weekdays[d], hoursText(row.Hours[d]), "no more taken back than the "+hoursText(booked[at])+
					" that were booked")
			}
		}
	}
	return err
}
