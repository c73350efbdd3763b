package explain_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/apptest"
	"turret/internal/app/explain"
	"turret/internal/app/plan"
	"turret/internal/core/calendar"
)

func TestTheDiaryCountsWhatStandsOnItsDays(t *testing.T) {
	a := apptest.Told(t)
	tl, err := plan.TimelineOf(a, "", plan.TimelineFilter{})
	require.NoError(t, err)
	first, last := calendar.On(2026, 11, 1), calendar.On(2026, 11, 30)
	list := explain.Diary(a, tl, first, last)
	// Expected on 9, 9, 23, 23 November and 7, 7 December, and the first on 26 October: baselines a week apart, every second a week late.
	assert.Equal(t, explain.DiaryCount{Milestones: 4, Late: 2}, explain.CountDiary(list, first, last))
	assert.Equal(t, explain.DiaryCount{Milestones: 2, Late: 1}, explain.CountDiary(list, first, calendar.On(2026, 11, 15)))
	assert.Empty(t, explain.Diary(a, tl, first, last, "holiday", "deliverable"))
	for i := 1; i < len(list); i++ {
		assert.LessOrEqual(t, list[i-1].First, list[i].First)
	}
}
