package edit

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/app/intake"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

func TestWhatSavingATableIsToldAs(t *testing.T) {
	row := func(cells ...string) []string { return cells }
	l := &kept.Load{ID: 12, Period: calendar.Months.Of(calendar.On(2026, 11, 3))}
	assert.Equal(t, "Saved for November 2026 as load 12: 2 risks added, 1 risk changed and 1 risk taken away.", savedSays(record.Risks,
		[]intake.Edited{{New: row("R1")}, {Old: row("R2"), New: row("R3")}, {Old: row("R4")}, {New: row("R5")}}, l))
	assert.Equal(t, "Saved for November 2026 as load 12: 1 dependency taken away.", savedSays(record.Links,
		[]intake.Edited{{Old: row("A")}}, l))
	assert.Equal(t, "Saved for November 2026 as load 12: 2 rows of budget changed.", savedSays(record.Budget,
		[]intake.Edited{{Old: row("A"), New: row("B")}, {Old: row("C"), New: row("D")}}, l))
}
