package capacity

import (
	"fmt"

	"turret/internal/core/calendar"
)

// Span is a stretch of days that is counted as one, both ends included. Spans of a table follow one another without a gap.
type Span struct {
	Name        string // 2031-02, 2031-W07 or 2031-02-14
	First, Last calendar.Date
}

// Months are the calendar months from one to another; none where the last is before the first.
func Months(from, to calendar.Month) []Span {
	var list []Span
	for m := from; m <= to; m++ {
		list = append(list, Span{m.String(), m.First(), m.Last()})
	}
	return list
}

// Weeks are those of ISO 8601, from Monday to Sunday, that hold any of the days. The first and the last are cut where the range begins or
// ends within them.
func Weeks(first, last calendar.Date) []Span {
	var list []Span
	for d := first; d <= last; {
		monday := d - calendar.Date(d.Weekday())
		end := min(monday+6, last)
		list = append(list, Span{weekName(monday), d, end})
		d = end + 1
	}
	return list
}

// Days are single days.
func Days(first, last calendar.Date) []Span {
	var list []Span
	for d := first; d <= last; d++ {
		list = append(list, Span{d.String(), d, d})
	}
	return list
}

// weekName is the year and the number of the week that begins on a Monday: both are those of its Thursday (ISO 8601).
func weekName(monday calendar.Date) string {
	thursday := monday + 3
	year, _, _ := thursday.YMD()
	return fmt.Sprintf("%04d-W%02d", year, int(thursday-calendar.On(year, 1, 1))/7+1)
}
