package assess

import (
	"cmp"
	"hash/fnv"
	"slices"

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
	doc string
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

func (b *book) posted(p *measure.Project, x *cost.Posting, asOf calendar.Date) {
	if x.Date > asOf {
		return
	}
	if !b.known {
		b.finished, b.known = measure.FinishedOn(p.Activities, asOf), true
	}
	b.audit.LastPosting = max(b.audit.LastPosting, x.Date)
	if b.finished != 0 && x.Date > b.finished {
		b.audit.AfterFinish++
	}
	if x.Document == "" {
		return
	}
	h := fnv.New64a()
	_, _ = h.Write([]byte(x.Document)) // never fails
	key := h.Sum64()
	for _, n := range []int64{int64(x.Date), int64(x.Amount), int64(x.Code)} {
		key = (key ^ uint64(n)) * 1099511628211
	}
	for _, c := range []byte(x.Currency) {
		key = (key ^ uint64(c)) * 1099511628211
	}
	b.entries = append(b.entries, entry{key, x.Document, x.Ref})
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
	if p.Status != "closed" || x.Date > asOf || x.Hours <= 0 {
		return
	}
	if !b.known {
		b.finished, b.known = measure.FinishedOn(p.Activities, asOf), true
	}
	if l := &b.audit.Late; b.finished != 0 && x.Date > b.finished {
		if l.Rows++; l.Rows == 1 {
			l.Ref = x.Ref
		}
		l.Last = max(l.Last, x.Date)
	}
}

// close gives a project what its rows told.
func (b *book) close(a *Assessment, p *measure.Project) {
	b.audit.Documents = len(b.entries)
	b.twice()
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

// twice finds entries that are there more than once.
func (b *book) twice() {
	slices.SortFunc(b.entries, func(x, y entry) int {
		return cmp.Or(cmp.Compare(x.key, y.key), cmp.Compare(x.ref.Load, y.ref.Load), cmp.Compare(x.ref.Row, y.ref.Row))
	})
	for i := 0; i < len(b.entries); {
		n := 1
		for i+n < len(b.entries) && b.entries[i+n].key == b.entries[i].key {
			n++
		}
		if n > 1 {
			last := b.entries[i+n-1]
			b.audit.Twice = append(b.audit.Twice, check.Twice{Document: last.doc, Rows: n, Ref: last.ref})
		}
		i += n
	}
	slices.SortFunc(b.audit.Twice, func(x, y check.Twice) int {
		return cmp.Or(cmp.Compare(x.Document, y.Document), cmp.Compare(x.Ref.Load, y.Ref.Load), cmp.Compare(x.Ref.Row, y.Ref.Row))
	})
	b.entries = nil
}
