package ingest

import (
	"fmt"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"

	"turret/internal/app/intake"
	"turret/internal/record"
)

// alike are heads that people give to columns, as app.Plain writes them. They are suggestions, to be seen before a load; a
// file without a mapping is read by the columns' own names alone.
var alike = map[string]string{
	"project":   "project code|project no|project number|project id|proj|job|job no|scheme",
	"cost_code": "cost code|account|cost element|cost type|budget line|cost item",
	"amount":    "value|cost|net|net amount|sum|posted amount|budget|forecast|total|eur|cost eur",
	"date":      "posting date|posted|posted on|booked on|booking date|day|document date",
	"document":  "voucher|voucher no|document no|doc no|invoice|invoice no|receipt",
	"supplier":  "vendor|creditor|company|contractor|paid to",
	"note":      "text|remark|remarks|comment|description|details", "name": "title|activity|task|task name|activity " +
		"name|description|milestone|what",
	"code": "id|no|number|key|activity id|activity code|ref|task id", "baseline_start": "baseline start|planned start|plan start|bl " +
		"start|start planned",
	"baseline_finish": "baseline finish|baseline end|planned finish|planned end|plan end|plan finish|bl finish|target date|finish planned",
	"start":           "start date|begin|forecast start|expected start|current start|start now",
	"finish":          "end|end date|finish date|forecast finish|forecast end|expected finish|current finish|expected|finish now",
	"actual_start":    "actual start|started|started on", "actual_finish": "actual finish|actual end|completed on|done " +
		"on|finished|finished on",
	"percent_complete": "% complete|percent complete|progress|progress %|complete|% done|percent|done %",
	"month":            "period|posting period|for month",
	"kind":             "type|activity type|sort", "overall": "status|overall status|overall health|health|state",
	"commentary":  "comment|comments|remarks|summary|text|in words",
	"cost_centre": "cost centre|cost center|cc|department", "currency": "ccy|cur|curr",
	"lead":   "project lead|project manager|manager|led by",
	"parent": "programme|summary|belongs to|phase", "remaining": "remaining days|days left|remaining duration",
	"duration":      "days|working days|duration days",
	"planned_start": "planned start", "planned_finish": "planned finish|planned end", "required_finish": "required finish|needed by",
	"report_to": "reported to|report to|level",
	"change":    "change no|change request|change ref", "owner": "responsible|who", "rate": "exchange rate",
	"from": "from date|predecessor|valid from", "to": "to date|successor|valid to",
	"schedule": "schedule status|time", "cost": "cost status|money", "scope": "scope status", "risk": "risk status",
	"ev_method": "ev method|earning rule",
}

// suggestion is the column of a kind that a head probably means, empty for none.
func suggestion(in *record.Input, head string) string {
	bare := bareHead(head)
	for _, c := range in.Columns {
		if strings.ReplaceAll(c.Name, "_", " ") == bare || c.Title != "" && bareHead(c.Title) == bare {
			return c.Name
		}
	}
	for _, c := range in.Columns {
		if slices.Contains(strings.Split(alike[c.Name], "|"), bare) {
			return c.Name
		}
	}
	return ""
}

var headMarks = strings.NewReplacer("_", " ", "-", " ", ":", " ")

// bareHead is a head without units and marks.
func bareHead(head string) string {
	return strings.TrimRight(intake.Plain(strings.TrimSpace(headMarks.Replace(unitWords.ReplaceAllString(head, " ")))), ".")
}

// headWords are the names of all columns of all kinds, and every bare head that suggests one.
var headWords = sync.OnceValue(func() (w struct{ names, like map[string]bool }) {
	w.names, w.like = map[string]bool{}, map[string]bool{}
	for _, k := range record.Kinds() {
		for _, c := range k.Input().Columns {
			w.names[c.Name], w.like[strings.ReplaceAll(c.Name, "_", " ")] = true, true
			for _, word := range strings.Split(alike[c.Name], "|") {
				w.like[word] = true
			}
		}
	}
	delete(w.like, "")
	return w
})

var (
	unitWords = regexp.MustCompile(`\(?\b(k€|keur|t€|teur|m€|meur|k|eur|€)(\)|$)|\[.*?\]|\bin (thousands|millions|thousand)\b|'000|k€|€`)
	thousands = regexp.MustCompile(`k€|\bkeur\b|t€|\bteur\b|'000|thousand|\(k\)|€k|\btsd\b`)
	millions  = regexp.MustCompile(`m€|\bmeur\b|million|€m|\bmio\b`)
)

