package ingest

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"turret/internal/app/fault"
	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/fact"
	"turret/internal/core/health"
	"turret/internal/core/money"
	"turret/internal/record"
)

// reader reads the cells of one row after another, noting what is wrong with them.
type reader struct {
	file     *kept.File
	input    *record.Input
	mapping  intake.Mapping
	traits   traits
	heads    []string
	at       map[string]int
	months   []monthColumn
	decimal  byte
	row      int32
	cells    []string
	inMonth  *monthColumn // of which the row is being read, where months have columns
	stated   stated       // by rows of totals
	scaled   []string     // columns of which it was said what their factor does
	problems []fault.Problem
	shared   map[string]string

	numeric func(row int32, column int, cell string) bool // tells numbers of a workbook from texts that look like them; nil where none are
}

// monthColumn is a column whose cells are the amounts of one month.
type monthColumn struct {
	index int
	month calendar.Month
}

// Lengths of cells, in bytes.
const (
	maxCode = 64
	maxText = 20_000
)

// raw is what a cell says, or what it means where the mapping knows that.
func (r *reader) raw(column string) string {
	s := r.cell(column)
	if s == "" && r.mapping.Fixed != nil {
		s = r.mapping.Fixed[column]
	}
	if means, ok := r.mapping.Values[column]; ok && s != "" {
		if to, ok := means[intake.Plain(s)]; ok {
			return to
		}
	}
	return s
}

// figure is what a cell of a number, day or month says; one of a workbook without the exponent and the digits beyond those that count.
func (r *reader) figure(column string) string {
	s := r.raw(column)
	if r.traits.workbook {
		return plainNumber(s)
	}
	return s
}

// words is what a cell of text says. A number typed into one is written as a number is, a text that looks like one stays as it is.
func (r *reader) words(column string) string {
	s := r.raw(column)
	if r.numeric == nil {
		return s
	}
	if plain := plainNumber(s); plain != s {
		if at, ok := r.at[column]; ok && r.numeric(r.row, at, s) {
			return plain
		}
	}
	return s
}

// part tells apart the lines of one row.
func (r *reader) part() int32 {
	if r.inMonth == nil {
		return 0
	}
	return int32(r.inMonth.index)
}

func (r *reader) cell(column string) string {
	if r.inMonth != nil {
		switch column {
		case "month":
			return r.inMonth.month.String()
		case "amount":
			return strings.TrimSpace(r.cells[r.inMonth.index])
		}
	}
	i, ok := r.at[column]
	if !ok || i >= len(r.cells) {
		return ""
	}
	return strings.TrimSpace(r.cells[i])
}

func (r *reader) wrong(column, expected string) {
	if r.inMonth != nil && column == "amount" {
		r.fail(r.row, r.heads[r.inMonth.index], strings.ToValidUTF8(r.raw(column), "�"), expected)
		return
	}
	r.fail(r.row, column, strings.ToValidUTF8(r.raw(column), "�"), expected)
}

// need is a cell that must be given.
func (r *reader) need(column string) string {
	s := r.words(column)
	if s == "" {
		r.wrong(column, "a value")
	}
	return s
}

// share returns one copy of equal strings, so that millions of rows do not keep the same code.
func (r *reader) share(s string) string {
	if s == "" {
		return ""
	}
	if r.shared == nil {
		r.shared = map[string]string{}
	}
	if held, ok := r.shared[s]; ok {
		return held
	}
	held := strings.Clone(s)
	if len(r.shared) < 100_000 {
		r.shared[held] = held
	}
	return held
}

// checked refuses texts that cannot be kept and returns one copy of equal ones.
func (r *reader) checked(column, s string, limit int) string {
	r.check(column, s, limit)
	return r.share(oneBreak(s))
}

// oneBreak writes the breaks between lines in one way.
func oneBreak(s string) string {
	if strings.IndexByte(s, '\r') < 0 {
		return s
	}
	return strings.ReplaceAll(strings.ReplaceAll(s, "\r\n", "\n"), "\r", "\n")
}

