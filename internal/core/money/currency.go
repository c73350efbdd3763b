package money

import (
	"fmt"
	"math/big"
	"math/bits"
	"strings"
)

// Currency is an ISO 4217 code such as EUR. The empty value means not given.
type Currency string

const codes = "AED AFN ALL AMD AOA ARS AUD AWG AZN BAM BBD BDT BGN BHD BIF BMD BND BOB BRL BSD BTN BWP BYN BZD CAD CDF " +
	"CHF CLF CLP CNY COP CRC CUP CVE CZK DJF DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GNF GTQ GYD HKD HNL " +
	"HTG HUF IDR ILS INR IQD IRR ISK JMD JOD JPY KES KGS KHR KMF KPW KRW KWD KYD KZT LAK LBP LKR LRD LSL LYD MAD MDL MGA " +
	"MKD MMK MNT MOP MRU MUR MVR MWK MXN MYR MZN NAD NGN NIO NOK NPR NZD OMR PAB PEN PGK PHP PKR PLN PYG QAR RON RSD RUB " +
	"RWF SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TND TOP TRY TTD TWD TZS UAH UGX USD UYU " +
	"UYW UZS VED VES VND VUV WST XAF XCD XOF XPF YER ZAR ZMW ZWG"

var decimals = func() map[Currency]int {
	m := map[Currency]int{}
	for _, c := range strings.Fields(codes) {
		m[Currency(c)] = 2
	}
	for places, list := range map[int]string{
		0: "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX VND VUV XAF XOF XPF",
		3: "BHD IQD JOD KWD LYD OMR TND",
		4: "CLF UYW",
	} {
		for _, c := range strings.Fields(list) {
			m[Currency(c)] = places
		}
	}
	return m
}()

// ParseCurrency returns the currency of the code, or an error wrapping ErrCurrency.
func ParseCurrency(s string) (Currency, error) {
	if _, ok := decimals[Currency(s)]; !ok {
		return "", fmt.Errorf("%q: %w", s, ErrCurrency)
	}
	return Currency(s), nil
}

// Decimals is the number of decimals of the minor unit: 2 for EUR, 0 for JPY, 3 for KWD.
func (c Currency) Decimals() int { return decimals[c] }

// Sign stands before an amount: € for EUR, £ for GBP, else the code and a space.
func (c Currency) Sign() string {
	switch c {
	case "EUR":
		return "€"
	case "GBP":
		return "£"
	}
	return string(c) + " "
}

// Rate is an exact exchange rate: units of the target per unit of the source currency. The zero value means not given.
type Rate struct {
	Digits int64 // the rate times 10^Places, and times Over where that is not 0
	Places int   // decimals of Digits; negative shifts the other way
	Over   int64 // divides a rate crossed from two others; 0 for a rate as given
}

// Cross is the rate between two currencies whose rates into a third are a and b: units of b's currency per unit of a's.
func Cross(a, b Rate) Rate {
	return Rate{Digits: a.Digits, Places: a.Places - b.Places, Over: b.Digits}
}

// RatePlaces is the largest number of decimals of a rate.
const RatePlaces = 9

// ParseRate reads a positive decimal of at most RatePlaces decimals and below ten million.
func ParseRate(s string) (Rate, error) {
	n, err := ParseDecimal(s, RatePlaces)
	if err != nil {
		return Rate{}, err
	}
	if n <= 0 || n >= 10_000_000_000_000_000 {
		return Rate{}, fmt.Errorf("%q: %w", s, ErrRange)
	}
	return NewRate(n), nil
}

// NewRate makes a rate of n units of the last of RatePlaces decimals, the form in which rates are stored.
func NewRate(n int64) Rate {
	r := Rate{Digits: n, Places: RatePlaces}
	for r.Places > 0 && r.Digits%10 == 0 {
		r.Digits /= 10
		r.Places--
	}
	return r
}

// Units is the inverse of NewRate.
func (r Rate) Units() int64 {
	n := r.Digits
	for range RatePlaces - r.Places {
		n *= 10
	}
	return n
}

// String writes a rate as it was given, a crossed one with six decimals.
func (r Rate) String() string {
	if r.Over == 0 {
		return Decimal(r.Digits, r.Places)
	}
	return r.crossed(1, 0).FloatString(6)
}

// Fraction is what minor units of one currency are multiplied and divided by to make minor units of another, as decimals.
func (r Rate) Fraction(from, to Currency) (num, den string) {
	f := r.crossed(1, from.Decimals()-to.Decimals())
	return f.Num().String(), f.Denom().String()
}

// crossed is a whole number of units, shifted by decimal places, at r.
func (r Rate) crossed(units int64, shift int) *big.Rat {
	num, den := new(big.Int).Mul(big.NewInt(units), big.NewInt(r.Digits)), big.NewInt(max(r.Over, 1))
	power := new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(max(r.Places+shift, -r.Places-shift))), nil)
	if r.Places+shift >= 0 {
		den.Mul(den, power)
	} else {
		num.Mul(num, power)
	}
	return new(big.Rat).SetFrac(num, den)
}

// convertCrossed rounds half to even once, as Convert does.
func convertCrossed(a Amount, from, to Currency, r Rate) (Amount, error) {
	exact := r.crossed(int64(a), from.Decimals()-to.Decimals())
	q, rest := new(big.Int).QuoRem(exact.Num(), exact.Denom(), new(big.Int))
	twice := rest.Abs(rest).Lsh(rest, 1)
	if c := twice.Cmp(exact.Denom()); c > 0 || c == 0 && q.Bit(0) == 1 {
		q.Add(q, big.NewInt(int64(exact.Sign())))
	}
	if !q.IsInt64() {
		return 0, fmt.Errorf("%s at %s: %w", a.Text(from), r, ErrRange)
	}
	return Amount(q.Int64()), nil
}

// Convert turns an amount of one currency into another at r, rounding half to even once. A result beyond int64 is an error wrapping
// ErrRange. A negative amount comes to the negative of what its opposite comes to.
func Convert(a Amount, from, to Currency, r Rate) (Amount, error) {
	if r.Over != 0 {
		return convertCrossed(a, from, to, r)
	}
	negative := a < 0
	u := uint64(a)
	if negative {
		u = -u
	}
	hi, lo := bits.Mul64(u, uint64(r.Digits))
	den := uint64(1)
	shift := r.Places + from.Decimals() - to.Decimals()
	for ; shift > 0; shift-- {
		den *= 10
	}
	for ; shift < 0; shift++ {
		h, l := bits.Mul64(lo, 10)
		hi, lo = hi*10+h, l
	}
	q, ok := divEven(hi, lo, den)
	if !ok {
		return 0, fmt.Errorf("%s at %s: %w", a.Text(from), r, ErrRange)
	}
	if negative {
		return -Amount(q), nil
	}
	return Amount(q), nil
}
