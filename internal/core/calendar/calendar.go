package calendar

import (
	"errors"
	"sort"
)

// ErrNoWorkingDay is returned for a calendar in which no weekday is a working one.
var ErrNoWorkingDay = errors.New("a calendar needs at least one working weekday")

// Calendar knows which days are worked: a weekly pattern and dated exceptions to it. It is immutable. Counting takes time logarithmic in
// its exceptions, and so does finding the nth working day.
type Calendar struct {
	week    [7]bool
	prefix  [8]int // working weekdays before each weekday
	days    []Date // exceptions that differ from the pattern, ascending
	working []bool
	shift   []int // sum of the exceptions' effect up to and including each
	worked  []int // working days from day 1 up to and including each exception
	place   []int // weekdays worked, ascending
}

// Standard is worked from Monday to Friday without exceptions.
var Standard = mustStandard()

// mustStandard is Standard, whose week is known to be right.
func mustStandard() *Calendar {
	c, _ := New([7]bool{true, true, true, true, true, false, false}, nil)
	return c
}

// New builds a calendar from the weekdays worked (Monday first) and dated exceptions, true for an extra working day.
func New(week [7]bool, exceptions map[Date]bool) (*Calendar, error) {
	c := &Calendar{week: week}
	for i, w := range week {
		c.prefix[i+1] = c.prefix[i]
		if w {
			c.prefix[i+1]++
			c.place = append(c.place, i)
		}
	}
	if c.prefix[7] == 0 {
		return nil, ErrNoWorkingDay
	}
	for d, w := range exceptions {
		if d > 0 && w != week[d.Weekday()] {
			c.days = append(c.days, d)
		}
	}
	sort.Slice(c.days, func(i, j int) bool { return c.days[i] < c.days[j] })
	sum := 0
	for _, d := range c.days {
		if exceptions[d] {
			sum++
		} else {
			sum--
		}
		c.working = append(c.working, exceptions[d])
		c.shift = append(c.shift, sum)
		c.worked = append(c.worked, c.pattern(d)+sum)
	}
	return c, nil
}

// Working says whether d is worked.
func (c *Calendar) Working(d Date) bool {
	i := sort.Search(len(c.days), func(i int) bool { return c.days[i] >= d })
	if i < len(c.days) && c.days[i] == d {
		return c.working[i]
	}
	return c.week[d.Weekday()]
}

// through counts the working days from day 1 to d, both included, in logarithmic time.
func (c *Calendar) through(d Date) int {
	if d <= 0 {
		return 0
	}
	n := c.pattern(d)
	if i := sort.Search(len(c.days), func(i int) bool { return c.days[i] > d }); i > 0 {
		n += c.shift[i-1]
	}
	return n
}

// pattern counts the working weekdays from day 1 to d without the exceptions.
func (c *Calendar) pattern(d Date) int { return int(d)/7*c.prefix[7] + c.prefix[int(d)%7] }

// nth is the nth working day counted from day 1, n being at least 1, in logarithmic time; kept within MaxDate.
func (c *Calendar) nth(n int) Date {
	i := sort.SearchInts(c.worked, n)
	if i < len(c.days) && c.working[i] && c.worked[i] == n {
		return c.days[i]
	}
	if i > 0 {
		n -= c.shift[i-1]
	}
	if n < 1 {
		return 1
	}
	return min(Date((n-1)/len(c.place)*7+c.place[(n-1)%len(c.place)]+1), MaxDate)
}

// Passed is the number of working days before the boundary at the start of d.
func (c *Calendar) Passed(d Date) int { return c.through(d - 1) }

// After is the latest boundary, as the day that it stands before, with n working days before it: that of the (n+1)th.
func (c *Calendar) After(n int) Date { return c.nth(max(n+1, 1)) }

// Upon is the earliest boundary with n working days before it: the one after the nth.
func (c *Calendar) Upon(n int) Date {
	if n < 1 {
		return 1
	}
	return c.nth(n) + 1
}

// Count is the number of working days from first to last, both included; 0 where last is before first.
func (c *Calendar) Count(first, last Date) int {
	if last < first {
		return 0
	}
	return c.through(last) - c.through(first-1)
}

// Between counts the working days from the end of a to the end of b: positive where b is later, negative where earlier.
func (c *Calendar) Between(a, b Date) int { return c.through(b) - c.through(a) }

// Add returns the nth working day after d, or the nth before it where n is negative. For n = 0 it is d itself where d
// is worked, else the first working day after it. The result is kept within day 1 and MaxDate.
func (c *Calendar) Add(d Date, n int) Date {
	target := c.through(d) + n
	switch {
	case n < 0 && c.Working(d): // the day itself does not count as one before it
	case n < 0:
		target++
	case n == 0 && !c.Working(d):
		target++
	}
	if target < 1 {
		return 1
	}
	return c.nth(target)
}

// Finish is the day on which work of the given number of working days ends that starts at the start of start; work of
// 0 days, a milestone, happens on the first working day at or after start.
func (c *Calendar) Finish(start Date, days int) Date {
	first := c.Add(start, 0)
	if days <= 1 {
		return first
	}
	return c.Add(first, days-1)
}

// Week says which weekdays are worked, from Monday.
func (c *Calendar) Week() [7]bool { return c.week }

// Exceptions are the days that differ from the week, in order. The caller must not change them.
func (c *Calendar) Exceptions() []Date { return c.days }
