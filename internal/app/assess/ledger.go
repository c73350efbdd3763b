package assess

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/check"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/measure"
	"turret/internal/core/money"
)

// book is what checks need to know of a project's rows while they pass.
type book struct {
	audit    check.Ledger
	finished calendar.Date
	known    bool // finished is
	entries  []entry
	changes  map[changeIn]money.Amount // of the budget lines that name a change
	forecast check.Forecast
	ends     map[string]calendar.Date
	idle     map[string]*check.Idle
}

// entry is a posting with a document, by a key of everything that makes two the same.
type entry struct {
	key uint64
	ref fact.Ref
}

func bookOf(a *Assessment, project int64) *book {
	i, _ := a.Slots.Of(project)
	return &a.books[i]
}

// changeIn is a change and a currency that budget lines name it in.
type changeIn struct {
	change   string
	currency money.Currency
}

func (b *book) budgeted(l cost.Line) {
	if l.Change == "" {
		return
	}
	if b.changes == nil {
		b.changes = map[changeIn]money.Amount{}
	}
	b.changes[changeIn{l.Change, l.Currency}] += l.Amount
}

// finish is the day on which a project finished, 0 where it did not by the as-of date.
func (b *book) finish(p *measure.Project, asOf calendar.Date) calendar.Date {
	if !b.known {
		b.finished, b.known = measure.FinishedOn(p.Activities, asOf), true
	}
	return b.finished
}

// whole reports whether postings of a month are counted together: they are all up to the as-of date, on one side of the finish, and need
// no conversion, which rounds each of them.
func (b *book) whole(p *measure.Project, s *cost.MonthSum, env *measure.Env) bool {
	finish := b.finish(p, env.AsOf)
	return s.Currency == env.Currency && s.Month.Last() <= env.AsOf &&
		(s.Month != finish.Month() || finish == 0 || finish == s.Month.Last())
}

// summed is posted for all postings of a sum.
func (b *book) summed(p *measure.Project, load int64, s *cost.MonthSum, asOf calendar.Date) {
	b.audit.LastPosting = max(b.audit.LastPosting, s.Last)
	if finish := b.finish(p, asOf); finish != 0 && s.Month > finish.Month() {
		b.audit.AfterFinish += s.Rows
	}
	for _, e := range s.Entries {
		b.entries = append(b.entries, entry{e.Key, fact.Ref{Load: load, Row: e.Row}})
	}
}

func (b *book) posted(p *measure.Project, x *cost.Posting, asOf calendar.Date) {
	if x.Date > asOf {
		return
	}
	b.finish(p, asOf)
	b.audit.LastPosting = max(b.audit.LastPosting, x.Date)
	if b.finished != 0 && x.Date > b.finished {
		b.audit.AfterFinish++
	}
	if x.Document == "" {
		return
	}
	b.entries = append(b.entries, entry{x.Key(), x.Ref})
}

func (b *book) booked(p *measure.Project, x *cost.Booking, asOf calendar.Date) {
	b.late(p, x, asOf)
	if x.Activity == "" {
		return
	}
	if b.ends == nil {
		b.ends, b.idle = map[string]calendar.Date{}, map[string]*check.Idle{}
		for i := range p.Activities {
			b.ends[p.Activities[i].Code] = p.Activities[i].ActualFinish
		}
	}
	b.audit.Hours++
	if end := b.ends[x.Activity]; end != 0 && x.Date > end {
		idle := b.idle[x.Activity]
		if idle == nil {
			idle = &check.Idle{Activity: x.Activity, Ref: x.Ref}
			b.idle[x.Activity] = idle
		}
		idle.Rows++
		idle.Last = max(idle.Last, x.Date)
	}
}

// late counts hours after the finish of a project that is closed; those that take back what was booked are none.
func (b *book) late(p *measure.Project, x *cost.Booking, asOf calendar.Date) {
	if p.Status != measure.Closed || x.Date > asOf || x.Hours <= 0 {
		return
	}
	if l := &b.audit.Late; b.finish(p, asOf) != 0 && x.Date > b.finished {
		if l.Rows++; l.Rows == 1 {
			l.Ref = x.Ref
		}
		l.Last = max(l.Last, x.Date)
	}
}

