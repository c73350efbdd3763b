// Package calendar holds days, months and working-day arithmetic.
//
// Dates follow ISO 8601 in the proleptic Gregorian calendar, years 1 to 9999. A start means the start of a day and a
// finish the end of one, so work of n days that starts on s finishes on the (n-1)th working day after s.
//
// Boundaries between days are written as the day that follows: the boundary at the start of Monday and, where the weekend is off, that at
// the end of Friday have the same working days before them and are one instant for work. Weeks are those of ISO 8601, from Monday, named
// by the year that holds their Thursday.
package calendar

import (
	"errors"
	"fmt"
)

// ErrDate is wrapped by every error about a text that is not a day or month of the calendar.
var ErrDate = errors.New("not a date of the calendar")

// Date is a day: 1 is 0001-01-01, a Monday. The zero value means not given. Dates add and subtract as whole numbers of days.
type Date int32

// MaxDate is 9999-12-31, the last day that can be written.
const MaxDate Date = 3652059

// On returns the day, or 0 where the calendar has no such day.
func On(year, month, day int) Date {
	if year < 1 || year > 9999 || month < 1 || month > 12 || day < 1 || day > daysIn(year, month) {
		return 0
	}
	return Date(daysBeforeYear(year) + daysBeforeMonth(year, month) + day)
}

// ParseDate reads YYYY-MM-DD. Any other text is an error wrapping ErrDate.
func ParseDate(s string) (Date, error) {
	if len(s) == 10 && s[4] == '-' && s[7] == '-' {
		y, ok1 := digits(s[0:4])
		m, ok2 := digits(s[5:7])
		d, ok3 := digits(s[8:10])
		if ok1 && ok2 && ok3 {
			if day := On(y, m, d); day != 0 {
				return day, nil
			}
		}
	}
	return 0, fmt.Errorf("%q: %w", s, ErrDate)
}

// digits reads a text of digits alone; false for any other.
func digits(s string) (int, bool) {
	n := 0
	for i := 0; i < len(s); i++ {
		if s[i] < '0' || s[i] > '9' {
			return 0, false
		}
		n = n*10 + int(s[i]-'0')
	}
	return n, true
}

// leap follows the Gregorian rule: every fourth year, but of the hundreds only those that 400 divides.
func leap(y int) bool { return y%4 == 0 && (y%100 != 0 || y%400 == 0) }

var monthStart = [13]int{0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334, 365}

// daysBeforeYear is how many days lie before 1 January of a year.
func daysBeforeYear(y int) int { y--; return y*365 + y/4 - y/100 + y/400 }

// daysBeforeMonth is how many days of the year lie before a month from 1 to 12.
func daysBeforeMonth(y, m int) int {
	n := monthStart[m-1]
	if m > 2 && leap(y) {
		n++
	}
	return n
}

// daysIn is how many days a month has.
func daysIn(y, m int) int {
	if m == 2 && leap(y) {
		return 29
	}
	return monthStart[m] - monthStart[m-1]
}

// YMD returns the year, the month (1 to 12) and the day of the month; all zero where d is not given.
func (d Date) YMD() (year, month, day int) {
	if d <= 0 {
		return 0, 0, 0
	}
	y := int(d)*400/146097 + 1
	for daysBeforeYear(y) >= int(d) {
		y--
	}
	for daysBeforeYear(y+1) < int(d) {
		y++
	}
	rest := int(d) - daysBeforeYear(y)
	m := rest/29 + 1
	if m > 12 {
		m = 12
	}
	for daysBeforeMonth(y, m) >= rest {
		m--
	}
	return y, m, rest - daysBeforeMonth(y, m)
}

// String writes YYYY-MM-DD, empty where d is not given.
func (d Date) String() string {
	if d <= 0 {
		return ""
	}
	y, m, day := d.YMD()
	return fmt.Sprintf("%04d-%02d-%02d", y, m, day)
}

var monthNames = [...]string{"Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"}

// Human writes the day for reading, such as "6 Apr 2027".
func (d Date) Human() string {
	if d <= 0 {
		return "–"
	}
	y, m, day := d.YMD()
	return fmt.Sprintf("%d %s %d", day, monthNames[m-1], y)
}

// Month is the month that holds d.
func (d Date) Month() Month {
	if d <= 0 {
		return 0
	}
	y, m, _ := d.YMD()
	return Month(y*12 + m - 1)
}

// Weekday counts from 0 for Monday to 6 for Sunday.
func (d Date) Weekday() int { return int(d-1) % 7 }

// Month is a calendar month, twelve times the year plus the month from 0 for January. The zero value means not given.
type Month int32

// ParseMonth reads YYYY-MM. Any other text is an error wrapping ErrDate.
func ParseMonth(s string) (Month, error) {
	if len(s) == 7 && s[4] == '-' {
		y, ok1 := digits(s[:4])
		m, ok2 := digits(s[5:])
		if ok1 && ok2 && y >= 1 && m >= 1 && m <= 12 {
			return Month(y*12 + m - 1), nil
		}
	}
	return 0, fmt.Errorf("%q: %w", s, ErrDate)
}

// First is the month's first day.
func (m Month) First() Date { return On(int(m)/12, int(m)%12+1, 1) }

// Last is the month's last day.
func (m Month) Last() Date {
	y, n := int(m)/12, int(m)%12+1
	return On(y, n, daysIn(y, n))
}

// String writes YYYY-MM, empty where m is not given.
func (m Month) String() string {
	if m <= 0 {
		return ""
	}
	return fmt.Sprintf("%04d-%02d", int(m)/12, int(m)%12+1)
}

// Name is the month in words, such as "October 2026".
func (m Month) Name() string {
	long := [...]string{"January", "February", "March", "April", "May", "June", "July", "August", "September",
		"October", "November", "December"}
	return fmt.Sprintf("%s %d", long[int(m)%12], int(m)/12)
}

// Short is the month's name in three letters, such as "Oct".
func (m Month) Short() string { return monthNames[int(m)%12] }
