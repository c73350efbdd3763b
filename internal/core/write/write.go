// Package write writes figures for those who read them: numbers, amounts, shares and counts, one way for pages, prints and sentences.
//
// Thousands are set apart as in British English, by golang.org/x/text, since the sentences around them are English; a minus is a true
// minus (U+2212), and what rounds to nothing has no sign. What files hold is written by money.Decimal and the Text methods instead.
package write

import (
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/language"
	"golang.org/x/text/message"
	"golang.org/x/text/number"
)

// None stands where there is no figure.
const None = "–"

const minus = "−"

var english = message.NewPrinter(language.BritishEnglish)

// Whole writes a whole number, its thousands set apart: 1,234.
func Whole[N int | int64](n N) string { return Decimal(int64(n), 0) }

// Signed writes a whole number with its sign, and none for zero: +1,234.
func Signed[N int | int64](n N) string { return sign(n > 0, Whole(n)) }

// Decimal writes n, a whole number of the given decimal place, with all its decimals: 123450 of two places is 1,234.50.
func Decimal(n int64, places int) string {
	u := uint64(n) // its magnitude, of the smallest too
	if n < 0 {
		u = -u
	}
	digits := strconv.FormatUint(u, 10)
	if short := places + 1 - len(digits); short > 0 {
		digits = strings.Repeat("0", short) + digits
	}
	return written(n < 0, digits[:len(digits)-places], digits[len(digits)-places:])
}

// Money writes an amount as Decimal writes a number, with the sign of its currency before it: −€1,234.50.
func Money(currency string, n int64, places int) string {
	s := Decimal(n, places)
	if n < 0 {
		return minus + currency + s[len(minus):]
	}
	return currency + s
}

// SignedDecimal writes n as Decimal does, with a plus where it is above zero.
func SignedDecimal(n int64, places int) string { return sign(n > 0, Decimal(n, places)) }

// Gain puts a plus before what is written of an amount above zero, unless it reads as nothing.
func Gain(n int64, written string) string { return sign(n > 0, written) }

// Trimmed writes n as Decimal does, without the zeros behind the last decimal that counts: 12500 of four places is 1.25.
func Trimmed(n int64, places int) string {
	return trim(Decimal(n, places))
}

// trim cuts zeros behind the last decimal that counts.
func trim(s string) string {
	if strings.Contains(s, ".") {
		return strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	return s
}

// Float writes a number rounded to so many places, as strconv rounds.
func Float(x float64, places int) string {
	digits, below := strings.CutPrefix(strconv.FormatFloat(x, 'f', places, 64), "-")
	whole, rest, _ := strings.Cut(digits, ".")
	return written(below && strings.ContainsAny(digits, "123456789"), whole, rest)
}

// TrimmedFloat writes a number as Float does, without the zeros behind the last decimal that counts.
func TrimmedFloat(x float64, places int) string { return trim(Float(x, places)) }

// SignedFloat writes a number as Float does, with a plus where it reads as more than nothing.
func SignedFloat(x float64, places int) string { return sign(x > 0, Float(x, places)) }

// Percent writes a share in percent with so many decimals: 0.131 with one is 13.1 %.
func Percent(share float64, places int) string { return Float(100*share, places) + " %" }

// SignedPercent writes a share as Percent does, with a plus where it reads as more than nothing.
func SignedPercent(share float64, places int) string { return SignedFloat(100*share, places) + " %" }

// TrimmedPercent writes a share as Percent does, without the zeros behind the last decimal that counts.
func TrimmedPercent(share float64, places int) string { return TrimmedFloat(100*share, places) + " %" }

// Count is a number and what is counted, in the form that goes with it.
func Count[N int | int64](n N, one, many string) string {
	if n == 1 || n == -1 {
		return Whole(n) + " " + one
	}
	return Whole(n) + " " + many
}

// SignedCount is a number with its sign and what is counted.
func SignedCount[N int | int64](n N, one, many string) string {
	return sign(n > 0, Count(n, one, many))
}

// Days is a number of working days.
func Days[N int | int64](n N) string { return Count(n, "working day", "working days") }

// List joins things as a sentence names them: a, b and c.
func List(things []string) string {
	if len(things) < 2 {
		return strings.Join(things, "")
	}
	last := len(things) - 1
	return strings.Join(things[:last], ", ") + " and " + things[last]
}

// Joined joins the texts that are not empty.
func Joined(between string, texts ...string) string {
	return strings.Join(slices.DeleteFunc(slices.Clone(texts), func(s string) bool { return s == "" }), between)
}

// Capital is a text with a capital letter first.
func Capital(s string) string {
	_, n := utf8.DecodeRuneInString(s)
	return strings.ToUpper(s[:n]) + s[n:]
}

// Within is a name or a sentence as it goes on in the midst of another: with a small letter first, unless its first word is an
// abbreviation.
func Within(s string) string {
	first, n := utf8.DecodeRuneInString(s)
	second, _ := utf8.DecodeRuneInString(s[n:])
	if unicode.IsUpper(first) && (unicode.IsLower(second) || second == ' ') {
		return strings.ToLower(s[:n]) + s[n:]
	}
	return s
}

// written puts a number together from its digits before and behind the point.
func written(below bool, whole, rest string) string {
	if len(whole) > 3 {
		if u, err := strconv.ParseUint(whole, 10, 64); err == nil {
			whole = english.Sprint(number.Decimal(u))
		}
	}
	if rest != "" {
		whole += "." + rest
	}
	if below {
		return minus + whole
	}
	return whole
}

// sign puts a plus before what is written of a number above zero, unless it reads as nothing.
func sign(above bool, written string) string {
	if above && strings.ContainsAny(written, "123456789") {
		return "+" + written
	}
	return written
}
