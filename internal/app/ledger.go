package app

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
	changes  map[string]money.Amount // of budget lines, in the currency of their change
	mixed    map[string]bool         // changes whose lines are in another currency too
	ends     map[string]calendar.Date
	idle     map[string]*check.Idle
}

// entry is a posting with a document, by a key of everything that makes two the same.
type entry struct {
	key uint64
	doc string
	ref fact.Ref
}

func (a *Assessment) bookOf(project int64) *book {
	i, _ := a.slots.of(project)
	return &a.books[i]
}

func (b *book) budgeted(l cost.Line) {
	if l.Change == "" {
		return
	}
	if b.changes == nil {
		b.changes, b.mixed = map[string]money.Amount{}, map[string]bool{}
	}
	key := l.Change + "\x00" + string(l.Currency)
	if _, ok := b.changes[key]; !ok {
		for k := range b.changes {
			if len(k) > len(l.Change) && k[:len(l.Change)+1] == l.Change+"\x00" {
				b.mixed[l.Change] = true
			}
		}
	}
	b.changes[key] += l.Amount
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
	b.entries = append(b.entries, entry{key, x.Document, x.Ref})
}

func (b *book) booked(p *measure.Project, x *Booked) {
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
			p.Audit.Codes = append(p.Audit.Codes, check.Code{Name: a.CodeName(c.Code), Closed: a.closedCodes[c.Code], Amount: c.Actual})
		}
	}
	for _, c := range p.Changes {
		if c.State == cost.Approved && c.Amount != 0 && !b.mixed[c.Code] {
			p.Audit.Changes = append(p.Audit.Changes, check.Budgeted{Change: c.Code, Approved: c.Amount, Currency: c.Currency, Ref: c.Ref,
				Lines: b.changes[c.Code+"\x00"+string(c.Currency)]})
		}
	}
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