// close gives a project what its rows told.
func (b *book) close(a *Assessment, p *measure.Project) {
	for _, x := range b.idle {
		b.audit.Idle = append(b.audit.Idle, *x)
	}
	slices.SortFunc(b.audit.Idle, func(x, y check.Idle) int { return cmp.Compare(x.Activity, y.Activity) })
	p.Audit.Ledger = b.audit
	for _, c := range p.Account.ByCode {
		if c.Actual != 0 {
			p.Audit.Codes = append(p.Audit.Codes, check.Code{Name: a.CodeName(c.Code), Closed: closedCode(a, c.Code), Amount: c.Actual})
		}
	}
	for i := range p.Changes {
		if c := &p.Changes[i]; c.State == cost.Approved {
			p.Audit.Changes = append(p.Audit.Changes, b.approved(c)...)
		}
	}
	p.Audit.Forecast = b.forecast
}

// approved sets an approved change against the budget lines that name it, in its own currency and in every other that they are in.
func (b *book) approved(c *cost.Change) []check.Budgeted {
	if c.Amount == 0 { // nothing says how much was approved
		return nil
	}
	var list []check.Budgeted
	for k, lines := range b.changes {
		if k.change == c.Code && k.currency != c.Currency && lines != 0 {
			list = append(list, check.Budgeted{Change: c.Code, Other: true, Lines: lines, Currency: k.currency, Ref: c.Ref})
		}
	}
	slices.SortFunc(list, func(x, y check.Budgeted) int { return cmp.Compare(x.Currency, y.Currency) })
	own := check.Budgeted{Change: c.Code, Approved: c.Amount, Lines: b.changes[changeIn{c.Code, c.Currency}], Currency: c.Currency,
		Ref: c.Ref}
	return append([]check.Budgeted{own}, list...)
}

// nameTwice finds the entries of each project that are there more than once, and reads their documents.
func nameTwice(ctx context.Context, a *Assessment, s kept.Reading) error {
	var list []kept.PostingAt
	for i := range a.books {
		b := &a.books[i]
		b.twice()
		for _, t := range b.audit.Twice {
			list = append(list, kept.PostingAt{Project: a.Projects[i].ID, Ref: t.Ref})
		}
	}
	if len(list) == 0 {
		return nil
	}
	documents, err := s.Documents(ctx, list)
	if err != nil {
		return err
	}
	for i := range a.books {
		twice := a.books[i].audit.Twice
		for k := range twice {
			twice[k].Document = documents[kept.PostingAt{Project: a.Projects[i].ID, Ref: twice[k].Ref}]
		}
		slices.SortFunc(twice, func(x, y check.Twice) int {
			return cmp.Or(cmp.Compare(x.Document, y.Document), cmp.Compare(x.Ref.Load, y.Ref.Load), cmp.Compare(x.Ref.Row, y.Ref.Row))
		})
	}
	return nil
}

// twice finds entries that are there more than once, the last of each.
func (b *book) twice() {
	b.audit.Documents = len(b.entries)
	defer func() { b.entries = nil }()
	keys := make([]uint64, len(b.entries))
	for i := range b.entries {
		keys[i] = b.entries[i].key
	}
	slices.Sort(keys)
	if len(slices.Compact(keys)) == len(b.entries) { // far quicker than sorting the entries, of which hardly any is there twice
		return
	}
	slices.SortFunc(b.entries, func(x, y entry) int {
		return cmp.Or(cmp.Compare(x.key, y.key), cmp.Compare(x.ref.Load, y.ref.Load), cmp.Compare(x.ref.Row, y.ref.Row))
	})
	for i := 0; i < len(b.entries); {
		n := 1
		for i+n < len(b.entries) && b.entries[i+n].key == b.entries[i].key {
			n++
		}
		if n > 1 {
			b.audit.Twice = append(b.audit.Twice, check.Twice{Rows: n, Ref: b.entries[i+n-1].ref})
		}
		i += n
	}
}
