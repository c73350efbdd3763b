package money

import (
	"regexp"
	"strings"
)

var (
	gaps         = strings.NewReplacer(" ", "", "\u00a0", "", "\u202f", "", "'", "", "−", "-")
	grouped      = regexp.MustCompile(`^[-+]?\d{1,3}(,\d{3})+(\.\d+)?$`)
	decimalComma = regexp.MustCompile(`^[-+]?\d+,\d{1,2}$`)
)

// Typed is a number as people type it (1 234.50, 1,234.50, 3,5, −7) as a plain decimal. What is none of these stays as it is, so that it is
// refused with what was typed.
func Typed(text string) string {
	s := gaps.Replace(strings.TrimSpace(text))
	switch {
	case grouped.MatchString(s):
		return strings.ReplaceAll(s, ",", "")
	case decimalComma.MatchString(s):
		return strings.Replace(s, ",", ".", 1)
	}
	return s
}