func (r *reader) check(column, s string, limit int) {
	switch {
	case !utf8.ValidString(s):
		r.wrong(column, "text in UTF-8")
	case len(s) > limit:
		r.wrong(column, "a shorter text")
	case strings.IndexFunc(s, func(c rune) bool {
		return unicode.IsControl(c) && c != '\n' && c != '\r' && c != '\t' || c == '\uFFFE' || c == '\uFFFF'
	}) >= 0:
		r.wrong(column, "text without control characters")
	}
}

// unique is a text that seldom stands twice, such as the number of a document.
func (r *reader) unique(column string) string {
	s := r.words(column)
	r.check(column, s, maxText)
	return strings.Clone(oneBreak(s))
}

func (r *reader) code(column string) string     { return r.checked(column, r.need(column), maxCode) }
func (r *reader) optional(column string) string { return r.checked(column, r.words(column), maxCode) }
func (r *reader) name(column string) string     { return r.checked(column, r.need(column), maxText) }
func (r *reader) text(column string) string     { return r.checked(column, r.words(column), maxText) }

// choice is one of the values listed, the first where the cell is empty.
func (r *reader) choice(column string, values ...string) int {
	s := strings.ToLower(r.raw(column))
	if s == "" {
		return 0
	}
	for i, v := range values {
		if s == strings.ToLower(v) {
			return i
		}
	}
	r.wrong(column, "one of "+strings.Join(values, ", "))
	return 0
}

func (r *reader) date(column string) calendar.Date {
	s := r.figure(column)
	if s == "" {
		return 0
	}
	if d, err := calendar.ParseDate(s); err == nil {
		return d
	}
	if r.traits.workbook {
		if d, ok := serialDay(s, r.traits.from1904); ok {
			return d
		}
	}
	d, ok := dayOf(s, r.mapping.Dialect.Dates)
	if _, _, _, three := threeNumbers(s); !ok && three && r.mapping.Dialect.Dates == "" {
		r.wrong(column, "a day of the calendar as YYYY-MM-DD, or the order of day and month chosen")
	} else if !ok {
		r.wrong(column, "a day of the calendar as YYYY-MM-DD")
	}
	return d
}

func (r *reader) month(column string) calendar.Month {
	s := r.figure(column)
	if s == "" {
		return 0
	}
	if m, ok := monthOf(s); ok {
		return m
	}
	if r.traits.workbook {
		if d, ok := serialDay(s, r.traits.from1904); ok {
			return d.Month()
		}
	}
	if d, ok := dayOf(s, r.mapping.Dialect.Dates); ok {
		return d.Month()
	}
	if d, err := calendar.ParseDate(s); err == nil {
		return d.Month()
	}
	r.wrong(column, "a month as YYYY-MM")
	return 0
}

// moneyMonth is a month that money may lie in.
func (r *reader) moneyMonth(column string) calendar.Month {
	m := r.month(column)
	if m != 0 && (m < calendar.On(record.FirstYear, 1, 1).Month() || m > calendar.On(record.LastYear, 12, 1).Month()) {
		r.wrong(column, fmt.Sprintf("a month from %d-01 to %d-12", record.FirstYear, record.LastYear))
		return 0
	}
	return m
}

// moneyDay is a day that money may lie on.
func (r *reader) moneyDay(column string) calendar.Date {
	d := r.date(column)
	if d != 0 && (d < calendar.On(record.FirstYear, 1, 1) || d > calendar.On(record.LastYear, 12, 31)) {
		r.wrong(column, fmt.Sprintf("a day from %d to %d", record.FirstYear, record.LastYear))
		return 0
	}
	return d
}

