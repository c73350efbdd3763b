package export

import (
	"io"
	"strings"
	"time"

	"turret/internal/app/explain"

	ics "github.com/arran4/golang-ical"

	"turret/internal/core/calendar"
)

// Diary writes entries as iCalendar (RFC 5545), each as an event of whole days whose identity stays the same from one fetch to the
// next. Stamp is the day that the dates are as of; the same data gives the same bytes.
func Diary(w io.Writer, name string, stamp calendar.Date, list []explain.DiaryEntry) error {
	c := ics.NewCalendar()
	c.SetProductId("-//Turret//Calendar//EN")
	c.SetMethod(ics.MethodPublish)
	c.SetXWRCalName(printable(name))
	c.SetRefreshInterval("PT6H")
	for _, e := range list {
		id := "holiday-" + e.First.String()
		title := e.Title
		if e.Project != nil {
			id = e.Kind + "-" + e.Project.Code + "-" + e.Activity.Code
			title = e.Title + " (" + e.Project.Code + ")"
		}
		ev := c.AddEvent(printable(id) + "@turret")
		ev.SetDtStampTime(utc(stamp))
		ev.SetAllDayStartAt(utc(e.First))
		ev.SetAllDayEndAt(utc(e.Last + 1))
		ev.SetSummary(printable(title))
		if e.Says != "" {
			ev.SetDescription(printable(e.Says))
		}
		if e.Project != nil {
			ev.SetLocation(printable(e.Project.Name))
		}
		ev.AddCategory(e.Kind)
		ev.SetTimeTransparency(ics.TransparencyTransparent)
	}
	return c.SerializeTo(w, ics.WithNewLineWindows) // RFC 5545 wants CRLF
}

// printable is a text without what a line of a calendar must not hold.
func printable(s string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r == '\n', r == '\t', r == '\r':
			return ' '
		case r < ' ', r == 0x7f:
			return -1
		}
		return r
	}, strings.ToValidUTF8(s, "\uFFFD"))
}

func utc(d calendar.Date) time.Time {
	y, m, day := d.YMD()
	return time.Date(y, time.Month(m), day, 0, 0, 0, 0, time.UTC)
}