// factorOf is what the amounts below a head are to be multiplied by.
func factorOf(head string) int64 {
	switch {
	case thousands.MatchString(head):
		return 1000
	case millions.MatchString(head):
		return 1_000_000
	}
	return 1
}

// totals are words that begin rows of sums.
var totals = []string{"total", "totals", "subtotal", "sub-total", "grand total", "sum"}

// look recognises a sheet. With suggest, heads that are not columns are guessed at; remembered mappings go before guesses.
// What chosen settles is not recognised again.
func (rd Reader) look(file string, n named, kind record.Kind, chosen intake.Mapping, remembered []intake.Mapping, suggest bool,
	order string) (*intake.Sheet,
	error) {
	s := &intake.Sheet{File: file, Name: n.name, Mapping: chosen, Own: rd.Own}
	if s.Mapping.Kind == "" {
		s.Mapping.Kind = kind
	}
	m := &s.Mapping
	rows, words, err := n.part.sample(&m.Dialect)
	if err != nil {
		return nil, err
	}
	at := headRow(rows, m.Dialect.HeadRow, remembered)
	if at < 0 {
		return nil, unreadable(s.Title(), "a head line and rows below it; the sheet is empty")
	}
	m.Dialect.HeadRow = rows[at].row
	above := ""
	for _, r := range rows[:at] {
		above += " " + strings.ToLower(strings.Join(r.cells, " "))
	}
	s.Heads = rows[at].cells
	for _, r := range rows[at+1:] {
		if !blank(r.cells) && len(s.Sample) < 200 {
			s.Sample = append(s.Sample, r.cells)
		}
	}
	l := &looking{own: rd.Own, s: s, above: above, suggest: suggest, traits: n.part.traits(), names: headNames(s.Heads)}
	held := intake.Recall(remembered, l.names)
	if held != nil && kind != "" && held.Kind != kind && (held.Fits(l.names) < len(l.names) || plainly(file, n.name, kind, l.names)) {
		held = nil // made for fewer heads or for a file of another name, while the name says what it is
	}
	if held != nil && chosen.Kind == "" {
		l.recall(held)
	} else {
		l.columns()
	}
	l.finish(order)
	s.Recognised = inWords(words, m.Dialect)
	s.Found = *m
	if held != nil && s.Remembered {
		s.Found, s.Held = l.alone(kind, order), held
	}
	return s, nil
}

// finish recognises how numbers and days are written.
func (l *looking) finish(order string) {
	l.s.Mapping.Heads = l.names
	l.numbers()
	l.dates(order)
}

// alone is the mapping that the sheet tells by itself, without what is remembered.
func (l *looking) alone(kind record.Kind, order string) intake.Mapping {
	d := l.s.Mapping.Dialect
	d.Decimal, d.Dates = "", ""
	s := &intake.Sheet{File: l.s.File, Name: l.s.Name, Heads: l.s.Heads, Sample: l.s.Sample,
		Mapping: intake.Mapping{Kind: kind, Dialect: d}}
	bare := &looking{own: l.own, s: s, above: l.above, suggest: l.suggest, traits: l.traits, names: l.names}
	bare.columns()
	bare.finish(order)
	return s.Mapping
}

// plainly reports whether a file or sheet is named after a kind, without more, and has all the columns that the kind must have.
func plainly(file, sheet string, kind record.Kind, heads []string) bool {
	if string(kind) != sheet && string(kind) != strings.TrimSuffix(file, filepath.Ext(file)) {
		return false
	}
	return !slices.ContainsFunc(kind.Input().Required(), func(name string) bool { return !slices.Contains(heads, name) })
}

// headRow is the index of the row that holds the heads: the one chosen, else that with most names of columns.
func headRow(rows []sampleRow, chosen int32, remembered []intake.Mapping) int {
	best, most := -1, 0
	for i, r := range rows {
		if blank(r.cells) {
			continue
		}
		if chosen != 0 {
			if r.row == chosen {
				return i
			}
			continue
		}
		if i > 20 {
			break
		}
		if n := headLike(r.cells, remembered); best < 0 || n > most {
			best, most = i, n
		}
	}
	return best
}

func headLike(cells []string, remembered []intake.Mapping) int {
	score, filled := 0, 0
	for _, c := range cells {
		p := intake.Plain(c)
		if p == "" {
			continue
		}
		filled++
		words := headWords()
		known, guessed := words.names[p], words.like[bareHead(p)]
		for i := range remembered {
			known = known || remembered[i].Columns[p] != ""
		}
		if _, ok := monthOf(c); ok {
			guessed = true
		}
		if known {
			score += 6
		} else if guessed {
			score += 4
		}
	}
	if filled > 1 {
		score += min(filled, 4)
	}
	return score
}

