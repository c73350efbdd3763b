package export

import (
	"strconv"
	"strings"
	"time"
)

// Float reads a decimal that a spreadsheet's numbers hold exactly enough: up to 15 digits; false for what is none.
func Float(text string) (float64, bool) {
	if text == "" || len(text) > 16 {
		return 0, false
	}
	f, err := strconv.ParseFloat(text, 64)
	return f, err == nil
}

// Day reads a day that a spreadsheet can hold, from 1901 on; false for what is none.
func Day(text string) (time.Time, bool) {
	t, err := time.Parse("2006-01-02", text)
	return t, err == nil && t.Year() >= 1901
}

// Safe guards a text cell that a spreadsheet would run as a formula, with an apostrophe before it; and one that is guarded already, so
// that the reader of CSV, which takes one apostrophe off, gets back what was written.
func Safe(s string) string {
	if bare := strings.TrimLeft(s, "'"); bare != "" && strings.ContainsRune("=+-@\t\r", rune(bare[0])) {
		return "'" + s
	}
	return s
}
