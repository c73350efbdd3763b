package calendar

import "fmt"

// Period is a reporting period: a month of the calendar, a week or four weeks. Its number tells which, so that it needs no settings to be
// written out. Periods of one cycle follow each other by one; those of different cycles do not compare. The zero value means not given.
type Period int32

// Cycle is how reporting periods follow each other.
type Cycle uint8

// The cycles: months, weeks from Monday to Sunday (ISO 8601), and four weeks, of which there are four, by the week they begin with.
const (
	Months Cycle = iota
	Weeks
	FourWeeks
)

// cycleBits are those of a period's number below its cycle. Months up to the year 9999 take 17 of them, weeks 19.
const cycleBits = 20

// FourWeeksFrom is the cycle of four weeks of which one begins in the week of a day.
func FourWeeksFrom(d Date) Cycle { return FourWeeks + Cycle(weekOf(d)%4) }

// weekOf counts weeks from Monday, 1 January of the year 1, which is 0.
func weekOf(d Date) int { return int(d-1) / 7 }

// Of is the period that holds a day; zero for a day not given.
func (c Cycle) Of(d Date) Period {
	switch {
	case d <= 0:
		return 0
	case c == Months:
		return Period(d.Month())
	case c == Weeks:
		return c.number(weekOf(d))
	}
	return c.number((weekOf(d) + 4 - c.phase()) / 4)
}

// number is the nth period of a cycle of weeks.
func (c Cycle) number(n int) Period { return Period(int(c)<<cycleBits + n) }

// phase is the week, from 0, in which the first whole period of four weeks begins.
func (c Cycle) phase() int { return int(c - FourWeeks) }

// PeriodForm says how periods are written.
const PeriodForm = "a month as YYYY-MM, a week as YYYY-Www or four weeks as YYYY-Www-ww"

// ParsePeriod reads a month as YYYY-MM, a week as YYYY-Www, or four weeks by their first and last as YYYY-Www-ww. Any other text is an
// error wrapping ErrDate.
func ParsePeriod(s string) (Period, error) {
	if len(s) < 8 {
		m, err := ParseMonth(s)
		return Period(m), err
	}
	if s[4:6] == "-W" {
		y, ok1 := digits(s[:4])
		w, ok2 := digits(s[6:8])
		if ok1 && ok2 && y >= 1 && w >= 1 && w <= 53 {
			first := On(y, 1, 4) // in week 1
			first += Date(7*(w-1) - first.Weekday())
			cycle := Weeks
			if len(s) > 8 {
				cycle = FourWeeksFrom(first)
			}
			if p := cycle.Of(first); p.String() == s {
				return p, nil
			}
		}
	}
	return 0, fmt.Errorf("%q: %w", s, ErrDate)
}

// Cycle is the one that the period is of.
func (p Period) Cycle() Cycle { return Cycle(p >> cycleBits) }

// index is the number of a period within its cycle.
func (p Period) index() int { return int(p) & (1<<cycleBits - 1) }

// First is the period's first day.
func (p Period) First() Date {
	switch c := p.Cycle(); c {
	case Months:
		return Month(p).First()
	case Weeks:
		return Date(7*p.index() + 1)
	default:
		return max(1, Date(7*(4*(p.index()-1)+c.phase())+1))
	}
}

// Last is the period's last day.
func (p Period) Last() Date {
	switch c := p.Cycle(); c {
	case Months:
		return Month(p).Last()
	case Weeks:
		return Date(7*p.index() + 7)
	default:
		return Date(7 * (4*p.index() + c.phase()))
	}
}

// String writes a month as YYYY-MM, a week as YYYY-Www and four weeks as YYYY-Www-ww; empty where the period is not given.
func (p Period) String() string {
	switch {
	case p <= 0:
		return ""
	case p.Cycle() == Months:
		return Month(p).String()
	}
	y, w := p.First().Week()
	if p.Cycle() == Weeks {
		return fmt.Sprintf("%04d-W%02d", y, w)
	}
	_, last := p.Last().Week()
	return fmt.Sprintf("%04d-W%02d-%02d", y, w, last)
}

// Name is the period in words, such as "October 2026", "week 44 of 2026" or "weeks 41 to 44 of 2026".
func (p Period) Name() string {
	if p.Cycle() == Months {
		return Month(p).Name()
	}
	y, w := p.First().Week()
	lastYear, last := p.Last().Week()
	switch {
	case p.Cycle() == Weeks:
		return fmt.Sprintf("week %d of %d", w, y)
	case lastYear != y:
		return fmt.Sprintf("week %d of %d to week %d of %d", w, y, last, lastYear)
	}
	return fmt.Sprintf("weeks %d to %d of %d", w, last, y)
}

// Short is the month's name in three letters, or the number of the week, the last of four: "Oct", "W44".
func (p Period) Short() string {
	if p.Cycle() == Months {
		return Month(p).Short()
	}
	_, w := p.Last().Week()
	return fmt.Sprintf("W%d", w)
}

// Brief is the period's short name with two digits of its year, such as "Oct 26" or "W44 26".
func (p Period) Brief() string { return p.Short() + " " + p.String()[2:4] }

// Week is the year and number of the day's week by ISO 8601: weeks begin on Monday, and the first of a year is the one with its 4 January.
func (d Date) Week() (year, week int) {
	thursday := d - Date(d.Weekday()) + 3
	year, _, _ = thursday.YMD()
	return year, int(thursday-On(year, 1, 1))/7 + 1
}
