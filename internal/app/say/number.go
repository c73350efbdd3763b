package say

import (
	"strconv"
	"strings"

	"turret/internal/core/money"
)

// Thousands is a number with commas.
func Thousands(n int) string {
	s := strconv.Itoa(n)
	for i := len(s) - 3; i > 0; i -= 3 {
		s = s[:i] + "," + s[i:]
	}
	return s
}

// Decimal sets the thousands of a plain number apart, with a true minus; what is no number stays as it is.
func Decimal(s string) string {
	sign, digits := "", s
	if rest, ok := strings.CutPrefix(s, "-"); ok {
		sign, digits = "−", rest
	}
	whole, rest, found := strings.Cut(digits, ".")
	n, err := strconv.Atoi(whole)
	if err != nil {
		return s
	}
	whole = Thousands(n)
	if found {
		whole += "." + rest
	}
	return sign + whole
}

// CompareDecimals orders plain numbers of up to four decimals; what is none comes first.
func CompareDecimals(x, y string) int {
	n, errX := money.ParseDecimal(x, 4)
	m, errY := money.ParseDecimal(y, 4)
	switch {
	case errX != nil && errY != nil:
		return strings.Compare(x, y)
	case errX != nil || errY == nil && n < m:
		return -1
	case errY != nil || n > m:
		return 1
	}
	return 0
}
