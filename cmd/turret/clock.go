package main

import (
	"context"
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"turret/internal/app/setting"
	"turret/internal/core/calendar"
)

// A clock tells the time that Turret stamps and compares with. Sign-ins, certificates and the age of scratch files go by the machine's time
// instead, since browsers, identity providers and file systems do.
type clock func() time.Time

// today is the clock's day.
func (c clock) today() calendar.Date { return setting.DayOf(c()) }

const todayHelp = "take place on this day, YYYY-MM-DD, instead of the machine's: from 9:00 on, never past midnight"

// morning is the hour at which a day given with --today begins.
const morning = 9

// staged is a clock that starts at 9:00 of a day when it is made, and stands still once that day is over.
func staged(day calendar.Date) clock {
	begun := time.Now()
	return func() time.Time { return stagedAt(day, time.Since(begun)) }
}

// stagedAt is the time on a staged day so long after its start.
func stagedAt(day calendar.Date, after time.Duration) time.Time {
	y, m, d := day.YMD()
	at := time.Date(y, time.Month(m), d, morning, 0, 0, 0, time.Local).Add(after)
	if end := time.Date(y, time.Month(m), d, 23, 59, 59, 0, time.Local); at.After(end) {
		return end
	}
	return at
}

// clockKey is where the context of a command holds its clock.
type clockKey struct{}

// setClock gives a command the clock that --today asks for, the machine's without it.
func setClock(c *cobra.Command, day string) error {
	told := clock(time.Now)
	if day != "" {
		d, err := calendar.ParseDate(day)
		if err != nil {
			return usageError{fmt.Errorf("--today: %w; expected YYYY-MM-DD", err)}
		}
		told = staged(d)
	}
	c.SetContext(context.WithValue(c.Context(), clockKey{}, told))
	return nil
}

// clockOf is the clock of a command, of the machine where it has none.
func clockOf(ctx context.Context) clock {
	if told, ok := ctx.Value(clockKey{}).(clock); ok {
		return told
	}
	return time.Now
}
