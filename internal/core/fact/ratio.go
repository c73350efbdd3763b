package fact

import (
	"math"
	"math/big"
	"math/bits"
	"strconv"
	"strings"
)

// Ratio is an exact fraction. The zero value is none; a Ratio made by Of or Exactly has a denominator above zero. Its terms are in int64;
// comparing needs 128 bits and is exact.
type Ratio struct{ Num, Den int64 }

// Of is num/den in lowest terms with the sign above the line; none where den is zero.
func Of(num, den int64) Ratio {
	if den == 0 {
		return Ratio{}
	}
	return Exactly(big.NewRat(num, den))
}

// Exactly is a rational number as a fraction. One whose terms are beyond int64 is the nearest that fits with a denominator of a power of
// two, so that it differs by less than one part in 2^60.
func Exactly(r *big.Rat) Ratio {
	if r.Num().IsInt64() && r.Denom().IsInt64() {
		return Ratio{r.Num().Int64(), r.Denom().Int64()}
	}
	f, _ := r.Float64()
	den := int64(1)
	for den < 1<<60 && math.Abs(f)*float64(den)*2 < 1<<62 {
		den *= 2
	}
	return Ratio{int64(math.RoundToEven(f * float64(den))), den}
}

// Given reports whether there is a fraction.
func (r Ratio) Given() bool { return r.Den != 0 }

// Float is the nearest floating-point number; 0 where there is none.
func (r Ratio) Float() float64 {
	if r.Den == 0 {
		return 0
	}
	return float64(r.Num) / float64(r.Den)
}

// Rat is the fraction as a rational number, 0 where there is none.
func (r Ratio) Rat() *big.Rat {
	if r.Den == 0 {
		return new(big.Rat)
	}
	return big.NewRat(r.Num, r.Den)
}

// Minus is r less s, exactly as far as a Ratio can hold it; none where one of them is.
func (r Ratio) Minus(s Ratio) Ratio {
	if !r.Given() || !s.Given() {
		return Ratio{}
	}
	return Exactly(new(big.Rat).Sub(r.Rat(), s.Rat()))
}

// Cmp is -1 where r is below s, 0 where they are equal and 1 where it is above, without rounding. Both must be given.
func (r Ratio) Cmp(s Ratio) int {
	if (r.Num < 0) != (s.Num < 0) {
		if r.Num < s.Num {
			return -1
		}
		return 1
	}
	hi, lo := bits.Mul64(abs(r.Num), uint64(s.Den))
	hi2, lo2 := bits.Mul64(abs(s.Num), uint64(r.Den))
	c := 0
	switch {
	case hi > hi2 || hi == hi2 && lo > lo2:
		c = 1
	case hi < hi2 || lo < lo2:
		c = -1
	}
	if r.Num < 0 {
		return -c
	}
	return c
}

// abs is n without its sign, of the smallest number too.
func abs(n int64) uint64 {
	if n < 0 {
		return -uint64(n)
	}
	return uint64(n)
}

// Decimal is the fraction that a number is written as: 0.95 is 19/20, not the binary number next to it. Not a number is none.
func Decimal(x float64) Ratio {
	if math.IsNaN(x) || math.IsInf(x, 0) {
		return Ratio{}
	}
	s := strconv.FormatFloat(x, 'f', -1, 64)
	whole, part, _ := strings.Cut(s, ".")
	if len(part) <= 17 {
		if n, err := strconv.ParseInt(whole+part, 10, 64); err == nil {
			den := int64(1)
			for range part {
				den *= 10
			}
			return Ratio{n, den}
		}
	}
	r, _ := new(big.Rat).SetString(s)
	return Exactly(r)
}
