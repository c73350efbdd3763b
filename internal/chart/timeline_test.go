package chart

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/health"
	"turret/internal/core/measure"
	"turret/internal/core/risk"
	"turret/internal/core/schedule"
	"turret/internal/scene"
)

var oct = calendar.On(2026, 10, 1)

func options() TimelineOptions {
	// A month of 31 days over 310 pixels beside 100 of names: ten pixels a day.
	return TimelineOptions{W: 410, Names: 100, From: oct, To: oct + 30, AsOf: calendar.On(2026, 10, 31), Calendar: calendar.Standard}
}

// busy is a timeline with all that one can have.
func busy() *scene.Scene {
	rows := []TimelineRow{{Name: "Group", Heading: true},
		{Name: `<i>"P"`, Tall: true, Bar: schedule.Bar{Start: oct, Finish: oct + 19, BaselineStart: oct, BaselineFinish: oct + 14,
			Done: 0.5}, Critical: true,
			Flags: []TimelineFlag{{Date: oct + 19, Baseline: oct + 14, Label: "Open", Status: health.Act},
				{Date: oct + 3, Label: "Done", Done: true, Status: health.OnTrack}}},
		{Name: "Work", Bar: schedule.Bar{Start: oct + 20, Finish: oct + 24}, Was: schedule.Bar{Start: oct + 18, Finish: oct + 22}}}
	return Timeline("A <timeline>", rows, []TimelineTie{{FromRow: 1, ToRow: 2, From: oct + 19, To: oct + 20, Strained: true,
		Title: "waits"}}, options())
}

func creepers() []SlipLine {
	var list []SlipLine
	for i := range 8 {
		l := SlipLine{Name: fmt.Sprintf("A milestone with a name, number %d", i), Status: health.Watch, Days: 20, Href: "/x"}
		for m := range calendar.Period(6) {
			l.Points = append(l.Points, SlipPoint{Period: env.Period() - 5 + m, Date: env.AsOf + calendar.Date(40+i) + calendar.Date(8*m)})
		}
		list = append(list, l)
	}
	return list
}

// rects are the rectangles of a class: x, y, width and height.
func rects(s *scene.Scene, class string) (list [][]float64) {
	for _, i := range s.Items {
		if i.Kind == scene.Rect && i.Class == class {
			list = append(list, i.Points)
		}
	}
	return list
}

func TestBarsLieAtTheirDays(t *testing.T) {
	s := busy()
	// Twenty days from the 1st on, half of them done.
	done, left := rects(s, "work-done"), rects(s, "work-left")
	require.Len(t, done, 1)
	require.Len(t, left, 2)
	assert.InDeltaSlice(t, []float64{100, 100}, []float64{done[0][0], done[0][2]}, 1e-9)
	assert.InDeltaSlice(t, []float64{200, 100}, []float64{left[0][0], left[0][2]}, 1e-9)
	assert.InDeltaSlice(t, []float64{300, 50}, []float64{left[1][0], left[1][2]}, 1e-9, "five days from the 21st on")
	assert.InDeltaSlice(t, []float64{100, 150}, []float64{rects(s, "baseline")[0][0], rects(s, "baseline")[0][2]}, 1e-9)
	assert.InDelta(t, 280, rects(s, "ghost")[0][0], 1e-9, "the older version began on the 19th")
	assert.Len(t, rects(s, "idle"), 9, "the nine days of weekends in October 2026")
	var staff, tick []float64
	for _, i := range s.Items {
		if i.Kind == scene.Line && i.Class == "act" && i.Points[0] == i.Points[2] {
			staff = i.Points
		}
		if i.Kind == scene.Line && i.Class == "tick" {
			tick = i.Points
		}
	}
	assert.InDelta(t, 300, staff[0], 1e-9, "a milestone stands at the end of its day")
	assert.InDelta(t, 250, tick[0], 1e-9)
	assert.Contains(t, s.SVG(), `class="tie strain"`)
}

// By the end of the 22nd in half of the runs and of the 26th in four of five: four days, 10 wide each, from the end of the one; a day alone
// can be seen, and the axis reaches to where it may end.
func TestBetweenWhichDaysAMilestoneMayBeDone(t *testing.T) {
	row := TimelineRow{Name: "P", Tall: true, Flags: []TimelineFlag{{Date: oct + 19, Ahead: Ahead{oct + 21, oct + 25}},
		{Date: oct + 19, Ahead: Ahead{oct + 3, oct + 3}}, {Date: oct + 19, Ahead: Ahead{oct + 21, 0}}}}
	bands := rects(Timeline("", []TimelineRow{row}, nil, options()), "odds")
	require.Len(t, bands, 2)
	assert.InDeltaSlice(t, []float64{320, 40}, []float64{bands[0][0], bands[0][2]}, 1e-9)
	assert.InDeltaSlice(t, []float64{140, 2}, []float64{bands[1][0], bands[1][2]}, 1e-9)

	opt := options()
	opt.From, opt.To = 0, 0
	row.Flags = []TimelineFlag{{Date: oct + 19, Ahead: Ahead{oct + 50, oct + 70}}} // 10 December
	bands = rects(Timeline("", []TimelineRow{row}, nil, opt), "odds")
	assert.Less(t, bands[0][0]+bands[0][2], 410.0, "within the drawing, which ends with December")
	assert.Greater(t, bands[0][2], 2.0)
}

