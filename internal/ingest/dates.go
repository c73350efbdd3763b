package ingest

import (
	"strconv"
	"strings"

	"turret/internal/core/calendar"
)

// threeNumbers splits 31.12.2026, 31/12/26 or 12-31-2026 into its first two numbers; year tells that the last is one.
func threeNumbers(s string) (a, b int, year, ok bool) {
	parts := strings.FieldsFunc(s, func(r rune) bool { return r == '.' || r == '/' || r == '-' })
	if len(parts) != 3 || len(parts[0]) > 2 || len(parts[1]) > 2 {
		return 0, 0, false, false
	}
	a, err1 := strconv.Atoi(parts[0])
	b, err2 := strconv.Atoi(parts[1])
	_, err3 := strconv.Atoi(parts[2])
	return a, b, len(parts[2]) == 4 || len(parts[2]) == 2, err1 == nil && err2 == nil && err3 == nil
}

var monthWords = map[string]int{"jan": 1, "feb": 2, "mar": 3, "apr": 4, "may": 5, "jun": 6, "jul": 7, "aug": 8, "sep": 9, "sept": 9,
	"oct": 10,
	"nov": 11, "dec": 12, "january": 1, "february": 2, "march": 3, "april": 4, "june": 6, "july": 7, "august": 8, "september": 9,
	"october": 10, "november": 11, "december": 12}

func splitDate(s string) []string {
	return strings.FieldsFunc(strings.ToLower(s), func(r rune) bool {
		return r == '.' || r == '/' || r == '-' || r == ' ' || r == ',' ||
			r == '\u00a0'
	})
}

func yearOf(s string) (int, bool) {
	y, err := strconv.Atoi(s)
	switch {
	case err != nil || y < 0:
		return 0, false
	case len(s) == 4:
		return y, true
	case len(s) == 2:
		return 2000 + y, true
	}
	return 0, false
}

// dayOf reads a day written otherwise than YYYY-MM-DD: in a known order, or with the month as an English word. Two digits of
// a year are of this century.
func dayOf(s, order string) (calendar.Date, bool) {
	if i := strings.IndexAny(s, "T "); i == 10 { // a time of day behind it
		if d, err := calendar.ParseDate(s[:10]); err == nil {
			return d, true
		}
	}
	p := splitDate(s)
	if len(p) != 3 {
		return 0, false
	}
	if m, ok := monthWords[p[1]]; ok {
		return dayFrom(p[2], m, p[0])
	}
	if m, ok := monthWords[p[0]]; ok {
		return dayFrom(p[2], m, p[1])
	}
	y, m, d := p[0], p[1], p[2]
	switch {
	case len(p[0]) == 4:
	case order == "dmy":
		y, m, d = p[2], p[1], p[0]
	case order == "mdy":
		y, m, d = p[2], p[0], p[1]
	default:
		return 0, false
	}
	month, err := strconv.Atoi(m)
	if err != nil {
		return 0, false
	}
	return dayFrom(y, month, d)
}

func dayFrom(year string, month int, day string) (calendar.Date, bool) {
	y, ok := yearOf(year)
	d, err := strconv.Atoi(day)
	if !ok || err != nil {
		return 0, false
	}
	at := calendar.On(y, month, d)
	return at, at != 0
}

// serialDay reads the number by which workbooks count days: from the end of 1899, or from 1904. Times of day are cut.
func serialDay(s string, from1904 bool) (calendar.Date, bool) {
	whole, _, _ := strings.Cut(s, ".")
	n, err := strconv.Atoi(whole)
	if err != nil || n < 61 || n > 2_958_465 { // before 61 spreadsheets count a day that never was
		return 0, false
	}
	d := calendar.On(1899, 12, 30) + calendar.Date(n)
	if from1904 {
		d += 1462
	}
	return d, d <= calendar.MaxDate
}

// monthOf reads a month: 2026-11, Nov 2026, 11/2026, 11.2026.
func monthOf(s string) (calendar.Month, bool) {
	s = strings.TrimSpace(s)
	if m, err := calendar.ParseMonth(s); err == nil {
		return m, true
	}
	p := splitDate(s)
	if len(p) != 2 {
		return 0, false
	}
	year, month := p[1], p[0]
	if len(p[0]) == 4 {
		year, month = p[0], p[1]
	}
	m, ok := monthWords[month]
	if !ok {
		var err error
		if m, err = strconv.Atoi(month); err != nil || len(year) != 4 {
			return 0, false
		}
	}
	y, ok := yearOf(year)
	d := calendar.On(y, m, 1)
	return d.Month(), ok && d != 0
}
