// Package money holds exact amounts: whole minor units of an ISO 4217 currency, never a float.
//
// Splitting uses the largest remainder, so that parts add up to the whole. Conversion and proportions round half to even.
//
// # Bounds
//
// One amount is at most a hundred thousand million major units of two decimals (MaxAmount), so that sums of hundreds of thousands of them
// fit an int64. Products are taken in 128 bits; a result that no int64 holds is an error, or where there is none to return the largest
// amount.
package money

import (
	"errors"
	"fmt"
	"math/bits"
	"sort"
	"strings"

	"turret/internal/core/write"
)

// Errors wrapped by what this package returns.
var (
	ErrAmount   = errors.New("not an amount")
	ErrCurrency = errors.New("not a currency of ISO 4217")
	ErrRange    = errors.New("beyond the largest amount")
)

// Amount is a number of minor units (cents) of some currency. Negative amounts are credits or shortfalls. Amounts of different currencies
// must not be added; nothing here prevents it.
type Amount int64

// MaxAmount bounds a single amount in minor units, so that 900,000 of the largest still add up without overflow.
const MaxAmount Amount = 10_000_000_000_000

// ParseDecimal reads a plain decimal such as -1234.50 with at most the given number of decimals, as a whole number of
// the last one. There is no grouping, exponent or rounding; a wrong text is an error wrapping ErrAmount or ErrRange.
func ParseDecimal(s string, decimals int) (int64, error) {
	rest, negative := s, false
	if rest != "" && (rest[0] == '-' || rest[0] == '+') {
		negative = rest[0] == '-'
		rest = rest[1:]
	}
	var n int64
	seen, point, places := false, false, 0
	for i := 0; i < len(rest); i++ {
		c := rest[i]
		switch {
		case c == '.' && !point:
			point = true
			continue
		case c < '0' || c > '9':
			return 0, fmt.Errorf("%q: %w", s, ErrAmount)
		}
		seen = true
		if point {
			if places == decimals {
				if c == '0' {
					continue
				}
				return 0, fmt.Errorf("%q has more than %d decimals: %w", s, decimals, ErrAmount)
			}
			places++
		}
		if n > 99_999_999_999_999_999 {
			return 0, fmt.Errorf("%q: %w", s, ErrRange)
		}
		n = n*10 + int64(c-'0')
	}
	if !seen {
		return 0, fmt.Errorf("%q: %w", s, ErrAmount)
	}
	for ; places < decimals; places++ {
		if n > 99_999_999_999_999_999 {
			return 0, fmt.Errorf("%q: %w", s, ErrRange)
		}
		n *= 10
	}
	if negative {
		n = -n
	}
	return n, nil
}

// Parse reads an amount in major units of currency c, exactly.
func Parse(s string, c Currency) (Amount, error) {
	n, err := ParseDecimal(s, c.Decimals())
	if err != nil {
		return 0, err
	}
	if a := Amount(n); a > MaxAmount || a < -MaxAmount {
		return 0, fmt.Errorf("%q: %w", s, ErrRange)
	}
	return Amount(n), nil
}

// Text writes a in major units with the currency's decimals and a plain hyphen, as files hold it.
func (a Amount) Text(c Currency) string { return Decimal(int64(a), c.Decimals()) }

// Decimal writes n, a whole number of the given decimal place, as a decimal.
func Decimal(n int64, decimals int) string {
	sign := ""
	u := uint64(n)
	if n < 0 {
		sign, u = "-", -u
	}
	s := fmt.Sprintf("%0*d", decimals+1, u)
	if decimals == 0 {
		return sign + s
	}
	return sign + s[:len(s)-decimals] + "." + s[len(s)-decimals:]
}

// Plain writes n, a whole number of the given decimal place, without the zeros behind the last decimal that counts.
func Plain(n int64, decimals int) string {
	s := Decimal(n, decimals)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	return s
}

// Human writes a for reading: thousands separated, a true minus, the currency's sign or code before it.
func (a Amount) Human(c Currency) string { return write.Money(c.Sign(), int64(a), c.Decimals()) }

// Short writes a for headlines in thousands or millions, rounded half to even: €13.60 M, €840 k, €312.
func (a Amount) Short(c Currency) string {
	unit := int64(1)
	for range c.Decimals() {
		unit *= 10
	}
	in := func(of int64, places int) string { return write.Money(c.Sign(), int64(MulDiv(a, 1, of)), places) }
	switch major := max(a, -a) / Amount(unit); {
	case major >= 100_000_000:
		return in(100_000*unit, 1) + " M"
	case major >= 1_000_000:
		return in(10_000*unit, 2) + " M"
	case major >= 10_000:
		return in(1_000*unit, 0) + " k"
	}
	return in(unit, 0)
}

// Gain writes a as Short does, with a plus where it reads as more than nothing.
func (a Amount) Gain(c Currency) string { return write.Gain(int64(a), a.Short(c)) }

// MulDiv is a x num / den rounded half to even, with any signs; den must not be zero. A result beyond int64 saturates, which amounts
// within MaxAmount and a share num/den of at most one cannot reach.
func MulDiv(a Amount, num, den int64) Amount {
	negative := (a < 0) != (num < 0) != (den < 0)
	hi, lo := bits.Mul64(magnitude(int64(a)), magnitude(num))
	q, ok := divEven(hi, lo, magnitude(den))
	if !ok {
		q = 1<<63 - 1
	}
	if negative {
		return -Amount(q)
	}
	return Amount(q)
}

// magnitude is n without its sign.
func magnitude(n int64) uint64 {
	if n < 0 {
		return -uint64(n)
	}
	return uint64(n)
}

// divEven divides 128 bits by 64 and rounds half to even; false where the quotient is beyond int64.
func divEven(hi, lo, den uint64) (uint64, bool) {
	if hi >= den {
		return 0, false
	}
	q, r := bits.Div64(hi, lo, den)
	if twice := r << 1; r >= 1<<63 || twice > den || (twice == den && q&1 == 1) {
		q++
	}
	return q, q <= 1<<63-1
}

// Split divides a in proportion to weights so that the parts add up to a: each part is rounded toward zero and the units
// left go one each to the largest remainders, ties to the lower index. Negative weights count as 0; without any positive
// weight the whole goes to the first part. It takes O(n log n).
func Split(a Amount, weights []int64) []Amount {
	parts := make([]Amount, len(weights))
	if len(weights) == 0 {
		return parts
	}
	var total uint64
	for _, w := range weights {
		total += uint64(max(w, 0))
	}
	if total == 0 {
		parts[0] = a
		return parts
	}
	negative := a < 0
	u := uint64(a)
	if negative {
		u = -u
	}
	type rest struct {
		r uint64
		i int
	}
	rests := make([]rest, len(weights))
	left := u
	for i, w := range weights {
		hi, lo := bits.Mul64(u, uint64(max(w, 0)))
		q, r := bits.Div64(hi, lo, total)
		parts[i] = Amount(q)
		left -= q
		rests[i] = rest{r, i}
	}
	sort.SliceStable(rests, func(i, j int) bool { return rests[i].r > rests[j].r })
	for i := range left {
		parts[rests[i].i]++
	}
	if negative {
		for i := range parts {
			parts[i] = -parts[i]
		}
	}
	return parts
}
