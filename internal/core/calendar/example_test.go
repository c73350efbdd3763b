package calendar_test

import (
	"fmt"

	"turret/internal/core/calendar"
)

func ExampleParseDate() {
	d, err := calendar.ParseDate("2026-02-28")
	fmt.Println(d, d.Human(), d+1, err)
	_, err = calendar.ParseDate("2026-02-29")
	fmt.Println(err)
	// Output:
	// 2026-02-28 28 Feb 2026 2026-03-01 <nil>
	// "2026-02-29": not a date of the calendar
}

// Monday 2 November 2026 for five working days is done on the Friday.
func ExampleCalendar_Finish() {
	fmt.Println(calendar.Standard.Finish(calendar.On(2026, 11, 2), 5))
	// Output: 2026-11-06
}

// From Friday to Monday is one working day, and back as many less.
func ExampleCalendar_Between() {
	friday, monday := calendar.On(2026, 10, 30), calendar.On(2026, 11, 2)
	fmt.Println(calendar.Standard.Between(friday, monday), calendar.Standard.Between(monday, friday))
	// Output: 1 -1
}

// A yard that works from Sunday to Thursday, and not on 25 December.
func ExampleNew() {
	c, err := calendar.New([7]bool{0: true, 1: true, 2: true, 3: true, 6: true}, map[calendar.Date]bool{calendar.On(2026, 12, 24): false})
	fmt.Println(c.Count(calendar.On(2026, 12, 20), calendar.On(2026, 12, 26)), err)
	// Output: 4 <nil>
}

func ExampleCycle_Of() {
	fmt.Println(calendar.Months.Of(calendar.On(2026, 10, 31)).Name())
	// Output: October 2026
}