// headNames are the heads as mappings know them; one without a text is named after its column, one met again numbered.
func headNames(heads []string) []string {
	names := make([]string, len(heads))
	seen := map[string]int{}
	for i, h := range heads {
		p := intake.Plain(h)
		if p == "" {
			p = fmt.Sprintf("(column %s)", letters(i))
		}
		if seen[p]++; seen[p] > 1 {
			p = fmt.Sprintf("%s (%d)", p, seen[p])
		}
		names[i] = p
	}
	return names
}

// letters names the ith column from 0 as spreadsheets do.
func letters(i int) string {
	s := ""
	for i++; i > 0; i = (i - 1) / 26 {
		s = string(rune('A'+(i-1)%26)) + s
	}
	return s
}

// looking is the work of recognising one sheet.
type looking struct {
	own     []record.Column // that the office made for projects
	s       *intake.Sheet
	suggest bool
	traits  traits
	names   []string
	kept    *intake.Mapping
	above   string // what stands above the head
}

func (l *looking) recall(held *intake.Mapping) {
	m := &l.s.Mapping
	d := m.Dialect
	*m = *held
	l.kept, l.s.Remembered = held, true
	d.Dates, d.Decimal = "", ""
	m.Dialect = d
	l.months()
}

// columns finds the kind where it is open, and the column of each head.
func (l *looking) columns() {
	m := &l.s.Mapping
	if m.Kind == "" {
		m.Kind = l.kindByHeads()
	}
	m.Columns = map[string]string{}
	if m.Factors == nil {
		m.Factors = map[string]int64{}
	}
	in := m.Kind.InputWith(l.own)
	if in == nil {
		for _, n := range l.names {
			m.Columns[n] = ""
		}
		return
	}
	taken := map[string]bool{}
	for _, n := range l.names {
		if _, ok := in.Column(n); ok && !taken[n] {
			m.Columns[n], taken[n] = n, true
		}
	}
	if !l.suggest {
		return
	}
	l.months()
	for _, n := range l.names {
		if m.Columns[n] != "" {
			continue
		}
		m.Columns[n] = ""
		if c := suggestion(in, n); c != "" && !taken[c] && !(len(l.s.Months) > 0 && (c == "amount" || c == "month")) {
			m.Columns[n], taken[c] = c, true
		}
	}
	for _, n := range append([]string{l.above}, l.names...) {
		if f := factorOf(n); f != 1 && (n == l.above || m.Columns[n] == "amount" || slices.Contains(l.s.Months, n)) {
			m.Factors["amount"] = f
		}
	}
	if m.LeaveOut == nil {
		m.LeaveOut = totals
	}
	l.share()
}

// months finds heads that are months; a plan may have one column for each.
func (l *looking) months() {
	if k := l.s.Mapping.Kind; k != record.Budget && k != record.Forecast {
		return
	}
	for i, h := range l.s.Heads {
		if _, ok := monthOf(h); ok {
			l.s.Months = append(l.s.Months, l.names[i])
		}
	}
	if len(l.s.Months) < 2 {
		l.s.Months = nil
	}
}

// share sees percentages written as fractions, as workbooks keep them.
func (l *looking) share() {
	fractions := 0
	for _, c := range l.cells("percent_complete") {
		switch {
		case !l.traits.workbook || !fraction.MatchString(c):
			return
		case strings.Contains(c, "."):
			fractions++
		}
	}
	if fractions > 0 {
		l.s.Mapping.Factors["percent_complete"] = 100
	}
}

var fraction = regexp.MustCompile(`^(0(\.\d+)?|1(\.0+)?)$`)

func (l *looking) kindByHeads() record.Kind {
	best, most := record.Kind(""), 0
	for _, k := range record.Kinds() {
		in := k.InputWith(l.own)
		score, missing := 0, 0
		got := map[string]bool{}
		for _, n := range l.names {
			if _, ok := in.Column(n); ok {
				got[n] = true
				score += 3
			} else if c := suggestion(in, n); c != "" && l.suggest && !got[c] {
				got[c] = true
				score += 2
			}
		}
		months := 0
		for _, h := range l.s.Heads {
			if _, ok := monthOf(h); ok {
				months++
			}
		}
		if months >= 2 && k == record.Forecast {
			got["amount"] = true
			score += 4
		}
		for _, r := range in.Required() {
			if !got[r] {
				missing++
			}
		}
		if score -= 4 * missing; missing <= 1 && score > most {
			best, most = k, score
		}
	}
	return best
}

