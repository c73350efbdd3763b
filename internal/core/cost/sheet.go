package cost

import (
	"cmp"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/money"
)

// RowKind says what a row of a sheet holds.
type RowKind uint8

// The rows of a sheet.
const (
	BudgetRow RowKind = iota
	ForecastRow
	ActualRow
	CommittedRow
)

// String is the kind as pages and files name it.
func (k RowKind) String() string {
	return [...]string{"budget", "forecast", "actual", "commitment"}[k]
}

// RowKey is what tells one row of a sheet from another.
type RowKey struct {
	Kind     RowKind // what the amounts are
	Code     int32   // index of the cost code
	Centre   string
	Currency money.Currency
	Change   string // reference of the change; empty for the original budget
	Supplier string
	Note     string
	Activity string
}

// compare orders rows by code, then kind, then the other fields in their order.
func (k RowKey) compare(o RowKey) int {
	return cmp.Or(cmp.Compare(k.Code, o.Code), cmp.Compare(k.Kind, o.Kind), cmp.Compare(k.Centre, o.Centre),
		cmp.Compare(k.Currency, o.Currency),
		cmp.Compare(k.Change, o.Change), cmp.Compare(k.Supplier, o.Supplier), cmp.Compare(k.Note, o.Note),
		cmp.Compare(k.Activity, o.Activity))
}

// SheetRow is a row by months. Own amounts are in the row's currency, Amounts in the reporting one; months run from the sheet's First.
type SheetRow struct {
	RowKey
	Own, Amounts []money.Amount // by month, minor units
	Spread       bool           // comes of a total over a span, not of amounts by month
	Refs         []fact.Ref     // source rows it was made of
	Problem      error          // a rate that is missing; its amounts are 0 then
}

// Sheet is money by line and month. Every row has the same months.
type Sheet struct {
	First calendar.Month // of the amounts of each row
	Rows  []SheetRow     // in the order of their keys once sorted
	index map[RowKey]int
	rates *Rates
	days  *calendar.Calendar
	asOf  calendar.Date
}

// NewSheet makes an empty sheet.
func NewSheet(rates *Rates, days *calendar.Calendar, asOf calendar.Date) *Sheet {
	return &Sheet{index: map[RowKey]int{}, rates: rates, days: days, asOf: asOf}
}

// Months is how many months the sheet spans.
func (s *Sheet) Months() int {
	if len(s.Rows) == 0 {
		return 0
	}
	return len(s.Rows[0].Own)
}

// Lines adds the lines of a budget or forecast, whole, whatever the as-of date.
func (s *Sheet) Lines(kind RowKind, lines []Line) {
	for _, l := range lines {
		r := s.row(RowKey{Kind: kind, Code: l.Code, Centre: l.Centre, Currency: l.Currency, Change: l.Change, Note: l.Note,
			Activity: l.Activity})
		r.Spread = r.Spread || l.Month == 0
		months, amounts := Spread(l, s.days)
		for i, m := range months {
			s.add(r.RowKey, m, amounts[i], true, l.Ref)
		}
	}
}

// Postings adds the ledger up to the as-of date; rows of different suppliers stay apart.
func (s *Sheet) Postings(list []Posting) {
	for _, x := range list {
		if x.Date <= s.asOf && (x.Work == nil || x.Work.Err == nil) {
			s.add(RowKey{Kind: ActualRow, Code: x.Code, Centre: x.Centre, Currency: x.Currency, Supplier: x.Supplier,
				Activity: x.Activity}, x.Date.Month(), x.Amount, false, fact.Ref{})
		}
	}
}

// Commitments adds what is ordered, in the months it is due.
func (s *Sheet) Commitments(list []Commitment) {
	for _, c := range list {
		s.add(RowKey{Kind: CommittedRow, Code: c.Code, Currency: c.Currency, Supplier: c.Supplier, Activity: c.Activity},
			c.Month(s.asOf), c.Amount, true, c.Ref)
	}
}

// row is the row of a key, made with zeros where it is met for the first time.
func (s *Sheet) row(k RowKey) *SheetRow {
	i, ok := s.index[k]
	if !ok {
		i = len(s.Rows)
		s.index[k] = i
		n := s.Months()
		s.Rows = append(s.Rows, SheetRow{RowKey: k, Own: make([]money.Amount, n), Amounts: make([]money.Amount, n)})
	}
	return &s.Rows[i]
}

