package ingest

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/app/kept"
	"turret/internal/core/money"
	"turret/internal/core/write"
)

// maxRemarks is how many of one sort are told one by one.
const maxRemarks = 6

func remark(r *reader, row int32, odd bool, says string, args ...any) {
	r.file.Remarks = append(r.file.Remarks, kept.Remark{Row: row, Odd: odd, Says: fmt.Sprintf(says, args...)})
}

// tell puts what is worth knowing into the words that stay with the load.
func tell(r *reader) {
	r.stated.tell(r)
	tellHand(r)
	for _, x := range r.file.Remarks {
		r.file.Recognised += "; " + x.Says
	}
}

// tellHand says what a person did to rows.
func tellHand(r *reader) {
	for _, row := range slices.Sorted(maps.Keys(r.mapping.Cells)) {
		for _, head := range slices.Sorted(maps.Keys(r.mapping.Cells[row])) {
			remark(r, row, false, "row %d: %s was set to “%s” by hand", row, head, r.mapping.Cells[row][head])
		}
	}
	for _, row := range slices.Sorted(maps.Keys(r.mapping.Without)) {
		remark(r, row, false, "row %d was left out: %s", row, r.mapping.Without[row])
	}
}

// tellFactor says with its first number what the factor of a column does.
func tellFactor(r *reader, column, said string, n int64, places int) {
	f := r.mapping.Factors[column]
	if f <= 1 || slices.Contains(r.scaled, column) {
		return
	}
	r.scaled = append(r.scaled, column)
	for ; f > 1; f /= 10 {
		places--
	}
	text := money.Decimal(n, places)
	if strings.Contains(text, ".") {
		text = strings.TrimSuffix(strings.TrimRight(text, "0"), ".")
	}
	remark(r, r.row, false, "%s times %d: “%s” in row %d is read as %s", column, r.mapping.Factors[column], said, r.row, text)
}

// correct puts what a person said into the cells of the row.
func correct(r *reader) {
	cells, ok := r.mapping.Cells[r.row]
	if !ok {
		return
	}
	r.cells = slices.Clone(r.cells)
	for i, name := range headNames(r.heads) {
		says, ok := cells[name]
		if !ok {
			continue
		}
		for len(r.cells) <= i {
			r.cells = append(r.cells, "")
		}
		r.cells[i] = says
	}
}

// stated holds the totals that a sheet states against the rows above them.
type stated struct {
	rows     []int32        // of totals
	currency money.Currency // of the amounts read
	several  bool           // currencies, so that nothing can be added up
	sum      []int64        // of the rows read so far, by column
	marks    map[int][]int64
	same     []int32       // rows whose totals agree
	other    []kept.Remark // and those that do not
	read     int           // rows with amounts
}

// add counts the amount that was just read, of a column.
func (s *stated) add(column int, f *kept.File) {
	n := len(f.Lines) + len(f.Postings)
	if n == s.read {
		return
	}
	var units int64
	var currency money.Currency
	if len(f.Lines) > 0 {
		l := &f.Lines[n-1]
		units, currency = l.Units, l.Currency
	} else {
		p := &f.Postings[n-1]
		units, currency = p.Units, p.Currency
	}
	s.several = s.several || s.read > 0 && currency != s.currency
	s.read, s.currency = n, currency
	for len(s.sum) <= column {
		s.sum = append(s.sum, 0)
	}
	s.sum[column] += units
}

// of is the sum of a column so far.
func (s *stated) of(column int) int64 {
	if column < len(s.sum) {
		return s.sum[column]
	}
	return 0
}

// state takes a row of totals: it agrees where it is the sum of all rows above, or of those since an earlier total.
func state(r *reader) {
	s := &r.stated
	s.rows = append(s.rows, r.row)
	var columns []int
	if at, ok := r.at["amount"]; ok && r.months == nil {
		columns = append(columns, at)
	}
	for i := range r.months {
		columns = append(columns, r.months[i].index)
	}
	agrees, states := true, false
	for _, at := range columns {
		said, ok := total(r, at)
		if !ok {
			continue
		}
		states = true
		sum := s.of(at)
		if said != sum && !slices.ContainsFunc(s.marks[at], func(before int64) bool { return sum-before == said }) {
			agrees = false
			s.other = append(s.other, kept.Remark{Row: r.row, Odd: true, Says: fmt.Sprintf(
				"row %d states %s in %s, the rows above come to %s", r.row, decimal(said), r.heads[at], decimal(sum))})
		}
		if s.marks == nil {
			s.marks = map[int][]int64{}
		}
		s.marks[at] = append(s.marks[at], sum)
	}
	if states && agrees {
		s.same = append(s.same, r.row)
	}
}

// total is the amount in a cell of a row of totals, in ten-thousandths; false where it holds none.
func total(r *reader, at int) (int64, bool) {
	if at >= len(r.cells) {
		return 0, false
	}
	probe := *r
	probe.mapping.Values, probe.mapping.Fixed = nil, nil
	probe.at, probe.cells, probe.inMonth = map[string]int{"amount": 0}, r.cells[at:at+1], nil
	probe.problems, probe.scaled = nil, []string{"amount"}
	n := probe.number("amount", 4)
	return n.N, n.Given
}

// decimal writes ten-thousandths with two decimals, or as many as count.
func decimal(units int64) string {
	if units%100 == 0 {
		return money.Decimal(units/100, 2)
	}
	return money.Decimal(units, 4)
}

// tell says which totals agree and which do not. Amounts of several currencies have no total.
func (s *stated) tell(r *reader) {
	if n := len(s.rows); n > 0 {
		remark(r, 0, false, "%s of totals left out (%s)", write.Count(n, "row", "rows"), rowList(s.rows))
	}
	if s.several || len(r.problems) > 0 {
		return
	}
	if n := len(s.same); n > 0 {
		remark(r, 0, false, "the totals in %s agree with the rows read", rowList(s.same))
	}
	for i, x := range s.other {
		if i == maxRemarks {
			remark(r, 0, true, "%d more totals do not agree", len(s.other)-i)
			break
		}
		remark(r, x.Row, true, "%s", x.Says)
	}
}

func rowList(rows []int32) string {
	var words []string
	for i, r := range rows {
		if i == maxRemarks {
			words = append(words, "…")
			break
		}
		words = append(words, fmt.Sprint("row ", r))
	}
	return strings.Join(words, ", ")
}
