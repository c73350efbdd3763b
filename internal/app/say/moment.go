package say

import "time"

// Day is the day of a moment where Turret runs: 31 Oct 2026. Days of plans are calendar dates, which write themselves.
func Day(t time.Time) string { return t.Local().Format("2 Jan 2006") }

// Moment is a moment where Turret runs: 31 Oct 2026 14:05.
func Moment(t time.Time) string { return t.Local().Format("2 Jan 2006 15:04") }