func TestWhatLiesBeyondIsCutOff(t *testing.T) {
	opt := options()
	opt.From, opt.To = oct+10, oct+15
	rows := []TimelineRow{{Name: "P", Tall: true, Bar: schedule.Bar{Start: oct - 400, Finish: oct + 400, Done: 0.9,
		BaselineStart: oct - 900, BaselineFinish: oct - 800},
		Flags: []TimelineFlag{{Date: oct + 300, Label: "later"}, {Date: oct - 300, Label: "earlier"}}}}
	s := Timeline("", rows, []TimelineTie{{FromRow: -1, ToRow: 0, From: oct, To: oct + 1}}, opt)
	for _, i := range s.Items {
		if i.Kind == scene.Rect {
			assert.GreaterOrEqual(t, i.Points[0], 100-1e-9, i.Class)
			assert.LessOrEqual(t, i.Points[0]+i.Points[2], 410+1e-9, i.Class)
		}
	}
	assert.NotContains(t, s.SVG(), "later")
	assert.Empty(t, rects(s, "baseline"))
}

// Dates that can only be wrong neither flatten the drawing nor make it endless.
func TestAbsurdDatesAreKeptNear(t *testing.T) {
	opt := options()
	opt.From, opt.To = 0, 0
	rows := []TimelineRow{{Name: "P", Bar: schedule.Bar{Start: calendar.On(1900, 1, 1), Finish: calendar.MaxDate}}}
	svg := Timeline("", rows, nil, opt).SVG()
	assert.Less(t, len(svg), 40_000)
	lines := creepers()
	lines[0].Points[5].Date = calendar.MaxDate
	assert.Less(t, len(Slips(lines, env.Period(), 1000, 400).SVG()), 60_000)
	assert.Contains(t, Timeline("", nil, nil, opt).SVG(), "31 Oct 2026", "and nothing at all is drawn too")
}

func TestLabelsOfSlipsDoNotMeet(t *testing.T) {
	list := labels(Slips(creepers(), env.Period(), 1000, 400), "label")
	require.NotEmpty(t, list)
	for i := range list {
		for j := range list[:i] {
			assert.False(t, list[i].hits(list[j]), "label %d lies over %d", i, j)
		}
	}
}

func TestTextsOfTheTimelineAreEscapedAndCut(t *testing.T) {
	rows := []TimelineRow{{Name: strings.Repeat("<script>", 40), Tall: true}}
	svg := Timeline("", rows, nil, options()).SVG()
	assert.NotContains(t, svg, "<script>")
	assert.Contains(t, svg, "…")
}

// A timeline is cut between rows alone, and never between a heading and what it heads.
func TestTimelinesAreCutBetweenRows(t *testing.T) {
	rows := []TimelineRow{{Name: "G", Heading: true}, {Name: "a", Tall: true}, {Name: "b"}, {Name: "H", Heading: true}, {Name: "c"}}
	// 34 for the months, 26 for a heading, 40 for a tall row, 24 for a plain one.
	assert.Equal(t, []float64{100, 124}, TimelineCuts(rows), "before b and before H; not before a or c")
	assert.Empty(t, TimelineCuts(nil))
}

// By hand: what blocks X is of its summary S and of all above it too; an issue that is over, or of nothing that is there, blocks nothing.
func TestWhatIsBlockedOnAPlan(t *testing.T) {
	list := []schedule.Activity{{Code: "T", Kind: schedule.Summary}, {Code: "S", Kind: schedule.Summary, Parent: "T"},
		{Code: "X", Parent: "S"}, {Code: "Y", Parent: "S"}, {Code: "A", Parent: "B"}, {Code: "B", Parent: "A"}}
	issues := []risk.Issue{{Code: "I1", Title: "Road", Blocks: "X"}, {Code: "I2", Title: "Over", Blocks: "Y", State: "closed"},
		{Code: "I3", Title: "Lost", Blocks: "Z"}, {Code: "I4", Title: "Permit", Blocks: "X"}}
	both := "blocked by issue I1 Road; blocked by issue I4 Permit"
	assert.Equal(t, map[string]string{"X": both, "S": both, "T": both}, BlockedBy(list, issues, 1000))
	rows := ActivityRows(measure.Env{AsOf: 1000, Calendar: calendar.Standard}, list[:4], func(int) bool { return false }, nil,
		BlockedBy(list, issues, 1000))
	var marked []string
	for _, r := range rows {
		if r.Blocked {
			marked = append(marked, r.Soft)
		}
	}
	assert.Equal(t, []string{"T", "S", "X"}, marked)
	assert.Contains(t, rows[2].Title, "Permit")
	assert.NotContains(t, BlockedBy(list, []risk.Issue{{Code: "I", Blocks: "A"}}, 1000), "X", "parents that go round end")
}
