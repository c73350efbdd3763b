package kept

import (
	"turret/internal/core/calendar"
)

// Week is a calendar's pattern and its exceptions.
type Week struct {
	Days       [7]bool
	Exceptions map[calendar.Date]bool
}

// Weeks gathers the rows of each calendar; one without weekdays is worked from Monday to Friday.
func Weeks(rows []CalendarRow) map[string]*Week {
	weeks := map[string]*Week{}
	for _, r := range rows {
		w := weeks[r.Calendar]
		if w == nil {
			w = &Week{[7]bool{true, true, true, true, true, false, false}, map[calendar.Date]bool{}}
			weeks[r.Calendar] = w
		}
		if r.Weekday.Given {
			w.Days[r.Weekday.N] = r.Working
		} else {
			w.Exceptions[r.Date] = r.Working
		}
	}
	return weeks
}
