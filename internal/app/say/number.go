package say

import (
	"strings"

	"turret/internal/core/money"
	"turret/internal/core/write"
)

// Decimal sets the thousands of a plain number apart, with a true minus; what is no number stays as it is.
func Decimal(s string) string {
	_, decimals, _ := strings.Cut(s, ".")
	n, err := money.ParseDecimal(s, len(decimals))
	if err != nil {
		return s
	}
	return write.Decimal(n, len(decimals))
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