// number reads a decimal of at most the given places, as a whole number of the last place.
func (r *reader) number(column string, places int) fact.Int {
	s := r.figure(column)
	if s == "" {
		return fact.Int{}
	}
	for f := r.mapping.Factors[column]; f > 1; f /= 10 { // in thousands: three more decimals count
		places++
	}
	n, err := money.ParseDecimal(s, places)
	if err != nil || r.decimal == ',' {
		plain, ok := r.plain(s)
		if n, err = money.ParseDecimal(plain, places); !ok {
			err = money.ErrAmount
		} else if err != nil && (r.traits.workbook || r.mapping.Round) {
			n, err = r.rounded(plain, places)
		}
	}
	switch {
	case errors.Is(err, money.ErrRange):
		r.wrong(column, "a smaller number")
	case err != nil && places == 0:
		r.wrong(column, "a whole number")
	case err != nil && r.decimal == 0:
		r.wrong(column, "a number such as 1234.50, or the decimal sign chosen")
	case err != nil && r.decimal == ',':
		r.wrong(column, "a number such as 1234,50, as in the rest of the file")
	case err != nil:
		r.wrong(column, "a number such as 1234.50, its thousands separated as in 1,234.50 or not at all")
	}
	if err == nil {
		tellFactor(r, column, s, n, places)
	}
	return fact.Int{N: n, Given: err == nil}
}

// rounded reads a number with more decimals than count. Those of a workbook's arithmetic, a hundred-millionth or less, are
// dropped; others only where the mapping says so.
func (r *reader) rounded(s string, places int) (int64, error) {
	f, err := strconv.ParseFloat(s, 64)
	if err != nil || math.Abs(f) > 1e11 {
		return 0, money.ErrAmount
	}
	f *= math.Pow10(places)
	n := math.RoundToEven(f)
	if math.Abs(f-n) > 1e-4*max(1, math.Abs(f)*1e-9) && !r.mapping.Round {
		return 0, money.ErrAmount
	}
	return int64(n), nil
}

// plain writes a number as the core reads it: a point for the decimals, a hyphen for the minus, nothing else. It is false for
// what is no number by the dialect of the file.
func (r *reader) plain(s string) (string, bool) {
	t := s
	if strings.HasPrefix(t, "(") && strings.HasSuffix(t, ")") {
		t = "-" + t[1:len(t)-1]
	}
	t = blanks.Replace(t)
	if strings.HasSuffix(t, "-") && !strings.HasPrefix(t, "-") {
		t = "-" + strings.TrimSuffix(t, "-")
	}
	group, point := ",", "."
	if r.decimal == ',' {
		group, point = ".", ","
	}
	whole, decimals, has := strings.Cut(t, point)
	if strings.Contains(whole, group) {
		if r.decimal == 0 || !grouped.MatchString(strings.TrimLeft(whole, "+-")) {
			return "", false
		}
		whole = strings.ReplaceAll(whole, group, "")
	}
	if has && strings.ContainsAny(decimals, ",.") || has && r.decimal == 0 && len(decimals) == 3 {
		return "", false
	}
	if has {
		return whole + "." + decimals, true
	}
	return whole, true
}

// blanks are marks that change nothing about a number.
var blanks = strings.NewReplacer(" ", "", "\u00a0", "", "\u202f", "", "'", "", "’", "", "−", "-", "€", "", "%", "", "£", "", "$", "")

// days is a whole number of working days within bounds that keep date arithmetic safe.
func (r *reader) days(column string, lowest int64) fact.Int {
	n := r.number(column, 0)
	if n.Given && (n.N < lowest || n.N > 100_000) {
		r.wrong(column, "a number of working days that a project can have")
	}
	return n
}

func (r *reader) percent(column string) fact.Int {
	n := r.number(column, 2)
	if n.Given && (n.N < 0 || n.N > 10_000) {
		r.wrong(column, "a percentage from 0 to 100")
	}
	return n
}

// units is an amount in ten-thousandths of the major unit.
func (r *reader) units(column string) int64 {
	r.need(column)
	return r.number(column, 4).N
}

func (r *reader) currency(column string) money.Currency {
	s := r.raw(column)
	if s == "" {
		return ""
	}
	c, err := money.ParseCurrency(s)
	if err != nil {
		r.wrong(column, "a currency code of ISO 4217 such as EUR")
		return ""
	}
	return money.Currency(r.share(string(c)))
}

func (r *reader) status(column string) health.Status {
	return health.Status(r.choice(column, "not assessed", "on track", "watch", "act"))
}