// cells are those of the sample below the head of a column.
func (l *looking) cells(columns ...string) []string {
	var list []string
	for i, n := range l.names {
		column := l.s.Mapping.Columns[n]
		if column == "" && slices.Contains(l.s.Months, n) {
			column = "amount"
		}
		if !slices.Contains(columns, column) {
			continue
		}
		for _, row := range l.s.Sample {
			if i < len(row) && strings.TrimSpace(row[i]) != "" {
				list = append(list, strings.TrimSpace(row[i]))
			}
		}
	}
	return list
}

// of lists the columns of the kind with cells of some sorts.
func (l *looking) of(sorts ...record.Cell) []string {
	in := l.s.Mapping.Kind.InputWith(l.own)
	if in == nil {
		return nil
	}
	var names []string
	for _, c := range in.Columns {
		if slices.Contains(sorts, c.Cell) {
			names = append(names, c.Name)
		}
	}
	return names
}

var (
	grouped = regexp.MustCompile(`^\d{1,3}([.,]\d{3})+$`)
	noise   = strings.NewReplacer(" ", "", "\u00a0", "", "\u202f", "", "'", "", "’", "", "-", "", "−", "", "+", "", "€", "", "%", "", "(",
		"", ")", "")
)

// numbers recognises the decimal sign.
func (l *looking) numbers() {
	d := &l.s.Mapping.Dialect
	if d.Decimal == "" {
		var open string
		d.Decimal, open = decimalSign(l.cells(l.of(record.Units, record.Number, record.Whole, record.Percent, record.Portion)...),
			l.traits.workbook,
			d.Separator)
		if open != "" && l.kept != nil {
			d.Decimal, open = l.kept.Dialect.Decimal, ""
		}
		if open != "" {
			l.s.Doubts = append(l.s.Doubts, fmt.Sprintf("“%s” may be a number with decimals or with thousands: choose the decimal sign",
				open))
		}
	}
}

// decimalSign is point or comma, or open with a cell that could be either.
func decimalSign(cells []string, workbook bool, separator string) (sign, open string) {
	point, comma := 0, 0
	for _, c := range cells {
		c = noise.Replace(c)
		p, q := strings.LastIndexByte(c, '.'), strings.LastIndexByte(c, ',')
		switch {
		case p < 0 && q < 0:
		case p >= 0 && q >= 0 && p > q:
			point++
		case p >= 0 && q >= 0:
			comma++
		case grouped.MatchString(c) && strings.Count(c, ",") > 1:
			point++
		case grouped.MatchString(c) && strings.Count(c, ".") > 1:
			comma++
		case grouped.MatchString(c) && c[0] != '0' && !workbook && (q >= 0 || separator != "comma"):
			open = c
		case p >= 0:
			point++
		default:
			comma++
		}
	}
	switch {
	case point > 0:
		return "point", ""
	case comma > 0:
		return "comma", ""
	case open != "":
		return "", open
	}
	return "point", ""
}

// dates recognises the order of day, month and year.
func (l *looking) dates(order string) {
	d := &l.s.Mapping.Dialect
	if d.Dates == "" {
		var open string
		d.Dates, open = dateOrder(l.cells(l.of(record.Day, record.Month)...))
		if open != "" && l.kept != nil && l.kept.Dialect.Dates != "" {
			d.Dates, open = l.kept.Dialect.Dates, ""
		}
		if open != "" && order != "" {
			d.Dates, open = order, ""
		}
		if open != "" {
			l.s.Doubts = append(l.s.Doubts, fmt.Sprintf("“%s” may be two days: choose the order of dates", open))
		}
	}
}

// inWords says how a sheet is read: what its form is, and what of it departs from Turret's own.
func inWords(words []string, d intake.Dialect) string {
	if d.HeadRow > 1 {
		words = append(words, fmt.Sprintf("head in row %d", d.HeadRow))
	}
	if d.Decimal == "comma" {
		words = append(words, "decimal comma")
	}
	switch d.Dates {
	case "dmy":
		words = append(words, "dates day first")
	case "mdy":
		words = append(words, "dates month first")
	}
	return strings.Join(words, ", ")
}

// dateOrder is ymd, dmy or mdy, or open with a cell that could be two days.
func dateOrder(cells []string) (order, open string) {
	dmy, mdy := 0, 0
	for _, c := range cells {
		a, b, year, ok := threeNumbers(c)
		switch {
		case !ok || a == b && year:
		case a > 12:
			dmy++
		case b > 12:
			mdy++
		default:
			open = c
		}
	}
	switch {
	case dmy > 0 && mdy == 0:
		return "dmy", ""
	case mdy > 0 && dmy == 0:
		return "mdy", ""
	case open != "" || dmy > 0:
		return "", open
	}
	return "ymd", ""
}
