package cost

import (
	"cmp"
	"hash/fnv"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// MonthSum is the postings that one load brought for one project on a code and centre, in a currency and month, together. Amounts of
// different
// currencies are never in one sum, since converting rounds each posting.
type MonthSum struct {
	Code     int32 // index of the cost code
	Centre   string
	Currency money.Currency
	Month    calendar.Month // of their dates
	Amount   money.Amount   // of all of them
	Rows     int            // at least 1
	Last     calendar.Date  // the latest of their dates
	Entries  []Entry        // those with a document, in the order of their rows
}

// Entry is a posting with a document. Two entries of one key may still differ: whoever names one as standing twice compares the postings
// themselves.
type Entry struct {
	Key uint64 // the same for postings that look alike
	Row int32  // of the load's file
}

// Key is the same for postings that look alike: of one document, day, amount, code and currency. It is an FNV-1a digest and is kept in
// files, so it stays as it is.
func (x *Posting) Key() uint64 {
	h := fnv.New64a()
	_, _ = h.Write([]byte(x.Document)) // never fails
	key := h.Sum64()
	for _, n := range []int64{int64(x.Date), int64(x.Amount), int64(x.Code)} {
		key = (key ^ uint64(n)) * 1099511628211
	}
	for _, c := range []byte(x.Currency) {
		key = (key ^ uint64(c)) * 1099511628211
	}
	return key
}

// sumKey is what postings are added up by.
type sumKey struct {
	code     int32
	centre   string
	currency money.Currency
	month    calendar.Month
}

// MonthSums adds up postings of one load and project. The zero value is ready.
type MonthSums struct {
	at   map[sumKey]int
	list []MonthSum
}

// Add counts a posting.
func (s *MonthSums) Add(x *Posting) {
	k := sumKey{x.Code, x.Centre, x.Currency, x.Date.Month()}
	i, ok := s.at[k]
	if !ok {
		if s.at == nil {
			s.at = map[sumKey]int{}
		}
		i = len(s.list)
		s.at[k] = i
		s.list = append(s.list, MonthSum{Code: x.Code, Centre: x.Centre, Currency: x.Currency, Month: k.month})
	}
	sum := &s.list[i]
	sum.Amount += x.Amount
	sum.Rows++
	sum.Last = max(sum.Last, x.Date)
	if x.Document != "" {
		sum.Entries = append(sum.Entries, Entry{x.Key(), x.Ref.Row})
	}
}

// Take returns the sums by code, centre, currency and month, and begins anew.
func (s *MonthSums) Take() []MonthSum {
	list := s.list
	slices.SortFunc(list, func(x, y MonthSum) int { return x.compare(&y) })
	s.list = nil
	clear(s.at)
	return list
}

// compare orders sums by code, centre, currency and month.
func (s *MonthSum) compare(o *MonthSum) int {
	return cmp.Or(cmp.Compare(s.Code, o.Code), cmp.Compare(s.Centre, o.Centre), cmp.Compare(s.Currency, o.Currency),
		cmp.Compare(s.Month, o.Month))
}

// Holds reports whether a posting of the same load and project is in the sum.
func (s *MonthSum) Holds(x *Posting) bool {
	return s.Code == x.Code && s.Centre == x.Centre && s.Currency == x.Currency && s.Month == x.Date.Month()
}

// PostSum adds postings of the ledger together. They must be in the currency that is reported in and not after the as-of date: any others
// are added one by one.
func (b *Builder) PostSum(s *MonthSum) {
	if !b.way.Counts(&b.classes, &Posting{Code: s.Code}) {
		b.acc.Labour.Aside += s.Rows
		return
	}
	b.acc.Postings += s.Rows
	f := b.cell(s.Code, s.Centre)
	f.Actual += s.Amount
	f.ActualAtPlan += s.Amount
	b.acc.ActualBy[b.month(s.Month)] += s.Amount
	if b.classes.Holds(s.Code) {
		b.acc.Reserve.Spent += s.Amount
	}
}
