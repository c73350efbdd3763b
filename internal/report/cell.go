package report

import (
	"strconv"
	"time"
)

// floatOf reads a decimal that a spreadsheet's numbers hold exactly enough: up to 15 digits.
func floatOf(text string) (float64, bool) {
	if text == "" || len(text) > 16 {
		return 0, false
	}
	f, err := strconv.ParseFloat(text, 64)
	return f, err == nil
}

func timeOf(text string) (time.Time, bool) {
	t, err := time.Parse("2006-01-02", text)
	return t, err == nil && t.Year() >= 1901
}
