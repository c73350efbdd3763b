package export_test

import (
	"bytes"
	"strings"
	"testing"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/explain"
	"turret/internal/core/calendar"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/export"
)

// A strict reading of RFC 5545: lines end in CRLF and have 75 octets at most, the parser takes it, and dates are whole days.
func TestCalendarFileIsStrict(t *testing.T) {
	day := calendar.On(2026, 12, 1)
	list := []explain.DiaryEntry{{Kind: "milestone", First: day, Last: day, Title: "Gate open",
		Project:  &measure.Project{Info: measure.Info{Code: "=A", Name: "Lock"}},
		Activity: &schedule.Activity{Code: "M\r1\nX-ALARM:evil"}, Says: strings.Repeat("long, with; signs\\ and\nlines ", 12)}}
	var b bytes.Buffer
	require.NoError(t, export.Diary(&b, "Ours; all, of them", calendar.On(2026, 10, 31), list))
	text := b.String()
	assert.Equal(t, strings.Count(text, "\n"), strings.Count(text, "\r\n"))
	for _, line := range strings.Split(strings.TrimSuffix(text, "\r\n"), "\r\n") {
		assert.LessOrEqual(t, len(line), 75, line)
	}
	c, err := ics.ParseCalendar(strings.NewReader(text))
	require.NoError(t, err)
	require.Len(t, c.Events(), 1)
	e := c.Events()[0]
	assert.Equal(t, "20261201", e.GetProperty(ics.ComponentPropertyDtStart).Value)
	assert.Equal(t, "20261202", e.GetProperty(ics.ComponentPropertyDtEnd).Value, "the end of a day is the next")
	assert.Equal(t, "milestone-=A-M 1 X-ALARM:evil@turret", e.Id(), "a line end in a code begins no line")
	assert.Contains(t, text, "DTSTAMP:20261031T000000Z", "no clock is read")
}