// widen has the sheet hold a month.
func (s *Sheet) widen(m calendar.Month) {
	n := s.Months()
	before, after := 0, 0
	switch {
	case s.First == 0 || n == 0:
		s.First, after = m, 1
	case m < s.First:
		before = int(s.First - m)
		s.First = m
	case int(m-s.First) >= n:
		after = int(m-s.First) - n + 1
	default:
		return
	}
	for i := range s.Rows {
		r := &s.Rows[i]
		r.Own = append(append(make([]money.Amount, before), r.Own...), make([]money.Amount, after)...)
		r.Amounts = append(append(make([]money.Amount, before), r.Amounts...), make([]money.Amount, after)...)
	}
}

// add adds an amount to a month of a row, at a plan rate or at the month's own.
func (s *Sheet) add(k RowKey, m calendar.Month, own money.Amount, plan bool, ref fact.Ref) {
	s.row(k)
	s.widen(m)
	r := &s.Rows[s.index[k]]
	if ref != (fact.Ref{}) && (len(r.Refs) == 0 || r.Refs[len(r.Refs)-1] != ref) {
		r.Refs = append(r.Refs, ref)
	}
	r.Own[m-s.First] += own
	a, _, err := s.rates.convert(own, k.Currency, m, plan)
	if err != nil {
		if r.Problem == nil {
			r.Problem = err
		}
		return
	}
	r.Amounts[m-s.First] += a
}

// Span has the sheet hold the months from one to another.
func (s *Sheet) Span(from, to calendar.Month) {
	if len(s.Rows) > 0 {
		s.widen(from)
		s.widen(to)
	}
}

// Sort puts rows in the order of their keys.
func (s *Sheet) Sort() {
	slices.SortFunc(s.Rows, func(a, b SheetRow) int { return a.RowKey.compare(b.RowKey) })
	for i := range s.Rows {
		s.index[s.Rows[i].RowKey] = i
	}
}

// Total is the sum of a row's months.
func (r *SheetRow) Total() (own, amount money.Amount) {
	for i := range r.Own {
		own += r.Own[i]
		amount += r.Amounts[i]
	}
	return own, amount
}

// Difference is a month of a row that is not the same in two sheets. By is New less Old, converted month by month; it may be 0 where only
// the rate is not known.
type Difference struct {
	RowKey
	Month    calendar.Month // in which the amounts differ
	Old, New money.Amount   // own currency
	By       money.Amount   // reporting currency
	Added    bool           // the row is only in the new one
	Taken    bool           // the row is only in the old one
}

// Differences compares two sheets row by row and month by month, in the order of the keys.
func Differences(was, now *Sheet) []Difference {
	var keys []RowKey
	for i := range was.Rows {
		keys = append(keys, was.Rows[i].RowKey)
	}
	for i := range now.Rows {
		if _, ok := was.index[now.Rows[i].RowKey]; !ok {
			keys = append(keys, now.Rows[i].RowKey)
		}
	}
	slices.SortFunc(keys, RowKey.compare)
	var list []Difference
	for _, k := range keys {
		_, old := was.index[k]
		_, held := now.index[k]
		from, to := span(was, now)
		for m := from; m <= to; m++ {
			ownA, a := was.at(k, m)
			ownB, b := now.at(k, m)
			if ownA != ownB || a != b {
				list = append(list, Difference{RowKey: k, Month: m, Old: ownA, New: ownB, By: b - a, Added: !old, Taken: !held})
			}
		}
	}
	return list
}

// Sum is what differences come to in all, and how many rows are new and how many gone.
func Sum(list []Difference) (by money.Amount, added, taken int) {
	for i := range list {
		d := &list[i]
		by += d.By
		if i > 0 && list[i-1].RowKey == d.RowKey {
			continue // they stand in the order of their rows
		}
		if d.Added {
			added++
		}
		if d.Taken {
			taken++
		}
	}
	return by, added, taken
}

// span is the months that one of two sheets holds.
func span(a, b *Sheet) (from, to calendar.Month) {
	from, to = a.First, a.First+calendar.Month(a.Months())-1
	if a.Months() == 0 {
		return b.First, b.First + calendar.Month(b.Months()) - 1
	}
	if b.Months() > 0 {
		from, to = min(from, b.First), max(to, b.First+calendar.Month(b.Months())-1)
	}
	return from, to
}

// at is the amount of a month in a row, 0 where there is none.
func (s *Sheet) at(k RowKey, m calendar.Month) (own, amount money.Amount) {
	i, ok := s.index[k]
	if j := int(m - s.First); ok && j >= 0 && j < s.Months() {
		return s.Rows[i].Own[j], s.Rows[i].Amounts[j]
	}
	return 0, 0
}
