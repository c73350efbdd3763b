package schedule

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"turret/internal/core/calendar"
	"turret/internal/core/fact"
)

func TestBarsOfSummariesSpanAndWeighWhatIsBelow(t *testing.T) {
	org, asOf := everyDay, on("2026-11-10")
	list := []Activity{
		{Code: "S", Kind: Summary, Start: on("2026-01-01"), Finish: on("2026-01-02")},
		{Code: "T", Kind: Summary, Parent: "S"},
		{Code: "A", Parent: "T", Start: on("2026-11-01"), Finish: on("2026-11-04"), ActualStart: on("2026-11-01"),
			ActualFinish: on("2026-11-04"), BaselineStart: on("2026-11-01"), BaselineFinish: on("2026-11-03")},
		{Code: "B", Parent: "T", Start: on("2026-11-05"), Finish: on("2026-11-16"), ActualStart: on("2026-11-06"),
			Percent: fact.Some(2500)},
		{Code: "M", Parent: "S", Kind: Milestone, Finish: on("2026-11-20"), BaselineFinish: on("2026-11-18")},
		{Code: "E", Kind: Summary, Start: on("2026-12-01"), Finish: on("2026-12-09")},
		{Code: "R", ActualStart: on("2026-11-09"), Duration: fact.Some(4)},
	}
	bars := Bars(list, org, asOf)
	// A took 4 days, all done; B is given 12 days, a quarter done: 4 + 3 of 16.
	assert.InDelta(t, 7.0/16, bars[1].Done, 1e-9)
	assert.Equal(t, []string{"2026-11-01", "2026-11-16", "2026-11-01", "2026-11-03"},
		[]string{bars[1].Start.String(), bars[1].Finish.String(), bars[1].BaselineStart.String(), bars[1].BaselineFinish.String()})
	assert.Equal(t, "2026-11-20", bars[0].Finish.String(), "with the milestone, not by its own dates")
	assert.InDelta(t, 7.0/16, bars[0].Done, 1e-9)
	assert.Equal(t, "2026-12-09", bars[5].Finish.String(), "an empty summary stands by its own dates")
	assert.Zero(t, bars[4].Start, "an event has no start")
	assert.InDelta(t, 0.5, bars[6].Done, 1e-9, "two of four days have passed")
	// The whole: 4 + 12 + 4 days; 4 + 3 + 2 done.
	assert.InDelta(t, 9.0/20, bars[7].Done, 1e-9)
	assert.Equal(t, "2026-11-01", bars[7].Start.String())
}

// Eight days later on a calendar of every day, five on one from Monday to Friday: each activity counts on its own, summaries on the
// organisation's.
func TestBarsCountTheirDeviationOnTheirOwnCalendar(t *testing.T) {
	late := func(code string) Activity {
		return Activity{Code: code, Parent: "S", BaselineStart: on("2026-11-02"), BaselineFinish: on("2026-11-06"),
			Start: on("2026-11-02"), Finish: on("2026-11-14")}
	}
	list := []Activity{{Code: "S", Kind: Summary}, late("A"), late("B"), {Code: "C", Finish: on("2026-11-14")}}
	list[1].Calendar = everyDay
	bars := Bars(list, calendar.Standard, on("2026-10-31"))
	assert.Equal(t, []int64{5, 8, 5}, []int64{bars[0].Deviation.N, bars[1].Deviation.N, bars[2].Deviation.N}, "the 14th is a Saturday")
	assert.False(t, bars[3].Deviation.Given, "nothing was promised")
}

func TestBarsSurviveParentsThatGoRound(t *testing.T) {
	list := []Activity{{Code: "S", Kind: Summary, Parent: "T"}, {Code: "T", Kind: Summary, Parent: "S"},
		{Code: "A", Parent: "S", Start: 700000, Finish: 700009}}
	bars := Bars(list, everyDay, 1)
	assert.Equal(t, bars[2].Finish, bars[0].Finish)
	assert.Equal(t, bars[2].Finish, bars[3].Finish)
	assert.Len(t, Bars(nil, everyDay, 1), 1)
}
